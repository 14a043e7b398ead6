import {
  type Comparison,
  dayWords,
  type Operand,
  type Operator,
  operatorsFor,
  otherSide,
} from '@fiche/core/conditions';
import { type Family, fieldType, linksOne, takesWords, type Value } from '@fiche/core/fields';
import { AGGREGATE_WORDS, AGGREGATES, type PreparedForm } from '@fiche/core/forms';
import { say } from '@fiche/core/languages';
import {
  type FieldDefinition,
  findField,
  linkedTable,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
  typeOf,
} from '@fiche/core/tables';
import { send } from '../client/index.ts';
import type { SlotOption } from '../parts/index.ts';

/** What the conditions of a form can read besides its own fields: its lines or, in a line, the record around it. */
export interface Around {
  readonly lines: readonly {
    readonly id: string;
    readonly label: string;
    readonly fields: readonly FieldDefinition[];
  }[];
  readonly enclosing?: TableDefinition;
}

const NOTHING_AROUND: Around = { lines: [] };

export const aroundOf = (form: PreparedForm): Around => ({
  lines: [...form.subforms.values()].map((one) => ({ id: one.id, label: one.label, fields: one.form.table.fields })),
  enclosing: form.enclosure?.table,
});

/** The sides of lines and of the enclosing record. */
function sidesAround(tables: Tables, { lines, enclosing }: Around): Side[] {
  const numeric = (like: FieldDefinition | undefined, id: string, label: string): FieldDefinition => ({
    ...(like ?? { required: false, unique: false, help: '', initial: null, calculation: null, narrowing: null }),
    type: like?.type ?? 'wholeNumber',
    settings: like?.settings ?? {},
    id,
    label,
  });
  const ofLines = lines.flatMap((one): Side[] => {
    const side = (field: FieldDefinition): Side => ({
      operand: { kind: 'form', path: field.id },
      label: field.label,
      detail: say('of the lines'),
      word: '',
      field,
    });
    return [
      side(numeric(undefined, one.id, say('the number of {label}', { label: one.label }))),
      ...one.fields
        .filter((field) => typeOf(field).family === 'number')
        .flatMap((field) =>
          AGGREGATES.map((take) =>
            side(
              numeric(
                field,
                `${one.id}.${field.id}.${take}`,
                `${say(AGGREGATE_WORDS[take])} ${one.label}’s ${field.label}`,
              ),
            ),
          ),
        ),
    ];
  });
  const outer = enclosing
    ? sidesOf(tables, enclosing.fields, 'form', say('of the {label} card around it', { label: enclosing.label })).map(
        (side): Side => ({
          ...side,
          operand: { kind: 'enclosing', path: 'path' in side.operand ? side.operand.path : '' },
          label: say('the {label} card’s {other}', { label: enclosing.label, other: side.label }),
          word: '',
        }),
      )
    : [];
  return [...ofLines, ...outer];
}

/** One thing that a comparison can name on a side. */
export interface Side {
  readonly operand: Operand;
  readonly label: string;
  readonly detail: string;
  readonly field: FieldDefinition;
  /** The word before it, where that is not the word of its place. */
  readonly word?: string;
}

/** What the conditions of a place can compare. */
export interface Sides {
  readonly tables: Tables;
  /** What a comparison begins with: columns of the choices in a narrowing, fields of the form elsewhere. */
  readonly left: readonly Side[];
  /** The fields that a comparison ends with. */
  readonly right: readonly Side[];
  /** In a narrowing both sides carry their own word: `this form’s Pontoon`. */
  readonly word: string;
  readonly leftKind: 'choices' | 'form';
  /** A value can be left to whoever opens a view. */
  readonly asks?: boolean;
}

/** The columns of a table, and those one link further, as sides of a kind. */
export function sidesOf(
  tables: Tables,
  fields: readonly FieldDefinition[],
  kind: 'column' | 'form',
  ownDetail: string,
): Side[] {
  const near = fields.map(
    (field): Side => ({
      operand: { kind, path: field.id },
      label: field.label,
      detail: ownDetail,
      field,
    }),
  );
  const far = fields.flatMap((field) => {
    const target = linksOne(field) ? tables.get(String(field.settings.table)) : undefined;
    return (target?.fields ?? []).map(
      (column): Side => ({
        operand: { kind, path: `${field.id}.${column.id}` },
        label: `${field.label}’s ${column.label}`,
        detail: say('of {label}', { label: target?.label ?? '' }),
        field: column,
      }),
    );
  });
  return [...near, ...far];
}

/** The sides of conditions that are about a form: shown when, required when, rules. */
export const formSides = (tables: Tables, fields: readonly FieldDefinition[], around = NOTHING_AROUND): Sides => {
  const sides = [...sidesOf(tables, fields, 'form', say('of this form')), ...sidesAround(tables, around)];
  return { tables, left: sides, right: sides, word: '', leftKind: 'form' };
};

/** The sides of a narrowing: columns of the choices, and fields of this form, or of this record for a table’s own. */
export const narrowingSides = (
  tables: Tables,
  choices: TableId,
  fields: readonly FieldDefinition[],
  around = NOTHING_AROUND,
  owner: 'form' | 'record' = 'form',
): Sides => ({
  tables,
  left: sidesOf(
    tables,
    tables.get(choices)?.fields ?? [],
    'column',
    say('of {label}', { label: tables.get(choices)?.label ?? '' }),
  ),
  right: [...sidesOf(tables, fields, 'form', say('of this {owner}', { owner })), ...sidesAround(tables, around)],
  word: around.enclosing ? `${say('this line’s')} ` : `${say('this {owner}’s', { owner })} `,
  leftKind: 'choices',
});

export function sideAt(sides: readonly Side[], operand: Operand, tables?: Tables): Side | undefined {
  if (!('path' in operand)) return undefined;
  const found = sides.find(
    (one) => 'path' in one.operand && one.operand.path === operand.path && one.operand.kind === operand.kind,
  );
  const steps = operand.path.split('.');
  if (found || !tables || steps.length < 3) return found;
  // Further than what is offered: named from the side that it goes on from.
  const near = sideAt(sides, { ...operand, path: steps.slice(0, -1).join('.') }, tables);
  const field = findField(tables.get(linkedTable(near?.field) ?? ''), steps.at(-1) ?? '');
  return near && field && { ...near, operand, field, label: `${near.label}’s ${field.label}` };
}

export const familyOfSide = (side: Side | undefined): Family => (side ? typeOf(side.field).family : 'text');

/** Whether the field of one side can be compared with that of another under an operator. */
function fits(left: FieldDefinition, operator: Operator, right: FieldDefinition): boolean {
  const single = operator === 'has' || operator === 'hasNot';
  const wanted = single ? otherSide(typeOf(left).family) : typeOf(left).family;
  if (typeOf(right).family !== wanted) return false;
  return wanted !== 'link' || targetTable(left) === targetTable(right);
}

const key = (operand: Operand): string => JSON.stringify(operand);
export const readKey = (text: string): Operand => JSON.parse(text) as Operand;

/** What the right side of a comparison can be: fitting fields, the account, days from today, and values. */
export function rightOptions(sides: Sides, left: Side, operator: Operator): SlotOption[] {
  const { field } = left;
  const own = left.operand.kind === 'form' && 'path' in left.operand ? left.operand.path : undefined;
  const fields = sides.right
    .filter((one) => fits(field, operator, one.field))
    .filter((one) => !(own !== undefined && 'path' in one.operand && one.operand.path === own))
    .map((one) => ({ value: key(one.operand), label: `${one.word ?? sides.word}${one.label}`, detail: one.detail }));
  const days = typeOf(field).family;
  const today: SlotOption[] =
    days === 'date' || days === 'dateTime'
      ? [0, -1, -7, -30, 7, 14, 30].map((n) => ({
          value: key({ kind: 'today', days: n, of: days }),
          label: dayWords(n),
          detail: n === 0 ? say('the day it is filled in') : say('from the day it is filled in'),
        }))
      : [];
  const account: SlotOption[] = typeOf(field).startsWithAccount
    ? [{ value: key({ kind: 'account' }), label: say('the account'), detail: say('who is signed in') }]
    : [];
  const words: Value[] =
    typeOf(field).family === 'yesNo' ? [true, false] : ((field.settings.choices as string[] | undefined) ?? []);
  const values = words.map((value) => constantOption(field, value));
  const asked: SlotOption[] = sides.asks
    ? [{ value: key({ kind: 'asked' }), label: say('asked each time'), detail: say('whoever opens the view says it') }]
    : [];
  // A choice or a yes is meant far more often than another field.
  return values.length > 0 ? [...values, ...asked, ...fields] : [...fields, ...today, ...account, ...asked];
}

/** Values that can be written where a field is set: its words, and what is typed as its type reads it. */
export function constantsFor(tables: Tables, field: FieldDefinition) {
  const side: Side = { operand: { kind: 'form', path: field.id }, label: field.label, detail: '', field };
  const sides: Sides = { tables, left: [side], right: [], word: '', leftKind: 'form' };
  const isConstant = ({ value }: SlotOption): boolean => readKey(value).kind === 'constant';
  return {
    options: rightOptions(sides, side, 'is').filter(isConstant),
    typed: async (text: string): Promise<SlotOption[]> => (await typedOptions(sides, side, text)).filter(isConstant),
  };
}

const constantOption = (field: FieldDefinition, value: Value): SlotOption => ({
  value: key({ kind: 'constant', value: value as string }),
  label:
    typeOf(field).family === 'yesNo'
      ? value
        ? say('yes')
        : say('no')
      : takesWords(field)
        ? String(value)
        : fieldType(field.type).format(value, field.settings),
  detail: say('a value'),
});

/** The words of a level of an option list that contain what was typed. */
async function levelWords({ table, column }: { table: TableId; column: string }, text: string): Promise<SlotOption[]> {
  const { records } = await send<{ records: { values: Record<string, Value> }[] }>(
    'GET',
    `/api/tables/${table}/records?limit=100&search=${encodeURIComponent(text)}`,
  );
  const words = new Set(records.map((one) => String(one.values[column] ?? '')));
  return [...words]
    .filter((word) => word !== '' && word.toLowerCase().includes(text.toLowerCase()))
    .slice(0, 12)
    .map((word) => ({ value: key({ kind: 'constant', value: word }), label: word, detail: say('a value') }));
}

/** Further options for what was typed: the value itself, records of a link, so many days. */
export async function typedOptions({ tables }: Sides, left: Side, text: string): Promise<SlotOption[]> {
  const { field } = left;
  const target = tables.get(targetTable(field) ?? '');
  if (target) {
    const { records } = await send<{ records: { id: number; title: string }[] }>(
      'GET',
      `/api/tables/${target.id}/records?limit=12&search=${encodeURIComponent(text)}`,
    );
    return records.map((one) => ({
      value: key({ kind: 'constant', value: one.id }),
      label: one.title,
      detail: say('a record of {label}', { label: target.label }),
    }));
  }
  const level = field.settings.level as { table: TableId; column: string } | undefined;
  if (level) return levelWords(level, text);
  if (text === '') return [];
  const { family } = typeOf(field);
  const days = /^([+-]?)\s*(\d{1,4})$/.exec(text);
  const relative: SlotOption[] =
    days && (family === 'date' || family === 'dateTime')
      ? [1, -1]
          .map((sign) => (days[1] === '-' ? -1 : days[1] === '+' ? 1 : sign) * Number(days[2]))
          .filter((n, at, all) => all.indexOf(n) === at)
          .map((n) => ({
            value: key({ kind: 'today', days: n, of: family }),
            label: dayWords(n),
            detail: say('from today'),
          }))
      : [];
  const read = typeOf(field).parse(text, field.settings);
  const value =
    read.ok && read.value !== null && typeof read.value !== 'object' ? [constantOption(field, read.value)] : [];
  return [...relative, ...value].filter((one) => !(field.settings.choices && one.detail === say('a value')));
}

/** How a rule most often compares: a number has a limit, a date comes after another one. */
export function likelyOperator({ field }: Side): Operator | undefined {
  const { family } = typeOf(field);
  if (family === 'number') return 'atMost';
  return ['date', 'time', 'dateTime'].includes(family) ? 'more' : operatorsFor(family)[0];
}

/**
 * The first condition of a narrowing where it is meant beyond doubt: the first link of the choices that the form has as
 * well. Undefined where nothing is certain.
 */
export function knownComparison(sides: Sides): Comparison | undefined {
  if (sides.leftKind !== 'choices') return undefined;
  const own = sides.right.filter((one) => 'path' in one.operand && !one.operand.path.includes('.'));
  for (const left of sides.left.filter((side) => typeOf(side.field).family === 'link')) {
    const right = own.find((one) => fits(left.field, 'is', one.field));
    if (right) return { kind: 'compare', left: left.operand, operator: 'is', right: right.operand };
  }
  return undefined;
}

/** The same comparison under another operator: a side is kept where it still fits. */
export function withOperator(sides: Sides, one: Comparison, operator: Operator): Comparison {
  if (operator === 'isBlank' || operator === 'isNotBlank') return { kind: 'compare', left: one.left, operator };
  if ('right' in one) return { ...one, operator } as Comparison;
  const left = sideAt(sides.left, one.left);
  const [first] = left ? rightOptions(sides, left, operator) : [];
  const right: Operand = first ? readKey(first.value) : { kind: 'constant', value: emptyOf(left?.field) };
  return { kind: 'compare', left: one.left, operator, right } as Comparison;
}

/** A value to begin with where nothing else is there to compare with. */
const emptyOf = (field: FieldDefinition | undefined): string | number | boolean =>
  field === undefined
    ? ''
    : (({ number: 0, yesNo: true, link: 0 } as Record<string, number | boolean>)[typeOf(field).family] ?? '');

/** How an operand reads in a slot. */
export function operandWords(sides: Sides, operand: Operand, beside: Side | undefined, recordTitle?: string): string {
  switch (operand.kind) {
    case 'today':
      return dayWords(operand.days);
    case 'account':
      return say('the account');
    case 'asked':
      return say('asked each time');
    case 'constant':
      if (beside && targetTable(beside.field) !== undefined)
        return recordTitle ?? say('record {value}', { value: String(operand.value) });
      if (typeof operand.value === 'boolean') return operand.value ? 'yes' : 'no';
      return beside && !takesWords(beside.field) && operand.value !== ''
        ? typeOf(beside.field).format(operand.value, beside.field.settings)
        : `“${operand.value}”`;
    default: {
      const known = sideAt(operand.kind === 'column' ? sides.left : sides.right, operand, sides.tables);
      return known?.label ?? operand.path;
    }
  }
}
