import {
  all,
  type Condition,
  dayFrom,
  type Group,
  holds,
  mapOperands,
  type Operand,
  pathsOf,
  withAnswers,
} from '../conditions/index.ts';
import { isBlank, type Value, type Values } from '../fields/index.ts';
import { aggregateOf, ENCLOSING, inEnclosing, type PreparedForm, readLinePath } from '../forms/index.ts';
import { type Facts, resolveNarrowing, type Scope } from '../narrowing/index.ts';
import { type FieldId, fieldAtPath, linkedTable } from '../tables/index.ts';
import { presentLines } from './presence.ts';
import { isExcluded, type Readable, readable } from './readable.ts';
import type { Enclosing, SubformLines } from './state.ts';

/**
 * The value at a path of the form: a field, or a column of the record it links to; null when blank or unknown. A field
 * that is not shown reads as blank, as it will be saved, unless it keeps its value.
 */
export function readForm(entry: Readable, path: string): Value {
  const dot = path.indexOf('.');
  const field = dot < 0 ? path : path.slice(0, dot);
  if (isExcluded(entry, field)) return null;
  if (entry.form.subforms.size > 0) {
    const ofLines = readLinePath(entry.form.subforms, path);
    if (ofLines) return readOfLines(entry, ofLines);
  }
  // A line reads its enclosing record through its own link, also before that record is saved.
  const { enclosure } = entry.form;
  if (dot > 0 && enclosure && field === enclosure.link && entry.enclosing)
    return readEnclosing(entry, inEnclosing(enclosure, path.slice(dot + 1)));
  return readAlong(entry, path, dot);
}

/** What a form reads of its lines: how many there are, or the values of a column, blanks left out. */
function readLines(form: PreparedForm, lines: SubformLines, id: string, column: string | undefined): Value {
  const there = presentLines({ lines }, id);
  if (column === undefined) return there.length;
  const values = there.map((line) => readForm(readable(line.state), column)).filter((value) => !isBlank(value));
  return form.subforms.has(id) ? (values as unknown as Value) : null;
}

function readOfLines(entry: Readable, { id, column, aggregate }: NonNullable<ReturnType<typeof readLinePath>>): Value {
  const lines = entry.hidden[id] ? {} : (entry.lines ?? {});
  const read = readLines(entry.form, lines, id, column);
  if (aggregate === undefined || !Array.isArray(read)) return read;
  const result = aggregateOf(
    read.filter((one): one is number => typeof one === 'number'),
    aggregate,
  );
  return result === null ? null : Number(result.toPrecision(15));
}

/** The value of a field that narrows a dropdown: of the form or, in a line, of the enclosing record. */
export const readMover = (entry: Readable, mover: string): Value =>
  mover.startsWith(ENCLOSING) ? readEnclosing(entry, mover.slice(ENCLOSING.length)) : readForm(entry, mover);

function readAlong(from: Enclosing, path: string, dot = path.indexOf('.')): Value {
  if (dot < 0) return from.values[path] ?? null;
  const field = path.slice(0, dot);
  if ((from.values[field] ?? null) === null) return null;
  return from.linked[field]?.facts[path.slice(dot + 1)] ?? null;
}

const readEnclosing = (entry: Readable, path: string): Value =>
  entry.enclosing ? readAlong(entry.enclosing, path) : null;

/** Reads the operands of a rule or condition: fields of the form, constants, the account and today. */
export function readOperand(entry: Readable, operand: Operand): Value {
  switch (operand.kind) {
    case 'form':
      return readForm(entry, operand.path);
    case 'enclosing':
      return readEnclosing(entry, operand.path);
    case 'constant':
      return operand.value;
    case 'account':
      return entry.account;
    case 'today':
      return dayFrom(entry.now, operand);
    case 'asked':
      return null;
    case 'column':
      throw new Error('A rule reads the form, not the choices');
  }
}

/** The values of a form as they would be saved: blank where a field is not shown. */
export function effectiveValues(entry: Readable): Values {
  const hidden = Object.keys(entry.hidden).filter((id) => isExcluded(entry, id));
  if (hidden.length === 0) return { ...entry.values };
  return { ...entry.values, ...Object.fromEntries(hidden.map((id) => [id, null])) };
}

/** What the narrowing of a dropdown is resolved against: the form’s present values. */
export function scopeOf(entry: Readable): Scope {
  const { form } = entry;
  return {
    read: (path) => readForm(entry, path),
    account: entry.account,
    now: entry.now,
    enclosing: (path) => readEnclosing(entry, path),
    narrowingOf: (id) => {
      const other = form.fields.get(id);
      return other?.source && other.source.column === undefined
        ? { table: other.source.table, where: other.narrowing.where }
        : undefined;
    },
    targetOf: (table, path) => linkedTable(fieldAtPath(form.tables, table, path)),
  };
}

/** The conditions on the choices of a dropdown, with the form's present values put in. */
export function narrowedBy(entry: Readable, field: FieldId): Condition {
  const dropdown = entry.form.fields.get(field);
  if (!dropdown?.source) throw new Error(`${field} is not a dropdown of this form`);
  const where = resolveNarrowing(dropdown.source.table, dropdown.narrowing.where, scopeOf(entry));
  return dropdown.within ? all(where, withinView(dropdown.within, entry)) : where;
}

/** The filter of a view that feeds a dropdown, with who asks and today in it; what it asks each time narrows nothing. */
const withinView = (filter: Group, { account, now }: Readable): Condition =>
  mapOperands(withAnswers(filter, []), (operand) =>
    operand.kind === 'account'
      ? { kind: 'constant', value: account ?? '' }
      : operand.kind === 'today'
        ? { kind: 'constant', value: dayFrom(now, operand) }
        : operand,
  );

/**
 * Whether a record with these columns is among the narrowed choices of a dropdown over a table; undefined where the
 * columns do not say.
 */
export function fitsNarrowing(entry: Readable, field: FieldId, facts: Facts): boolean | undefined {
  const where = narrowedBy(entry, field);
  if (!pathsOf(where, 'column').every((path) => path in facts)) return undefined;
  return holds(where, (operand) =>
    operand.kind === 'column' ? (facts[operand.path] ?? null) : operand.kind === 'constant' ? operand.value : null,
  );
}
