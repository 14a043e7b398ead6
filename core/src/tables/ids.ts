import { z } from 'zod';
import { sayLater } from '../languages/index.ts';

/**
 * A type of id, so that one kind of id is never taken for another. Text or a number that stands in code is any of them.
 *
 * @example
 * const table: TableId = 'stays';
 * const field: FieldId = table; // refused by the compiler
 */
type Id<T, Kind extends string> = T & { readonly idOf?: Kind };

/** A table's id is also the name of its PostgreSQL table; a field's id is its column. Both are chosen once. */
export type TableId = Id<string, 'table'>;
export type FieldId = Id<string, 'field'>;
export type IdOfForm = Id<string, 'form'>;
/** The number of a record within its table. */
export type RecordId = Id<number, 'record'>;

export const idSchema = z.string().regex(/^[a-z][a-z0-9_]{0,58}$/, sayLater('This is not a name of a table or field.'));
/** The same check, for a value that is known to be the id of a table, of a field or of a form. */
export const tableIdSchema = idSchema as unknown as z.ZodType<TableId, string>;
export const fieldIdSchema = idSchema as unknown as z.ZodType<FieldId, string>;
