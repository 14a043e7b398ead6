import { z } from 'zod';
import { formDefinitionSchema } from '../forms/index.ts';
import { ruleSchema } from '../rules/index.ts';
import {
  constraintSchema,
  idSchema,
  labelSchema,
  newFieldSchema,
  rippleSchema,
  type TableId,
} from '../tables/index.ts';

/** A field in a cabinet file: its definition, under the name of its column. */
const fieldSchema = z.object({ id: idSchema, definition: newFieldSchema });

/**
 * The definitions of a cabinet as they leave one Fiche and enter another. Tables have names of their own within the file,
 * and every reference to a table uses them; what belongs to one installation (ids of records, versions, accounts) is left
 * out. Beside it stands one CSV for each table, `data/{table}.csv`.
 */
export const cabinetFileSchema = z.object({
  $schema: z.string().optional(),
  format: z.literal('fiche-cabinet'),
  version: z.literal(1),
  label: labelSchema,
  tables: z
    .array(
      z.object({
        name: idSchema,
        label: labelSchema,
        description: z.string(),
        kind: z.enum(['records', 'list']),
        title: z.string().nullable(),
        fields: z.array(fieldSchema),
        retired: z.array(fieldSchema),
        card: z.array(z.string()).default([]),
        rules: z.array(ruleSchema),
        constraints: z.array(constraintSchema),
        ripples: z.array(rippleSchema).default([]),
      }),
    )
    .max(500),
  forms: z
    .array(z.object({ name: idSchema, draft: formDefinitionSchema, live: formDefinitionSchema.nullable() }))
    .max(2_000),
});
export type CabinetFile = z.infer<typeof cabinetFileSchema>;

/** The same JSON with every reference to a table put through `rename`: settings, option lists, fills, forms. */
export function renameTables<T>(json: T, rename: (table: TableId) => string): T {
  const walk = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(walk);
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, inner]) => [
        key,
        key === 'table' && typeof inner === 'string' ? rename(inner) : walk(inner),
      ]),
    );
  };
  return walk(json) as T;
}

/** The JSON Schema (2020-12) of the definitions in a cabinet file. */
export const cabinetFileJsonSchema = (): object =>
  z.toJSONSchema(cabinetFileSchema, { io: 'input', unrepresentable: 'any', target: 'draft-2020-12' });
