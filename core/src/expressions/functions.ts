import type { Environment } from '@marcbachmann/cel-js';
import { matchesPattern, patternMisfit, roundBy } from '../fields/index.ts';
import { sayLater } from '../languages/index.ts';

/** The moment that `today()` and `now()` mean while an expression is evaluated: civil time, to the minute. */
export interface Clock {
  now: string;
}

/** One function of an expression, as completion shows it. */
export interface FunctionHelp {
  readonly name: string;
  readonly call: string;
  readonly about: string;
}

const DAY = 86_400_000;
const dayOf = (moment: string): number => Date.parse(`${moment.slice(0, 10)}T00:00:00Z`);

const total = (list: readonly number[]): number => list.reduce((sum, one) => sum + one, 0);
const ofNone = (list: readonly number[], most: (list: readonly number[]) => number): number =>
  list.length === 0 ? Number.NaN : most(list);

/** Each function with its CEL signature; `clock` is read when it is called. */
const FUNCTIONS: readonly (FunctionHelp & {
  readonly signatures: readonly (readonly [string, (clock: Clock) => (...args: never[]) => unknown])[];
})[] = [
  {
    name: 'days',
    call: 'days(from, to)',
    about: sayLater('whole days from one date to another: the nights of a stay'),
    signatures: [
      [
        'days(string, string): int',
        () => (from: string, to: string) => BigInt(Math.round((dayOf(to) - dayOf(from)) / DAY)),
      ],
    ],
  },
  {
    name: 'addDays',
    call: 'addDays(date, days)',
    about: sayLater('the date so many days later'),
    signatures: [
      [
        'addDays(string, int): string',
        () => (date: string, days: bigint) =>
          new Date(dayOf(date) + Number(days) * DAY).toISOString().slice(0, 10) + date.slice(10),
      ],
    ],
  },
  {
    name: 'today',
    call: 'today()',
    about: sayLater('the date today'),
    signatures: [['today(): string', (clock) => () => clock.now.slice(0, 10)]],
  },
  {
    name: 'now',
    call: 'now()',
    about: sayLater('the date and time now'),
    signatures: [['now(): string', (clock) => () => clock.now]],
  },
  {
    name: 'year',
    call: 'year(date)',
    about: sayLater('the year of a date'),
    signatures: [['year(string): int', () => (date: string) => BigInt(date.slice(0, 4))]],
  },
  {
    name: 'month',
    call: 'month(date)',
    about: sayLater('the month of a date, 1 to 12'),
    signatures: [['month(string): int', () => (date: string) => BigInt(date.slice(5, 7))]],
  },
  {
    name: 'round',
    call: 'round(number, places)',
    about: sayLater('rounded to so many places'),
    signatures: [
      ['round(double, int): double', () => (value: number, places: bigint) => roundBy(value, Number(places), 'halfUp')],
      ['round(int, int): double', () => (value: bigint, _places: bigint) => Number(value)],
    ],
  },
  {
    name: 'blank',
    call: 'blank(field)',
    about: sayLater('whether a field is blank'),
    signatures: [['blank(dyn): bool', () => (value: unknown) => value === null || value === undefined || value === '']],
  },
  {
    name: 'count',
    call: 'count(list)',
    about: sayLater('how many: of several choices, of lines'),
    signatures: [['count(list): int', () => (list: readonly unknown[]) => BigInt(list.length)]],
  },
  {
    name: 'sum',
    call: 'sum(list)',
    about: sayLater('the sum of a list of numbers'),
    signatures: [['sum(list<double>): double', () => total]],
  },
  {
    name: 'least',
    call: 'least(list)',
    about: sayLater('the least of a list of numbers'),
    signatures: [
      ['least(list<double>): double', () => (list: readonly number[]) => ofNone(list, (l) => Math.min(...l))],
    ],
  },
  {
    name: 'most',
    call: 'most(list)',
    about: sayLater('the most of a list of numbers'),
    signatures: [
      ['most(list<double>): double', () => (list: readonly number[]) => ofNone(list, (l) => Math.max(...l))],
    ],
  },
  {
    name: 'average',
    call: 'average(list)',
    about: sayLater('the average of a list of numbers'),
    signatures: [
      ['average(list<double>): double', () => (list: readonly number[]) => ofNone(list, (l) => total(l) / l.length)],
    ],
  },
];

/** What completion offers besides the fields. */
export const FUNCTION_HELP: readonly FunctionHelp[] = FUNCTIONS.map(({ name, call, about }) => ({ name, call, about }));

/** Arithmetic and comparison of decimals with whole numbers that people write among them; CEL itself knows none. */
const MIXED: readonly [string, (a: number, b: number) => number | boolean][] = [
  ['+', (a, b) => a + b],
  ['-', (a, b) => a - b],
  ['*', (a, b) => a * b],
  ['/', (a, b) => a / b],
  ['%', (a, b) => a % b],
];

/** Gives an environment Fiche's functions and its mixed arithmetic. */
export function equip(environment: Environment, clock: Clock): void {
  for (const [sign, apply] of MIXED) {
    environment.registerOperator(`double ${sign} int`, (a: number, b: bigint) => apply(a, Number(b)));
    environment.registerOperator(`int ${sign} double`, (a: bigint, b: number) => apply(Number(a), b));
  }
  environment.registerOperator('double == int', (a: number, b: bigint) => a === Number(b));
  environment.registerFunction('string.pattern(string): bool', (text: string, source: string) => {
    if (patternMisfit(source) !== undefined) throw new Error('The pattern cannot be read');
    return matchesPattern(`(?:.|\\n)*(?:${source})(?:.|\\n)*`, text);
  });
  for (const { signatures } of FUNCTIONS)
    for (const [signature, make] of signatures) environment.registerFunction(signature, make(clock) as () => unknown);
}
