import { type Readable, readOperand } from '../entry/index.ts';
import { type Expression, giveResult, readExpression, resultMisfit } from '../expressions/index.ts';
import { holdsFiles, isBlank, type Problem, type Value, type Values, withArticle } from '../fields/index.ts';
import { say } from '../languages/index.ts';
import {
  type FieldDefinition,
  type FieldId,
  fieldAtPath,
  findField,
  type TableDefinition,
  type Tables,
  targetTable,
  typeOf,
} from '../tables/index.ts';
import type { Becomes, FieldSetting } from './plan.ts';

/** Gives the new values of a record, as they are before its form reacts to them. */
export interface PreparedSettings {
  /** The paths behind links that are read of each record. */
  readonly reads: readonly string[];
  valuesOf(record: Readable): Values;
}

/** Reads a record: what stands at a path of it, and the civil moment that `now()` means. */
export interface RecordReader {
  readonly now: string;
  at(path: string): Value;
}

/** The value that a setting gives a field, read out of a record. */
export type Give = (record: RecordReader) => Value;

/**
 * Makes the settings of a change of many ready: what each of them gives for a record. Or says what is wrong with them, each at
 * its place: a field that is not there or that nobody writes, a value that does not fit, an expression that cannot be read.
 */
export function prepareSettings(
  settings: readonly FieldSetting[],
  table: TableDefinition,
  tables: Tables,
): PreparedSettings | { readonly problems: readonly Problem[] } {
  const problems: Problem[] = [];
  const reads = new Set<string>();
  const gives = new Map<FieldId, Give>();
  for (const [at, setting] of settings.entries()) {
    const refuse = (message: string): void => {
      problems.push({ path: `set.${at}`, rule: 'setting', message });
    };
    const field = findField(table, setting.field);
    if (!field)
      refuse(say('{field} is not a field of {label}. Choose another.', { field: setting.field, label: table.label }));
    else if (!typeOf(field).editable || field.calculation !== null)
      refuse(say('{label} is not written by people.', { label: field.label }));
    else if (holdsFiles(field))
      refuse(say('{label} holds files: they are added on a record’s card.', { label: field.label }));
    else if (gives.has(field.id)) refuse(say('{label} is set twice. Remove one of them.', { label: field.label }));
    else {
      const give = giveOf(setting.becomes, field, table, tables);
      if (typeof give === 'string') refuse(give);
      else {
        gives.set(field.id, give.give);
        for (const path of give.reads) reads.add(path);
      }
    }
  }
  if (problems.length > 0) return { problems };
  return {
    reads: [...reads],
    valuesOf: (record) => {
      const reader = { now: record.now, at: (path: string) => readOperand(record, { kind: 'form', path }) };
      return Object.fromEntries([...gives].map(([id, give]) => [id, give(reader)]));
    },
  };
}

/** What one setting gives a field, read out of a record of `table`, with what it reads; in words why it cannot. */
export function giveOf(
  becomes: Becomes,
  field: FieldDefinition,
  table: TableDefinition,
  tables: Tables,
): { readonly give: Give; readonly reads: readonly string[] } | string {
  switch (becomes.kind) {
    case 'replace': {
      const { from, to } = becomes;
      const { family } = typeOf(field);
      if (family !== 'text' && family !== 'choices')
        return say('{label} holds no words that could be replaced.', { label: field.label });
      return { reads: [field.id], give: (record) => replaced(record.at(field.id), from, to) };
    }
    case 'blank':
      return field.required
        ? say('{label} is required: it cannot become blank.', { label: field.label })
        : { give: () => null, reads: [] };
    case 'value': {
      const read = typeOf(field).accept(becomes.value === '' ? null : becomes.value, field.settings);
      if (!read.ok) return read.message;
      const { value } = read;
      return isBlank(value)
        ? say('Write what {label} becomes, or choose “blank”.', { label: field.label })
        : { give: () => value, reads: [] };
    }
    case 'field': {
      const source = fieldAtPath(tables, table.id, becomes.path);
      if (!source)
        return say('{path} is not a field of {label}. Choose another.', { path: becomes.path, label: table.label });
      const misfit = copyMisfit(source, field);
      if (misfit !== undefined) return misfit;
      const asText = source.type !== field.type && typeOf(field).family === 'text';
      return {
        reads: [becomes.path],
        give: (record) => {
          const value = record.at(becomes.path);
          return asText && !isBlank(value) ? typeOf(source).format(value, source.settings) : value;
        },
      };
    }
    case 'calculation': {
      const read = readExpression(becomes.source, table.fields, tables);
      if (!('expression' in read)) return read.wrong;
      const { expression } = read;
      const misfit = resultMisfit(expression.result, field);
      return misfit ?? { give: (record) => calculated(expression, record, field), reads: expression.reads };
    }
  }
}

/** A value with one word in the place of another, each once. */
const replaced = (value: Value, from: string, to: string): Value =>
  Array.isArray(value)
    ? ([...new Set(value.map((one) => (one === from ? to : one)))] as unknown as Value)
    : value === from
      ? to
      : value;

const calculated = (expression: Expression, record: RecordReader, field: FieldDefinition): Value =>
  giveResult(
    expression.evaluate((path) => record.at(path), record.now),
    field,
  );

/** Why the values of one field cannot be copied into another, in words; undefined when they can. */
function copyMisfit(source: FieldDefinition, field: FieldDefinition): string | undefined {
  const [from, to] = [targetTable(source), targetTable(field)];
  const fits =
    from !== undefined || to !== undefined
      ? from === to && source.type === field.type
      : source.type === field.type || typeOf(field).family === 'text' || typeOf(field).family === typeOf(source).family;
  return fits
    ? undefined
    : say('{label} is {source}, and {other} is {field}. Choose a field of the same type, or write a formula.', {
        label: source.label,
        source: withArticle(typeOf(source)),
        other: field.label,
        field: withArticle(typeOf(field)),
      });
}
