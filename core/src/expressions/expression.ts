import { Environment } from '@marcbachmann/cel-js';
import { type Family, isBlank, type Value, type Values } from '../fields/index.ts';
import { type FieldDefinition, typeOf } from '../tables/index.ts';

/** How the values of a family are known in an expression. Dates and times are text, which ISO 8601 lets compare. */
const KNOWN_AS: Record<Family, string> = {
  text: 'string',
  number: 'double',
  yesNo: 'bool',
  date: 'string',
  time: 'string',
  dateTime: 'string',
  link: 'int',
  choices: 'list<string>',
  links: 'list<int>',
};

/** Whole numbers that people write among decimals: CEL itself knows no `quantity * 2` of a decimal and a whole number. */
const MIXED: readonly [string, (a: number, b: number) => number | boolean][] = [
  ['+', (a, b) => a + b],
  ['-', (a, b) => a - b],
  ['*', (a, b) => a * b],
  ['/', (a, b) => a / b],
];

function environmentOf(fields: readonly FieldDefinition[]): Environment {
  const environment = new Environment({ unlistedVariablesAreDyn: false });
  for (const [sign, apply] of MIXED) {
    environment.registerOperator(`double ${sign} int`, (a: number, b: bigint) => apply(a, Number(b)));
    environment.registerOperator(`int ${sign} double`, (a: bigint, b: number) => apply(Number(a), b));
  }
  for (const field of fields) environment.registerVariable(field.id, KNOWN_AS[typeOf(field).family]);
  return environment;
}

export interface Expression {
  /** The fields that it reads. */
  readonly reads: readonly string[];
  /** Its value for a record; blank when a field that it reads is blank. Throws what CEL throws, such as a division by zero. */
  evaluate(values: Values): Value;
}

/**
 * Reads a CEL expression (Common Expression Language) over the fields of a table, each known by its column's name. Gives
 * it ready to evaluate, or what is wrong with it in words.
 */
export function readExpression(
  source: string,
  fields: readonly FieldDefinition[],
): { readonly expression: Expression } | { readonly wrong: string } {
  const names = new Set(source.match(/[a-z][a-z0-9_]*/g) ?? []);
  const reads = fields.filter((field) => names.has(field.id));
  try {
    const parsed = environmentOf(fields).parse(source);
    const checked = parsed.check();
    if (!checked.valid) return { wrong: firstLine(checked.error) };
    return {
      expression: {
        reads: reads.map((field) => field.id),
        evaluate(values) {
          if (reads.some((field) => isBlank(values[field.id]))) return null;
          const known = reads.map((field): [string, unknown] => [field.id, knownAs(field, values[field.id] ?? null)]);
          return plain(parsed(Object.fromEntries(known)));
        },
      },
    };
  } catch (error) {
    return { wrong: firstLine(error) };
  }
}

const firstLine = (error: unknown): string =>
  `This cannot be read: ${((error as Error | undefined)?.message ?? 'it is not an expression').split('\n')[0]}`;

const knownAs = (field: FieldDefinition, value: Value): unknown => {
  const { family } = typeOf(field);
  if (family === 'link') return BigInt(Number(value));
  return family === 'links' && Array.isArray(value) ? value.map((id) => BigInt(id)) : value;
};

/** A value of CEL as a value of a field: its whole numbers are plain numbers here. */
function plain(value: unknown): Value {
  if (typeof value === 'bigint') return Number(value);
  if (typeof value === 'number') return Number.isFinite(value) ? value : null;
  if (typeof value === 'string' || typeof value === 'boolean') return value;
  return Array.isArray(value) ? value.map((item) => String(item)) : null;
}
