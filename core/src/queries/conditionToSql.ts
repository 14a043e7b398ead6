import { type Comparison, type Condition, holds, type Operand, type Operator, otherSide } from '../conditions/index.ts';
import type { Value } from '../fields/index.ts';
import { fieldAtPath, findField, linkedTable, type TableId, type Tables, typeOf } from '../tables/index.ts';
import { quoted } from './quoted.ts';
import { recordsOf } from './seenTables.ts';

/** SQL text with `?` for each bound value, in order. */
export interface Sql {
  readonly text: string;
  readonly values: readonly Value[];
}

/** Text in the order that people expect: numbers in it by their size. The indexes of option lists stand in it. */
export const inNaturalOrder = (text: string): string => `${text} COLLATE fiche.natural`;

const SIGNS: Record<Exclude<Operator, 'isBlank' | 'isNotBlank' | 'has' | 'hasNot'>, string> = {
  is: '=',
  isNot: '<>',
  less: '<',
  atMost: '<=',
  more: '>',
  atLeast: '>=',
};

/**
 * A condition over the columns of `table` (known in the query as `alias`) as a WHERE clause. Its operands are columns
 * and constants only: `resolveNarrowing` has put the form's values in. A comparison through a link becomes `link IN
 * (SELECT id …)`, which an index on either side can serve. Agrees with `holds` on every value.
 */
export function conditionToSql(tables: Tables, table: TableId, alias: string, condition: Condition): Sql {
  if (condition.kind === 'compare') return comparisonToSql(tables, table, alias, condition);
  const parts = condition.of.map((one) => conditionToSql(tables, table, alias, one));
  const values = parts.flatMap((part) => part.values);
  if (condition.match === 'all') return { text: joined(parts, 'AND', 'TRUE'), values };
  const any = joined(parts, 'OR', 'FALSE');
  // Under a negation, SQL's unknown must first become false.
  return { text: condition.match === 'any' ? any : `NOT coalesce(${any}, FALSE)`, values };
}

const joined = (parts: readonly Sql[], word: string, nothing: string): string =>
  parts.length === 0 ? nothing : `(${parts.map((part) => part.text).join(` ${word} `)})`;

function comparisonToSql(tables: Tables, table: TableId, alias: string, comparison: Comparison): Sql {
  const { left } = comparison;
  if (left.kind !== 'column') return onConstants(tables, table, alias, comparison);
  const dot = left.path.indexOf('.');
  if (dot < 0) return onColumn(tables, table, alias, comparison);
  const step = left.path.slice(0, dot);
  const next = linkedTable(findField(tables.get(table), step));
  if (next === undefined) throw new Error(`${table}.${left.path} is not a column`);
  const inner = { ...comparison, left: { kind: 'column' as const, path: left.path.slice(dot + 1) } };
  const nested = comparisonToSql(tables, next, `${alias}_${step}`, inner);
  const column = `${alias}.${quoted(step)}`;
  const found = `${column} IN (SELECT ${alias}_${step}.id FROM ${recordsOf(tables, next)} ${alias}_${step} WHERE ${nested.text})`;
  const text = comparison.operator === 'isBlank' ? `(${column} IS NULL OR ${found})` : found;
  return { text, values: nested.values };
}

function onColumn(tables: Tables, table: TableId, alias: string, comparison: Comparison): Sql {
  const left = columnSql(tables, table, alias, comparison.left);
  if (!('right' in comparison))
    return { text: `${left.text} IS ${comparison.operator === 'isBlank' ? '' : 'NOT '}NULL`, values: [] };
  if (comparison.operator === 'has' || comparison.operator === 'hasNot') {
    const item = operandSql(
      tables,
      table,
      alias,
      comparison.right,
      otherSide(left.family),
      left.type.replace('[]', ''),
    );
    if (item === undefined || !left.type.endsWith('[]')) return { text: 'FALSE', values: [] };
    const found = `${item.text} = ANY(${left.text})`;
    return { text: comparison.operator === 'has' ? found : `NOT (${found})`, values: item.values };
  }
  const right = operandSql(tables, table, alias, comparison.right, left.family, left.type);
  if (right === undefined) return { text: 'FALSE', values: [] };
  const compared = comparedText(tables.get(table)?.kind === 'list', left, comparison.operator);
  return { text: `${compared} ${SIGNS[comparison.operator]} ${right.text}`, values: right.values };
}

/** Audit fields that a condition may read: they hold the login of who did it. */
export const isStamp = (path: string): boolean => path === 'created_by' || path === 'changed_by';

/** Equal text is equal in every collation: it takes the one that an index has. Order is by code point. */
function comparedText(
  ofList: boolean,
  { text, family }: { readonly text: string; readonly family: string },
  operator: Operator,
): string {
  if (family !== 'text') return text;
  if (operator !== 'is' && operator !== 'isNot') return `${text} COLLATE "C"`;
  return ofList ? inNaturalOrder(text) : text;
}

function columnSql(tables: Tables, table: TableId, alias: string, operand: Operand) {
  if (operand.kind === 'column' && isStamp(operand.path))
    return { text: `${alias}.${quoted(operand.path)}`, family: 'text' as const, type: 'text' };
  const field = operand.kind === 'column' ? fieldAtPath(tables, table, operand.path) : undefined;
  if (!field || operand.kind !== 'column') throw new Error(`No such column in ${table}: ${JSON.stringify(operand)}`);
  const type = typeOf(field);
  return { text: `${alias}.${quoted(operand.path)}`, family: type.family, type: type.column(field.settings) };
}

/** The other side: a bound constant of the column's type, or a column of the same row; undefined if they cannot meet. */
function operandSql(
  tables: Tables,
  table: TableId,
  alias: string,
  operand: Operand,
  family: string,
  type: string,
): Sql | undefined {
  if (operand.kind === 'column') {
    const column = columnSql(tables, table, alias, operand);
    return column.family === family ? { text: column.text, values: [] } : undefined;
  }
  if (operand.kind !== 'constant') throw new Error(`An operand was left unresolved: ${operand.kind}`);
  const { value } = operand;
  if (!fitsFamily(value, family)) return undefined;
  const cast = family === 'number' ? (type === 'bigint' && Number.isInteger(value) ? 'bigint' : 'numeric') : type;
  return { text: `?::${cast}`, values: [typeof value === 'number' ? String(value) : value] };
}

function fitsFamily(value: Value, family: string): boolean {
  if (family === 'yesNo') return typeof value === 'boolean';
  if (family === 'number' || family === 'link')
    return typeof value === 'number' && (family === 'number' || Number.isInteger(value));
  if (family === 'date') return typeof value === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(value);
  if (family === 'time') return typeof value === 'string' && /^\d{2}:\d{2}$/.test(value);
  if (family === 'dateTime') return typeof value === 'string' && /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/.test(value);
  return family === 'text' && typeof value === 'string';
}

function onConstants(tables: Tables, table: TableId, alias: string, comparison: Comparison): Sql {
  if (comparison.left.kind !== 'constant') throw new Error(`An operand was left unresolved: ${comparison.left.kind}`);
  if (!('right' in comparison)) return { text: comparison.operator === 'isBlank' ? 'FALSE' : 'TRUE', values: [] };
  // Two constants are the same for every record.
  if (comparison.right.kind === 'constant')
    return {
      text: holds(comparison, (one) => (one.kind === 'constant' ? one.value : null)) ? 'TRUE' : 'FALSE',
      values: [],
    };
  if (comparison.right.kind !== 'column') throw new Error(`An operand was left unresolved: ${comparison.right.kind}`);
  if (comparison.operator === 'has' || comparison.operator === 'hasNot') return { text: 'FALSE', values: [] };
  const turned = {
    is: 'is',
    isNot: 'isNot',
    less: 'more',
    atMost: 'atLeast',
    more: 'less',
    atLeast: 'atMost',
  } as const;
  return comparisonToSql(tables, table, alias, {
    kind: 'compare',
    left: comparison.right,
    operator: turned[comparison.operator],
    right: comparison.left,
  });
}
