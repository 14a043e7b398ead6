import { homeOf, OWN, partLabel, partsOf, tableOfPart } from '@fiche/core/destinations';
import { linesInto, type PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import { type FieldDefinition, type TableDefinition, typeOf } from '@fiche/core/tables';
import { lineKey } from './edit.ts';

/** Something that can be added to a form, as a line of the list that `/` opens. */
export type Addition = { readonly value: string; readonly label: string; readonly detail: string } & (
  | { readonly kind: 'column'; readonly field: FieldDefinition; readonly lines?: string }
  | {
      readonly kind: 'subform';
      readonly table: TableDefinition;
      readonly link: string;
      /** The destination whose lines they are. */
      readonly part?: string;
    }
  | { readonly kind: 'newField'; readonly type: string; readonly lines?: string }
  | { readonly kind: 'newFieldOfType'; readonly lines?: string }
  | { readonly kind: 'newLines' }
  | { readonly kind: 'heading' | 'note' | 'section' }
);

/** Types that a new field can have without any further setting. */
const QUICK_TYPES = [
  ['text', 'text'],
  ['wholeNumber', say('whole number')],
  ['yesNo', say('yes or no')],
  ['date', 'date'],
  ['dateTime', say('date and time')],
  ['longText', say('long text')],
] as const;

const WORDS: readonly Addition[] = [
  { kind: 'heading', value: 'heading', label: say('Heading'), detail: say('words above fields') },
  { kind: 'note', value: 'note', label: say('Note'), detail: say('words that explain') },
  { kind: 'section', value: 'section', label: say('Section'), detail: say('with a heading of its own') },
];

const has = (label: string, text: string): boolean => label.toLowerCase().includes(text.toLowerCase());
const is = (label: string, text: string): boolean => label.toLowerCase() === text.toLowerCase();

/** The subform whose lines are meant by what is selected: the subform itself, or one of its columns. */
const linesMeant = (prepared: PreparedForm, selected: string | undefined) =>
  prepared.subforms.get(lineKey(selected)?.subform ?? selected ?? '');

/**
 * What can be added to a form for the text typed so far: existing columns first, then tables whose records are its
 * lines, then what would be made anew under that name. New fields go to the lines when one of their columns is selected.
 */
export function additionsTo(prepared: PreparedForm, selected: string | undefined, text: string): readonly Addition[] {
  const lines = linesMeant(prepared, selected);
  const inLines = lineKey(selected) && lines;
  const home = inLines ? inLines.form.table : prepared.table;
  const words = WORDS.filter((one) => has(one.label, text));
  // Whoever writes the whole word means it.
  const exact = words.some((one) => is(one.label, text));
  const free = text !== '' && !home.fields.some((field) => is(field.label, text));
  return [
    ...(lines ? columnsOf(lines.form, text, lines.id, lines.definition.link) : []),
    ...columnsOf(prepared, text),
    ...subformsFor(prepared, text),
    ...(exact ? words : []),
    ...(free ? newFields(text, inLines && { id: inLines.id, label: home.label }) : []),
    ...(text !== '' && !inLines
      ? [
          {
            kind: 'newLines',
            value: 'new-lines',
            label: say('Lines called “{text}”', { text }),
            detail: say('subform with a total'),
          } as const,
        ]
      : []),
    ...(exact ? [] : words),
  ];
}

function columnsOf(form: PreparedForm, text: string, lines?: string, link?: string): Addition[] {
  return form.table.fields
    .filter((field) => field.id !== link && !form.fields.get(field.id)?.placed && has(field.label, text))
    .map((field) => ({
      kind: 'column',
      value: `${lines ?? ''}/${field.id}`,
      label: field.label,
      detail:
        lines === undefined
          ? `${say(typeOf(field).word)}${ofTable(form, field)}`
          : say('{word}, of the lines', { word: say(typeOf(field).word) }),
      field,
      lines,
    }));
}

/** `, of Owners` for a field of another table that the form writes to. */
function ofTable({ definition, tables }: PreparedForm, { id }: FieldDefinition): string {
  const { part } = homeOf(definition, id);
  return part === OWN ? '' : say(', of {definition}', { definition: partLabel(definition, part, tables) });
}

/** Tables whose records are lines of the form’s record, or of one of its destinations. */
function subformsFor({ definition, tables, table: of, subforms }: PreparedForm, text: string): Addition[] {
  const placed = [...subforms.values()].map(
    ({ definition: { table, link, of: part } }) => `${table}.${link} ${part ?? OWN}`,
  );
  return partsOf(definition).flatMap((part) =>
    linesInto(tables, tableOfPart(definition, part) as typeof of.id)
      .filter(({ table, link }) => table.cabinet === of.cabinet && !placed.includes(`${table.id}.${link} ${part}`))
      .filter(({ table }) => has(table.label, text))
      .map(({ table, link, label }) => ({
        kind: 'subform' as const,
        value: `lines-${table.id}-${link}-${part}`,
        label: table.label,
        detail:
          part === OWN
            ? say('subform: its {label} is this record', { label })
            : say('subform: its {label} is the record of {value}', {
                label,
                value: partLabel(definition, part, tables),
              }),
        table,
        link,
        ...(part === OWN ? {} : { part }),
      })),
  );
}

function newFields(text: string, lines?: { readonly id: string; readonly label: string }): Addition[] {
  const where = lines ? say(', of {label}', { label: lines.label }) : '';
  const label = say('New field “{text}”', { text });
  return [
    ...QUICK_TYPES.map(
      ([type, word]): Addition => ({
        kind: 'newField',
        value: `new-${type}`,
        label,
        detail: `${word}${where}`,
        type,
        lines: lines?.id,
      }),
    ),
    {
      kind: 'newFieldOfType',
      value: 'new-of-type',
      label: say('{label} of another type…', { label }),
      detail: lines ? where.slice(2) : '',
      lines: lines?.id,
    },
  ];
}

/** The ids that a subform of the form may not take. */
export const takenIds = (prepared: PreparedForm): ReadonlySet<string> =>
  new Set([...prepared.table.fields.map((field) => field.id), ...prepared.subforms.keys()]);
