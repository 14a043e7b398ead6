import { FIELD_TYPES, fieldType, isConvertible, withArticle } from '@fiche/core/fields';
import { type ImportColumn, matchOn } from '@fiche/core/imports';
import { say } from '@fiche/core/languages';
import {
  type FieldDefinition,
  findField,
  isGiven,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import type { Phrase, Slot } from '../parts/index.ts';
import { asLevel, asLink, asNew, withDecimal, withType } from './plan.ts';
import type { Looked } from './useLook.ts';

const NOWHERE = '-';
const LINK = 'link:';
const LEVEL = 'level:';

/** A column of the file with what is known of it, and the table that it goes into; a new one where there is none. */
interface PlannedColumn {
  readonly column: ImportColumn;
  readonly seen: Looked['columns'][number] | undefined;
  readonly target: TableDefinition | undefined;
  readonly tables: Tables;
  onSet(column: ImportColumn): void;
}

/** Where a column goes and how its cells are read: "Berth to Berths, found by its Number." */
export function columnWords(planned: PlannedColumn): Phrase {
  const { column, target, tables } = planned;
  const { to } = column;
  const field =
    to.kind === 'field' ? findField(target, to.field) : to.kind === 'new' ? { ...to.field, id: '' } : undefined;
  return [
    target ? goesTo(planned, target, field?.label) : becomes(planned),
    ...foundBy(planned, tables.get(field ? (targetTable(field) ?? '') : '')),
    ...readAs(planned, field && fieldType(field.type).family),
    '.',
  ];
}

/** Into which field of a table that is there. */
function goesTo({ column, tables, onSet }: PlannedColumn, target: TableDefinition, label: string | undefined): Slot {
  return {
    key: 'to',
    label: say('where {name} goes', { name: column.name }),
    side: 'form',
    shown: label ?? 'nowhere',
    quiet: label === undefined,
    pick: {
      kind: 'options',
      options: [
        { value: NOWHERE, label: say('nowhere') },
        ...target.fields
          .filter((one) => !isGiven(one))
          .map((one) => ({ value: one.id, label: one.label, detail: say(typeOf(one).word) })),
      ],
      current: column.to.kind === 'field' ? column.to.field : NOWHERE,
    },
    onSet: (id) => {
      const chosen = findField(target, id);
      onSet(
        chosen
          ? { ...column, to: { kind: 'field', field: id }, matchOn: matchOn(tables, chosen) }
          : { ...column, to: { kind: 'nowhere' }, matchOn: null },
      );
    },
  };
}

/** As what field of a new table: a type, a link to a table, a level of an option list. */
function becomes({ column, seen, tables, onSet }: PlannedColumn): Slot {
  const { to } = column;
  return {
    key: 'to',
    label: say('type of {name}', { name: column.name }),
    side: 'form',
    shown: to.kind === 'new' ? typeShown(to.field, tables) : 'nowhere',
    quiet: to.kind !== 'new',
    pick: {
      kind: 'options',
      options: [
        { value: NOWHERE, label: say('nowhere') },
        ...FIELD_TYPES.filter((one) => isConvertible(one.name)).map((one) => ({
          value: one.name,
          label: withArticle(one),
        })),
        ...[...tables.values()].flatMap((one) =>
          one.kind === 'list'
            ? one.fields.map((level) => ({
                value: `${LEVEL}${one.id}:${level.id}`,
                label: `${one.label} › ${level.label}`,
                detail: say('level of an option list'),
              }))
            : [
                {
                  value: `${LINK}${one.id}`,
                  label: say('a link to {label}', { label: one.label }),
                  detail: say('one of its records'),
                },
              ],
        ),
      ],
      current: to.kind === 'new' ? to.field.type : NOWHERE,
    },
    onSet: (type) => {
      const fresh = asNew(column);
      const link = type.startsWith(LINK) ? tables.get(type.slice(LINK.length)) : undefined;
      const [list = '', level = ''] = type.startsWith(LEVEL) ? type.slice(LEVEL.length).split(':') : [];
      if (type === NOWHERE) onSet({ ...column, to: { kind: 'nowhere' }, matchOn: null });
      else if (link) onSet(asLink(fresh, link));
      else if (list !== '') onSet(asLevel(fresh, { table: list, column: level }));
      else onSet(withType(fresh, type, seen?.words ?? []));
    },
  };
}

/** By which column a cell names a record of a linked table; nothing for a field that links to none. */
function foundBy({ column, onSet }: PlannedColumn, linked: TableDefinition | undefined): Phrase {
  if (!linked) return [];
  return [
    ` ${say('to {label}, found by its', { label: linked.label })} `,
    {
      key: 'matchOn',
      label: say('column of {label} that {name} names', { label: linked.label, name: column.name }),
      side: 'choices',
      shown: findField(linked, column.matchOn ?? '')?.label ?? say('choose a column'),
      pick: {
        kind: 'options',
        options: linked.fields
          .filter((one) => ['text', 'number'].includes(typeOf(one).family))
          .map((one) => ({ value: one.id, label: one.label })),
        current: column.matchOn ?? '',
      },
      onSet: (id) => onSet({ ...column, matchOn: id }),
    },
  ];
}

/** In which order dates are written, with which decimal mark numbers. */
function readAs({ column, seen, onSet }: PlannedColumn, family: string | undefined): Phrase {
  if (family === 'date' || family === 'dateTime')
    return [
      `${say(', read')} `,
      {
        key: 'dates',
        label: say('order of the dates of {name}', { name: column.name }),
        shown: column.dates === 'dayFirst' ? say('day first') : say('month first'),
        pick: {
          kind: 'options',
          options: [
            { value: 'dayFirst', label: say('day first'), detail: '17/8/2026' },
            { value: 'monthFirst', label: say('month first'), detail: '8/17/2026' },
          ],
          current: column.dates,
        },
        onSet: (dates) => onSet({ ...column, dates: dates as ImportColumn['dates'] }),
      },
      ...(seen?.guess.ambiguous ? [` ${say('(the file does not say which: look at this)')}`] : []),
    ];
  const eitherMark = seen?.guess.eitherMark === true;
  if (family !== 'number' || (column.decimal !== ',' && !eitherMark)) return [];
  return [
    `${say(', with a decimal')} `,
    {
      key: 'decimal',
      label: say('decimal mark of {name}', { name: column.name }),
      shown: column.decimal === ',' ? 'comma' : 'point',
      pick: {
        kind: 'options',
        options: [
          { value: ',', label: say('comma') },
          { value: '.', label: say('point') },
        ],
        current: column.decimal,
      },
      onSet: (decimal) => onSet(withDecimal(column, decimal as ImportColumn['decimal'], seen?.words ?? [])),
    },
    ...(eitherMark ? [` ${say('(its comma or point could also be one of thousands: look at this)')}`] : []),
  ];
}

/** What a new field is, in words: `a choice from Defects › Part`. */
function typeShown({ type, settings }: Pick<FieldDefinition, 'type' | 'settings'>, tables: Tables): string {
  const level = settings.level as { table: TableId; column: string } | undefined;
  const list = tables.get(level?.table ?? '');
  const column = list?.fields.find((one) => one.id === level?.column);
  return list && column
    ? say('a choice from {label} › {other}', { label: list.label, other: column.label })
    : withArticle(fieldType(type));
}
