import { z } from 'zod';
import { calculationSchema } from '../conditions/index.ts';
import { type Expression, giveResult, readExpression, resultMisfit } from '../expressions/index.ts';
import type { Value } from '../fields/index.ts';
import { sayLater } from '../languages/index.ts';
import { type FieldDefinition, labelSchema, type TableDefinition, type Tables } from '../tables/index.ts';

/** The types that what a formula gives can be shown as. */
export const SHOWN_AS = ['decimal', 'text', 'yesNo', 'date', 'dateTime'] as const;
export const MOST_CALCULATED = 20;

/** A calculated column is known by its number in its listing: `=1`. */
export const calculatedPathSchema = z.string().regex(/^=[1-9]\d{0,2}$/, sayLater('This is not a column.'));
export const isCalculated = (path: string): boolean => path.startsWith('=');

/** What a column calculates of each record: *Days* `daysBetween(arrival, departure)` as a number without decimals. */
export const columnCalculationSchema = z.strictObject({
  label: labelSchema,
  /** A CEL expression over the fields of the record, and of those that it links to. */
  source: calculationSchema,
  as: z.enum(SHOWN_AS),
  /** Decimal places of a number. */
  places: z.int().min(0).max(6).default(2),
});
export type ColumnCalculation = z.infer<typeof columnCalculationSchema>;

/** A calculated column as a field: how its values are formatted, and what kind of result it takes. */
export const calculatedField = (path: string, { label, as, places }: ColumnCalculation): FieldDefinition => ({
  id: path,
  label,
  type: as,
  settings: as === 'decimal' ? { places } : {},
  help: '',
  required: false,
  unique: false,
  initial: null,
  calculation: null,
  narrowing: null,
});

/** What a calculated column reads and gives, for somebody who sees these tables; or what is wrong with it, in words. */
export function prepareCalculation(
  path: string,
  calculation: ColumnCalculation,
  table: TableDefinition,
  tables: Tables,
):
  | { readonly reads: readonly string[]; calculate(read: (path: string) => Value, now: string): Value }
  | { readonly wrong: string } {
  const field = calculatedField(path, calculation);
  const read: { expression: Expression } | { wrong: string } = readExpression(calculation.source, table.fields, tables);
  if ('wrong' in read) return { wrong: `${calculation.label}: ${read.wrong}` };
  const { expression } = read;
  const misfit = resultMisfit(expression.result, field);
  if (misfit !== undefined) return { wrong: misfit };
  return {
    reads: expression.reads,
    calculate: (of, now) => giveResult(expression.evaluate(of, now), field),
  };
}
