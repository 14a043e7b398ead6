import { z } from 'zod';
import { linksOne } from '../fields/index.ts';
import { say, sayLater } from '../languages/index.ts';
import {
  type FieldDefinition,
  findField,
  type TableDefinition,
  type TableId,
  type Tables,
  targetTable,
  typeOf,
} from '../tables/index.ts';

/**
 * A column out of the records that link here: `quay_stays:berth` is how many stays link to a berth, `quay_stays:berth.dues` the
 * sum of their dues. Archived records do not count.
 */
export const linkedFromSchema = z
  .string()
  .regex(/^[a-z][a-z0-9_]*:[a-z][a-z0-9_]*(\.[a-z][a-z0-9_]*)?$/, sayLater('This is not a column.'));

export const isLinkedFrom = (path: string): boolean => path.includes(':');

/** The records that such a column reads, and what it sums of them; without `summed` it counts them. */
export interface LinkedFrom {
  readonly table: TableDefinition;
  readonly link: FieldDefinition;
  readonly summed: FieldDefinition | undefined;
}

/** What a path reads of the records that link to a table; undefined where it is not there, or not seen. */
export function linkedFromAt(tables: Tables, target: TableId, path: string): LinkedFrom | undefined {
  const [from = '', rest = ''] = path.split(':');
  const [linkId = '', column] = rest.split('.');
  const table = tables.get(from);
  const link = findField(table, linkId);
  const summed = column === undefined ? undefined : findField(table, column);
  const sound =
    link && linksOne(link) && targetTable(link) === target && (column === undefined || (summed && isSummed(summed)));
  return table && sound ? { table, link, summed } : undefined;
}

const isSummed = (field: FieldDefinition): boolean => typeOf(field).family === 'number' && typeOf(field).editable;

/** The paths of all such columns of a table: for each link to it a count, and a sum of each number. */
export const linkedFromPaths = (tables: Tables, target: TableId): string[] =>
  [...tables.values()].flatMap((table) =>
    table.fields
      .filter((field) => linksOne(field) && targetTable(field) === target)
      .flatMap((link) => {
        const count = `${table.id}:${link.id}`;
        return [count, ...table.fields.filter(isSummed).map((field) => `${count}.${field.id}`)];
      }),
  );

/** How such a column reads: as a number without decimals where it counts, like the field where it sums. */
export function linkedFromField({ table, link, summed }: LinkedFrom, path: string): FieldDefinition {
  const target = targetTable(link);
  const several = table.fields.filter((field) => linksOne(field) && targetTable(field) === target).length > 1;
  // Which of several links it is goes without saying where there is one.
  const by = several ? ` ${say('by {label}', { label: link.label })}` : '';
  const label = summed
    ? say('Sum of {label}’ {other}{by}', { label: table.label, other: summed.label, by })
    : say('Number of {label}{by}', { label: table.label, by });
  return {
    ...(summed ?? { ...link, type: 'wholeNumber', settings: {} }),
    id: path,
    label,
    required: false,
    unique: false,
    calculation: null,
    narrowing: null,
    initial: null,
  };
}
