import { FIELD_TYPES, fieldType, isConvertible, isIndexed, withArticle } from '@fiche/core/fields';
import { type ImportColumn, type ImportPlan, matchOn } from '@fiche/core/imports';
import {
  type FieldDefinition,
  findField,
  isGiven,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { clsx } from 'clsx';
import { useOffice } from '../client/index.ts';
import { CardSection, pageCss, Sentence, type Slot, textCss } from '../parts/index.ts';
import columnsCss from './columns.module.css';
import { asLevel, asLink, asNew, withDecimal, withType } from './plan.ts';
import type { Looked } from './useLook.ts';

interface Props {
  readonly looked: Looked;
  readonly plan: ImportPlan;
  readonly target: TableDefinition | undefined;
  readonly label: string;
  onLabel(label: string): void;
  onChange(plan: ImportPlan): void;
}

const NOWHERE = '-';
const LINK = 'link:';
const LEVEL = 'level:';

/** Each column of the file as one sentence, with a few of its cells. */
export function ColumnSentences({ looked, plan, target, label, onLabel, onChange }: Props) {
  const { tables } = useOffice();
  const set = (at: number, column: ImportColumn): void =>
    onChange({ ...plan, columns: plan.columns.map((one, n) => (n === at ? column : one)) });
  const keyable = plan.columns.flatMap((column) => {
    const field = column.to.kind === 'field' ? findField(target, column.to.field) : undefined;
    return field && isIndexed(field) ? [field] : [];
  });
  const keyOptions = [
    { value: '', label: 'nothing: every row is a new record' },
    ...keyable.map((one) => ({ value: one.id, label: one.label })),
  ];
  const rowWords: (string | Slot)[] = target
    ? [
        'A row finds its record by ',
        {
          key: 'key',
          label: 'key',
          side: 'choices',
          shown:
            plan.key.length === 0
              ? 'nothing: every row is a new record'
              : plan.key.map((id) => findField(target, id)?.label ?? id).join(' and '),
          pick: { kind: 'options', options: keyOptions, current: plan.key[0] ?? '' },
          onSet: (id) => onChange({ ...plan, key: id === '' ? [] : [id] }),
        },
        ...(plan.key.length === 0
          ? ['.']
          : [
              '; where it finds one, ',
              {
                key: 'found',
                label: 'what becomes of a row whose record is there',
                shown: plan.found === 'change' ? 'the record is changed' : 'the row is skipped',
                pick: {
                  kind: 'options' as const,
                  options: [
                    { value: 'change', label: 'the record is changed' },
                    { value: 'skip', label: 'the row is skipped' },
                  ],
                  current: plan.found,
                },
                onSet: (found: string) => onChange({ ...plan, found: found as ImportPlan['found'] }),
              },
              '; where not, ',
              {
                key: 'missing',
                label: 'what becomes of a row whose record is not there',
                shown: plan.missing === 'add' ? 'a record is added' : 'the row is skipped',
                pick: {
                  kind: 'options' as const,
                  options: [
                    { value: 'add', label: 'a record is added' },
                    { value: 'skip', label: 'the row is skipped' },
                  ],
                  current: plan.missing,
                },
                onSet: (missing: string) => onChange({ ...plan, missing: missing as ImportPlan['missing'] }),
              },
              '.',
            ]),
      ]
    : [
        'The new table is called ',
        {
          key: 'label',
          label: 'label of the new table',
          shown: label || 'nothing yet',
          pick: { kind: 'text', current: label },
          onSet: onLabel,
        },
        '.',
      ];
  return (
    <CardSection label="">
      <Sentence parts={rowWords} />
      {target?.rules.some((rule) => rule.kind === 'ask') && (
        <Sentence
          parts={[
            'A row that a rule asks about is ',
            {
              key: 'reason',
              label: 'what becomes of rows that a rule asks about',
              shown: plan.reason ? `accepted with the reason: ${plan.reason}` : 'refused',
              pick: {
                kind: 'text',
                current: plan.reason ?? '',
                hint: 'A reason accepts all of them and goes into the history; empty refuses them.',
              },
              onSet: (reason) => onChange({ ...plan, reason: reason.trim() || null }),
            },
            '.',
          ]}
        />
      )}
      <div className={columnsCss.columns}>
        <Table className={pageCss.list}>
          <TableHead>
            <TableRow>
              <TableCell scope="col">Column of the file</TableCell>
              <TableCell scope="col">Such as</TableCell>
              <TableCell scope="col">Goes to</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {plan.columns.map((column, at) => {
              const seen = looked.columns[at];
              return (
                <TableRow key={column.at}>
                  <TableCell>
                    <strong>{column.name}</strong>
                  </TableCell>
                  <TableCell className={clsx(textCss.faded, columnsCss.samples)}>
                    {seen?.samples.slice(0, 3).join(' · ') || 'all blank'}
                  </TableCell>
                  <TableCell>
                    <Sentence
                      parts={columnWords(
                        column,
                        seen?.words ?? [],
                        seen?.guess.ambiguous ?? false,
                        seen?.guess.eitherMark ?? false,
                        target,
                        tables,
                        (next) => set(at, next),
                      )}
                    />
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      </div>
    </CardSection>
  );
}

/** What a new field is, in words: `a choice from Defects › Part`. */
function typeShown({ type, settings }: Pick<FieldDefinition, 'type' | 'settings'>, tables: Tables): string {
  const level = settings.level as { table: string; column: string } | undefined;
  const list = tables.get(level?.table ?? '');
  const column = list?.fields.find((one) => one.id === level?.column);
  return list && column ? `a choice from ${list.label} › ${column.label}` : withArticle(fieldType(type));
}

function columnWords(
  column: ImportColumn,
  words: readonly string[],
  ambiguous: boolean,
  eitherMark: boolean,
  target: TableDefinition | undefined,
  tables: ReadonlyMap<string, TableDefinition>,
  onSet: (column: ImportColumn) => void,
): (string | Slot)[] {
  const { to } = column;
  const field =
    to.kind === 'field' ? findField(target, to.field) : to.kind === 'new' ? { ...to.field, id: '' } : undefined;
  const toSlot: Slot = target
    ? {
        key: 'to',
        label: `where ${column.name} goes`,
        side: 'form',
        shown: field?.label ?? 'nowhere',
        quiet: !field,
        pick: {
          kind: 'options',
          options: [
            { value: NOWHERE, label: 'nowhere' },
            ...target.fields
              .filter((one) => !isGiven(one))
              .map((one) => ({ value: one.id, label: one.label, detail: typeOf(one).word })),
          ],
          current: to.kind === 'field' ? to.field : NOWHERE,
        },
        onSet: (id) => {
          const chosen = findField(target, id);
          onSet(
            chosen
              ? { ...column, to: { kind: 'field', field: id }, matchOn: matchOn(tables, chosen) }
              : { ...column, to: { kind: 'nowhere' }, matchOn: null },
          );
        },
      }
    : {
        key: 'to',
        label: `type of ${column.name}`,
        side: 'form',
        shown: to.kind === 'new' ? typeShown(to.field, tables) : 'nowhere',
        quiet: to.kind !== 'new',
        pick: {
          kind: 'options',
          options: [
            { value: NOWHERE, label: 'nowhere' },
            ...FIELD_TYPES.filter((one) => isConvertible(one.name)).map((one) => ({
              value: one.name,
              label: withArticle(one),
            })),
            ...[...tables.values()].flatMap((one) =>
              one.kind === 'list'
                ? one.fields.map((level) => ({
                    value: `${LEVEL}${one.id}:${level.id}`,
                    label: `${one.label} › ${level.label}`,
                    detail: 'level of an option list',
                  }))
                : [{ value: `${LINK}${one.id}`, label: `a link to ${one.label}`, detail: 'one of its records' }],
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
          else onSet(withType(fresh, type, words));
        },
      };
  const linked = tables.get(field ? (targetTable(field) ?? '') : '');
  const family = field && fieldType(field.type).family;
  return [
    toSlot,
    ...(linked
      ? [
          ` to ${linked.label}, found by its `,
          {
            key: 'matchOn',
            label: `column of ${linked.label} that ${column.name} names`,
            side: 'choices' as const,
            shown: findField(linked, column.matchOn ?? '')?.label ?? 'choose a column',
            pick: {
              kind: 'options' as const,
              options: linked.fields
                .filter((one) => ['text', 'number'].includes(typeOf(one).family))
                .map((one) => ({ value: one.id, label: one.label })),
              current: column.matchOn ?? '',
            },
            onSet: (id: string) => onSet({ ...column, matchOn: id }),
          },
        ]
      : []),
    ...(family === 'date' || family === 'dateTime'
      ? [
          ', read ',
          {
            key: 'dates',
            label: `order of the dates of ${column.name}`,
            shown: column.dates === 'dayFirst' ? 'day first' : 'month first',
            pick: {
              kind: 'options' as const,
              options: [
                { value: 'dayFirst', label: 'day first', detail: '17/8/2026' },
                { value: 'monthFirst', label: 'month first', detail: '8/17/2026' },
              ],
              current: column.dates,
            },
            onSet: (dates: string) => onSet({ ...column, dates: dates as ImportColumn['dates'] }),
          },
          ...(ambiguous ? [' (the file does not say which: look at this)'] : []),
        ]
      : []),
    ...(family === 'number' && (column.decimal === ',' || eitherMark)
      ? [
          ', with a decimal ',
          {
            key: 'decimal',
            label: `decimal mark of ${column.name}`,
            shown: column.decimal === ',' ? 'comma' : 'point',
            pick: {
              kind: 'options' as const,
              options: [
                { value: ',', label: 'comma' },
                { value: '.', label: 'point' },
              ],
              current: column.decimal,
            },
            onSet: (decimal: string) => onSet(withDecimal(column, decimal as ImportColumn['decimal'], words)),
          },
          ...(eitherMark ? [' (its comma or point could also be one of thousands: look at this)'] : []),
        ]
      : []),
    '.',
  ];
}
