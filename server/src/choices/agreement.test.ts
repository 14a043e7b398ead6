import { type Comparison, type Condition, holds } from '@fiche/core/conditions';
import { fieldType, type Value } from '@fiche/core/fields';
import { conditionToSql, relation } from '@fiche/core/queries';
import { newFieldSchema } from '@fiche/core/tables';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { addAccount } from '../accounts/index.ts';
import { asActor } from '../database/index.ts';
import { type Definitions, loadDefinitions } from '../definitions/index.ts';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { insertRecord } from '../records/index.ts';
import { addField, createCabinet, createTable } from '../tables/index.ts';

/** One column of every type of field whose values one comparison can hold; those of several values follow below. */
const COLUMNS = {
  word: { type: 'text' },
  note: { type: 'longText' },
  amount: { type: 'decimal' },
  count: { type: 'wholeNumber' },
  open: { type: 'yesNo' },
  day: { type: 'date' },
  moment: { type: 'dateTime' },
  hour: { type: 'time' },
  fee: { type: 'amount', settings: { currency: 'EUR' } },
  share: { type: 'percent', settings: { places: 1 } },
  stars: { type: 'rating' },
  mail: { type: 'email' },
  call: { type: 'phone' },
  site: { type: 'webAddress' },
  kind: { type: 'choice', settings: { choices: ['a', 'B', 'é'] } },
  keeper: { type: 'account' },
} as const satisfies Record<string, { type: string; settings?: object }>;
type Column = keyof typeof COLUMNS;

const two = (n: number) => String(n).padStart(2, '0');
const text = fc.oneof(
  fc.constantFrom('a', 'A', 'b', 'é', 'e', 'Z', '10', '9', ' ', '�', '𝄞', 'ß', 'ss', 'B-2', 'B-14'),
  fc.string({ unit: 'grapheme', maxLength: 3 }).filter((s) => s.isWellFormed() && !s.includes('\u0000') && s !== ''),
);
const day = fc
  .tuple(fc.integer({ min: 1, max: 3 }), fc.integer({ min: 1, max: 12 }))
  .map(([d, m]) => `2026-${two(m)}-${two(d)}`);
const values: Record<Column, fc.Arbitrary<string | number | boolean>> = {
  word: text,
  note: text,
  amount: fc.integer({ min: -300, max: 300 }).map((n) => n / 100),
  count: fc.integer({ min: -3, max: 3 }),
  open: fc.boolean(),
  day,
  moment: fc.tuple(day, fc.integer({ min: 0, max: 23 })).map(([d, h]) => `${d}T${two(h)}:30`),
  hour: fc.integer({ min: 0, max: 23 }).map((h) => `${two(h)}:30`),
  fee: fc.integer({ min: -300, max: 300 }).map((n) => n / 100),
  share: fc.integer({ min: -30, max: 30 }).map((n) => n / 10),
  stars: fc.integer({ min: 1, max: 5 }),
  mail: fc.constantFrom('ann@quay.example', 'Bo@quay.example', 'zoë@quay.example'),
  call: fc.constantFrom('+44 1632 960001', '0555 518 469'),
  site: fc.constantFrom('https://quay.example/', 'https://quay.example/B'),
  kind: fc.constantFrom('a', 'B', 'é'),
  keeper: fc.constantFrom('harbourmaster', 'quayclerk'),
};
const columns = Object.keys(COLUMNS) as Column[];
const maybe = (one: fc.Arbitrary<Value>) => fc.option(one, { nil: null, freq: 4 });
const row = fc.record({
  ...(Object.fromEntries(columns.map((column) => [column, maybe(values[column])])) as Record<
    Column,
    fc.Arbitrary<Value>
  >),
  tags: maybe(fc.subarray(['a', 'b', 'c'], { minLength: 1 }) as fc.Arbitrary<Value>),
});
/** A link of a row: the place of another row in the list of those that are there already. */
const link = maybe(fc.nat(20) as fc.Arbitrary<Value>);

const familyOf = (column: Column) => fieldType(COLUMNS[column].type).family;

/** `word` itself, or the same column of the linked record, or of the one after. */
const pathTo = (column: Column) => fc.constantFrom(column, `next.${column}`, `next.next.${column}`);
const binary = ['is', 'isNot', 'less', 'atMost', 'more', 'atLeast'] as const;
const comparison: fc.Arbitrary<Comparison> = fc.constantFrom(...columns).chain((column) =>
  fc.oneof(
    fc.record({
      kind: fc.constant('compare' as const),
      left: pathTo(column).map((path) => ({ kind: 'column' as const, path })),
      operator: fc.constantFrom(...binary),
      right: values[column].map((value) => ({ kind: 'constant' as const, value })),
    }),
    fc.record({
      kind: fc.constant('compare' as const),
      left: pathTo(column).map((path) => ({ kind: 'column' as const, path })),
      operator: fc.constantFrom('isBlank' as const, 'isNotBlank' as const),
    }),
    fc.record({
      kind: fc.constant('compare' as const),
      left: values[column].map((value) => ({ kind: 'constant' as const, value })),
      operator: fc.constantFrom(...binary),
      right: fc.constant({ kind: 'column' as const, path: column }),
    }),
    // Two constants: what a form says of itself.
    fc.record({
      kind: fc.constant('compare' as const),
      left: values[column].map((value) => ({ kind: 'constant' as const, value })),
      operator: fc.constantFrom(...binary),
      right: values[column].map((value) => ({ kind: 'constant' as const, value })),
    }),
    // Two columns of one row; a condition only ever compares values of one family.
    fc.record({
      kind: fc.constant('compare' as const),
      left: fc.constant({ kind: 'column' as const, path: column }),
      operator: fc.constantFrom(...binary),
      right: fc
        .constantFrom(...columns.filter((one) => familyOf(one) === familyOf(column)))
        .map((path) => ({ kind: 'column' as const, path: path as string })),
    }),
  ),
);
/** Whether several choices have one, also through links and turned round. */
const having: fc.Arbitrary<Comparison> = fc.record({
  kind: fc.constant('compare' as const),
  left: fc.constantFrom('tags', 'next.tags').map((path) => ({ kind: 'column' as const, path })),
  operator: fc.constantFrom('has' as const, 'hasNot' as const),
  right: fc.constantFrom('a', 'b', 'x').map((value) => ({ kind: 'constant' as const, value })),
});
/** Whether a link is a record, or several links have it: records are numbered from 1 on in each run. */
const linking: fc.Arbitrary<Comparison> = fc.constantFrom('next', 'next.next', 'others', 'next.others').chain((path) =>
  fc.record({
    kind: fc.constant('compare' as const),
    left: fc.constant({ kind: 'column' as const, path }),
    operator: path.endsWith('others')
      ? fc.constantFrom('has' as const, 'hasNot' as const)
      : fc.constantFrom('is' as const, 'isNot' as const),
    right: fc.nat(6).map((value) => ({ kind: 'constant' as const, value })),
  }),
);
const { condition } = fc.letrec<{ condition: Condition; group: Condition }>((tie) => ({
  condition: fc.oneof({ depthSize: 'small', withCrossShrink: true }, comparison, having, linking, tie('group')),
  group: fc.record({
    kind: fc.constant('group' as const),
    match: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
    of: fc.array(tie('condition'), { maxLength: 3 }),
  }),
}));

let database: TestDatabase;
let definitions: Definitions;
beforeAll(async () => {
  database = await freshDatabase();
  await asActor(
    database.databases.owner,
    { name: 'harbourmaster', through: { kind: 'tables', label: 'Tables' } },
    async (owner) => {
      for (const login of ['harbourmaster', 'quayclerk']) await addAccount(owner, login, login, 'a long password');
      await createCabinet(owner, 'quay', 'Quay');
      await createTable(owner, 'quay', 'Things', '');
      for (const column of columns)
        await addField(owner, 'quay_things', newFieldSchema.parse({ label: column, ...COLUMNS[column] }));
      await addField(
        owner,
        'quay_things',
        newFieldSchema.parse({ label: 'tags', type: 'choices', settings: { choices: ['a', 'b', 'c'] } }),
      );
      await addField(
        owner,
        'quay_things',
        newFieldSchema.parse({ label: 'next', type: 'link', settings: { table: 'quay_things' } }),
      );
      await addField(
        owner,
        'quay_things',
        newFieldSchema.parse({ label: 'others', type: 'links', settings: { table: 'quay_things' } }),
      );
      definitions = await loadDefinitions(owner);
    },
  );
});
afterAll(() => database.drop());

test('a condition means the same in memory and in PostgreSQL: blanks, text order, dates, links and all', async () => {
  const { tables } = definitions;
  const actor = { name: 'quayclerk', through: { kind: 'table', label: 'Things' } } as const;
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(row, link, fc.array(fc.nat(20), { maxLength: 3 })), { minLength: 1, maxLength: 8 }),
      fc.array(condition, { minLength: 8, maxLength: 8 }),
      async (rows, conditions) => {
        const asked = asActor(database.databases.app, actor, async (transaction) => {
          const records = new Map<number, Record<string, Value>>();
          for (const [one, link, several] of rows) {
            const known = [...records.keys()];
            const next = link === null || known.length === 0 ? null : (known[Number(link) % known.length] ?? null);
            const chosen = new Set(several.flatMap((place) => known[place % known.length] ?? []));
            const record = { ...one, next, others: chosen.size === 0 ? null : [...chosen] };
            const table = tables.get('quay_things');
            if (table) records.set((await insertRecord(transaction, actor, table, record)).id, record);
          }
          const at = (id: Value, path: string): Value => {
            const [first = '', ...rest] = path.split('.');
            const value = records.get(Number(id))?.[first] ?? null;
            return rest.length === 0 || value === null ? value : at(value, rest.join('.'));
          };
          for (const numbered of conditions) {
            const one = withRecords(numbered, [...records.keys()]);
            const sql = conditionToSql(tables, 'quay_things', 't', one);
            const found = await transaction.raw(
              `SELECT t.id FROM ${relation('quay_things')} t WHERE t.id = ANY(?) AND ${sql.text} ORDER BY t.id`,
              [[...records.keys()], ...sql.values] as string[],
            );
            const inMemory = [...records.keys()].filter((id) =>
              holds(one, (o) => (o.kind === 'column' ? at(id, o.path) : o.kind === 'constant' ? o.value : null)),
            );
            expect(
              found.rows.map((r: { id: number }) => r.id),
              JSON.stringify(one),
            ).toEqual(inMemory);
          }
          throw new RollBack();
        });
        await asked.catch((error) => {
          if (!(error instanceof RollBack)) throw error;
        });
      },
    ),
    { numRuns: 120 },
  );
});

/** The same condition with the places of records that its links are compared with turned into their numbers. */
function withRecords(condition: Condition, ids: readonly number[]): Condition {
  if (condition.kind === 'group') return { ...condition, of: condition.of.map((one) => withRecords(one, ids)) };
  const { left } = condition;
  const isLink = 'path' in left && /(next|others)$/.test(left.path);
  if (!isLink || !('right' in condition) || condition.right.kind !== 'constant') return condition;
  // Past the last record stands one that is not there.
  const value = ids[Number(condition.right.value)] ?? 999_999_999;
  return { ...condition, right: { kind: 'constant', value } };
}

/** Ends a transaction without keeping what it wrote. */
class RollBack extends Error {}
