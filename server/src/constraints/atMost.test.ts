import type { ConstraintOf, TableDefinition } from '@fiche/core/tables';
import fc from 'fast-check';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { type Answer, type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';
import { findConflict } from '../records/index.ts';
import { constraintSql, heldName } from './index.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
let made = 0;
/** A table of its own for each test: who lies where, from one day to another. */
let table: TableDefinition;
const owner = () => office.database.databases.owner;
const actor = { name: 'quayclerk', through: { kind: 'table', label: 'Moorings' } } as const;
const message = 'This pontoon is full that day. Choose another.';

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(async () => {
  // What holds the rule is ours: verification takes no exception to it.
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  await office.close();
});
beforeEach(async () => {
  const { body } = await builder.call('POST', '/api/cabinets/quay/tables', { label: `Guests ${++made}` });
  for (const [label, type] of [
    ['Pontoon', 'text'],
    ['From', 'date'],
    ['To', 'date'],
    ['Arrives', 'dateTime'],
    ['Leaves', 'dateTime'],
  ])
    await builder.call('POST', `/api/tables/${body.id}/fields`, { field: { label, type } });
  table = (await loadDefinitions(owner())).tables.get(body.id) as TableDefinition;
});

const post = (path: string, body: object = {}) => builder.call('POST', `/api/tables/${table.id}/${path}`, body);
const rule = (most: number, to: string | null = 'to', from = 'from'): ConstraintOf<'atMost'> => ({
  kind: 'atMost',
  id: 'full',
  most,
  same: ['pontoon'],
  from,
  to,
  message,
});
let keys = 0;
const save = (values: object): Promise<Answer> =>
  clerk.call(
    'POST',
    `/api/tables/${table.id}/entries`,
    { values, lines: {} },
    { 'idempotency-key': `at-most-${++keys}` },
  );

interface Guest {
  readonly pontoon: string;
  /** Days of March 2027; no end is an open one. */
  readonly from: number;
  readonly to: number | null;
}
const guest = fc.record({
  pontoon: fc.constantFrom('A', 'B'),
  from: fc.integer({ min: 1, max: 9 }),
  to: fc.option(fc.integer({ min: 1, max: 12 }), { freq: 5 }),
});
const day = (n: number | null): string | null => (n === null ? null : `2027-03-${String(n).padStart(2, '0')}`);
/** The days a guest has, as a plain reader counts them: ends are put in order, and a stay of no length has its day. */
const covers = ({ from, to }: Guest, on: number): boolean => {
  const first = to === null ? from : Math.min(from, to);
  const end = to === null ? 99 : Math.max(from, to, first + 1);
  return on >= first && on < end;
};
const DAYS = Array.from({ length: 14 }, (_, n) => n + 1);
const fits = (guests: readonly Guest[], most: number): boolean =>
  ['A', 'B'].every((pontoon) =>
    DAYS.every((on) => guests.filter((one) => one.pontoon === pontoon && covers(one, on)).length <= most),
  );
const insert = (guests: readonly Guest[]) =>
  asActor(owner(), actor, (transaction) =>
    transaction(`data.${table.id}`).insert(
      guests.map(({ pontoon, from, to }) => ({ pontoon, from: day(from), to: day(to) })),
    ),
  );

describe('against a plain count of every day', () => {
  test('what is written directly is let in, and foreseen, exactly while there is room', async () => {
    const constraint = rule(2);
    expect((await post('constraints', { constraint })).status).toBe(200);
    table = (await loadDefinitions(owner())).tables.get(table.id) as TableDefinition;
    await fc.assert(
      fc.asyncProperty(fc.array(guest, { minLength: 3, maxLength: 9 }), async (guests) => {
        await asActor(owner(), actor, (transaction) =>
          transaction(`data.${table.id}`).whereNull('archived_at').update({ archived_at: new Date() }),
        );
        const there: Guest[] = [];
        for (const one of guests) {
          const room = fits([...there, one], 2);
          const foreseen = await findConflict(owner(), table, {
            pontoon: one.pontoon,
            from: day(one.from),
            to: day(one.to),
          });
          expect(foreseen === undefined).toBe(room);
          const written = await insert([one]).then(
            () => true,
            (error: { code: string; constraint: string }) => {
              expect(error).toMatchObject({ code: 'FI002', constraint: heldName(table.id, 'rule', 'full') });
              return false;
            },
          );
          expect(written).toBe(room);
          if (room) there.push(one);
        }
      }),
      { numRuns: 25 },
    );
  });

  test('records that are there break it exactly when a day has too many', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(guest, { minLength: 1, maxLength: 8 }),
        fc.integer({ min: 1, max: 3 }),
        async (guests, most) => {
          await asActor(owner(), actor, (transaction) =>
            transaction(`data.${table.id}`).whereNull('archived_at').update({ archived_at: new Date() }),
          );
          await insert(guests);
          const { body } = await post('trial', { kind: 'constraint', constraint: rule(most) });
          expect(body.breaks === 0).toBe(fits(guests, most));
        },
      ),
      { numRuns: 25 },
    );
  });

  test('rows of a file are refused only where a day is too full, and what is left fits', async () => {
    const staging = 'public.staging';
    await owner().raw(
      `CREATE TABLE ${staging} ("row#" int, "record#" bigint, "action#" text, pontoon text, "from" date, "to" date)`,
    );
    const all = (columns: readonly string[]): string => {
      const list = columns.map((id) => `"${id}"`).join(', ');
      return `SELECT "row#" AS number, ${list} FROM ${staging} UNION ALL SELECT NULL, ${list} FROM data.${table.id} WHERE archived_at IS NULL`;
    };
    await fc.assert(
      fc.asyncProperty(
        fc.array(guest, { maxLength: 4 }),
        fc.array(guest, { minLength: 1, maxLength: 7 }),
        async (sent, rows) => {
          const there: Guest[] = [];
          for (const one of sent) if (fits([...there, one], 2)) there.push(one);
          await asActor(owner(), actor, (transaction) =>
            transaction(`data.${table.id}`).whereNull('archived_at').update({ archived_at: new Date() }),
          );
          if (there.length > 0) await insert(there);
          await owner().raw(`TRUNCATE ${staging}`);
          for (const [n, one] of rows.entries())
            await owner().raw(`INSERT INTO ${staging} VALUES (?, NULL, 'add', ?, ?, ?)`, [
              n,
              one.pontoon,
              day(one.from) as string,
              day(one.to) as string,
            ]);
          const [where] = constraintSql(rule(2)).amongRows(table, rule(2), { staging, place: `data.${table.id}`, all });
          const { rows: found } = await owner().raw<{ rows: { n: number }[] }>(
            `SELECT s."row#" AS n FROM ${staging} s WHERE ${where}`,
          );
          const refused = new Set(found.map(({ n }) => n));
          expect(refused.size === 0).toBe(fits([...there, ...rows], 2));
          expect(fits([...there, ...rows.filter((_, n) => !refused.has(n))], 2)).toBe(true);
        },
      ),
      { numRuns: 25 },
    );
  });
});

test('what breaks it already is listed, and the rule is added once it is corrected', async () => {
  const full = [1, 2, 3].map((from) => ({ pontoon: 'A', from, to: 6 }));
  await insert(full);
  const constraint = rule(2);
  expect((await post('trial', { kind: 'constraint', constraint })).body).toMatchObject({
    breaks: 1,
    examples: [{ id: 3, value: expect.stringContaining('Pontoon A'), why: 'one too many on a day' }],
  });
  expect((await post('constraints', { constraint })).status).toBe(422);
  await builder.call('POST', `/api/tables/${table.id}/records/3/archive`, { version: 1 });
  expect((await post('constraints', { constraint })).status).toBe(200);
  // Neither a changed record nor one that comes back finds a place that is taken.
  expect(await builder.call('POST', `/api/tables/${table.id}/records/3/restore`, { version: 2 })).toMatchObject({
    status: 422,
    body: { detail: message },
  });
  const late = await save({ pontoon: 'A', from: '2027-03-06', to: '2027-03-08' });
  expect(late.status).toBe(200);
  const moved = await clerk.call(
    'POST',
    `/api/tables/${table.id}/entries`,
    { record: late.body.record.id, version: 1, values: { from: '2027-03-05' }, lines: {} },
    { 'idempotency-key': 'at-most-moved' },
  );
  expect(moved.body.errors).toEqual([{ path: 'to', rule: 'full', message }]);
  expect((await builder.call('DELETE', `/api/tables/${table.id}/constraints/full`)).status).toBe(200);
  expect((await save({ pontoon: 'A', from: '2027-03-05', to: '2027-03-08' })).status).toBe(200);
  const { rows } = await owner().raw(`SELECT tgname FROM pg_trigger WHERE tgname = ?`, [
    heldName(table.id, 'rule', 'full'),
  ]);
  expect(rows).toEqual([]);
});

test('of thirty saves at once, as many land as there are places', async () => {
  await post('constraints', { constraint: rule(4, null) });
  const answers = await Promise.all(Array.from({ length: 30 }, () => save({ pontoon: 'A', from: '2027-05-01' })));
  expect(answers.filter(({ status }) => status === 200)).toHaveLength(4);
  expect(answers.filter(({ body }) => body.errors?.[0]?.message === message)).toHaveLength(26);
  expect((await save({ pontoon: 'B', from: '2027-05-01' })).status).toBe(200);
  expect((await save({ pontoon: 'A', from: '2027-05-02' })).status).toBe(200);
});

test('moments count on every day they touch; a blank one is not counted', async () => {
  await post('constraints', { constraint: rule(1, 'leaves', 'arrives') });
  const stay = (arrives: string | null, leaves: string | null) => save({ pontoon: 'A', arrives, leaves });
  expect((await stay('2027-03-01T15:00', '2027-03-03T00:00')).status).toBe(200);
  expect((await stay('2027-03-02T23:00', '2027-03-02T23:30')).status).toBe(422);
  expect((await stay('2027-03-03T00:00', '2027-03-03T00:00')).status).toBe(200);
  expect((await stay('2027-03-03T12:00', null)).status).toBe(422);
  expect((await stay(null, null)).status).toBe(200);
  expect((await stay(null, null)).status).toBe(200);
});

test('no field need agree, and any that can be compared may', async () => {
  await builder.call('POST', `/api/tables/${table.id}/fields`, { field: { label: 'Afloat', type: 'yesNo' } });
  const all = { ...rule(2, null), id: 'all', same: [] };
  const each = { ...rule(1, null), id: 'each', same: ['pontoon', 'afloat'] };
  for (const constraint of [all, each]) expect((await post('constraints', { constraint })).status).toBe(200);
  const lies = (pontoon: string, afloat: boolean) => save({ pontoon, afloat, from: '2027-06-01' });
  expect((await lies('A', true)).status).toBe(200);
  expect((await lies('A', true)).body.errors[0].rule).toBe('each');
  expect((await lies('A', false)).status).toBe(200);
  expect((await lies('B', false)).body.errors[0].rule).toBe('all');
});

test.each([
  [{ from: 'pontoon' }, 'Days are counted by a date or a date and time.'],
  [{ to: 'leaves' }, 'The two ends of a range must be of one kind.'],
  [{ to: 'from' }, 'A range needs two different fields.'],
  [{ from: 'gone' }, 'gone is not a field of'],
])('a rule that cannot be is refused in words: %o', async (change, words) => {
  const { status, body } = await post('constraints', { constraint: { ...rule(2), ...change } });
  expect(status).toBe(422);
  expect(body.errors[0].message).toContain(words);
});
