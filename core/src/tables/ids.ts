import { z } from 'zod';

/** A table's id is also the name of its PostgreSQL table; a field's id is its column. Both are chosen once. */
export type TableId = string;
export type FieldId = string;

export const idSchema = z.string().regex(/^[a-z][a-z0-9_]{0,58}$/, 'This is not a name of a table or field.');
