import type { TableDefinition } from '@fiche/core/tables';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { verifyLedger } from '../history/index.ts';
import { checkpointsOf, makeCheckpoints, statesSql } from './index.ts';
import { snapshotOf } from './snapshot.ts';

const STAYS = 'quay_stays';
const RECORDS = 5_200;
const DAY = 86_400_000;
let office: TestOffice;
let builder: Client;
const owner = () => office.database.databases.owner;

/** A moment so many days ago. */
const ago = (days: number): string => new Date(Date.now() - days * DAY).toISOString();
const write = (at: string, sql: string): Promise<unknown> =>
  asActor(owner(), { name: 'quayclerk', through: { kind: 'seed', label: 'test' }, at }, (transaction) =>
    transaction.raw(sql),
  );
const kept = async (): Promise<number> => Number((await owner()('ledger.checkpoint_record').count('* as n'))[0]?.n);

const ADDED = ago(40);
const CHANGED = [30, 27, 24, 21, 18, 12].map(ago);

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  await owner().raw('SELECT ledger.make_partitions(?::date, now()::date)', [ADDED.slice(0, 10)]);
  await write(
    ADDED,
    `INSERT INTO data.quay_stays (harbour, note) SELECT 1, 'of ' || n FROM generate_series(1, ${RECORDS}) n`,
  );
  // Each time another part of them: a note that becomes blank, persons that come, a length that changes.
  for (const [n, at] of CHANGED.entries())
    await write(
      at,
      `UPDATE data.quay_stays SET note = CASE WHEN id % 5 = ${n} THEN NULL ELSE 'round ${n}' END, persons = ${n + 1} + id % 7 WHERE id % 3 <> ${n % 3}`,
    );
  await owner().raw('ANALYZE data.quay_stays');
});
afterAll(() => office.close());

test('a checkpoint is made for each time that half as many changes were made as there are records, and once a day', async () => {
  await makeCheckpoints(owner());
  const made = await checkpointsOf(owner(), STAYS);
  expect(made.length).toBeGreaterThanOrEqual(3);
  const [{ n: changes }] = (
    await owner().raw(`SELECT count(*) AS n FROM ledger.line WHERE place = 'data.${STAYS}' AND kind = 'change'`)
  ).rows;
  expect(await kept()).toBeLessThanOrEqual(2 * Number(changes));
  await makeCheckpoints(owner());
  expect(await checkpointsOf(owner(), STAYS)).toEqual(made);
});

test('from a checkpoint every moment adds up to what all its lines do', async () => {
  for (const days of [39, 30, 28, 25, 22, 19.5, 15, 11, 0]) {
    const moment = `'${ago(days)}'::timestamptz`;
    const from = (await checkpointsOf(owner(), STAYS, moment)).at(-1);
    const columns = 'record, jsonb_strip_nulls(state) AS state, version, changed_at, changed_by';
    const { rows } = await owner().raw(
      `(SELECT ${columns} FROM ${statesSql(STAYS, moment, from)} a EXCEPT SELECT ${columns} FROM ${statesSql(STAYS, moment, undefined)} b)
       UNION ALL (SELECT ${columns} FROM ${statesSql(STAYS, moment, undefined)} b EXCEPT SELECT ${columns} FROM ${statesSql(STAYS, moment, from)} a)`,
    );
    expect({ days, rows }).toEqual({ days, rows: [] });
  }
});

test('what a list as of such a moment is read from begins with one', async () => {
  const moment = `'${ago(17)}'::timestamptz`;
  const table = (await loadDefinitions(owner())).tables.get(STAYS) as TableDefinition;
  const place = await snapshotOf(owner(), table, table, moment);
  const counted = async (from: string, note: string) =>
    Number(
      (await owner().raw(`SELECT count(*) AS n FROM ${from} p WHERE ${note} = 'round 4' AND version > 2`)).rows[0].n,
    );
  const expected = await counted(statesSql(STAYS, moment, undefined), "state->>'note'");
  expect([await counted(place, 'note'), expected > 1_000]).toEqual([expected, true]);
});

test('verification adds them up again, and names a record of which one says something else', async () => {
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  const [, second] = await checkpointsOf(owner(), STAYS);
  const alter = (state: string) =>
    owner().raw(
      `UPDATE ledger.checkpoint_record SET state = state || '{"note": "${state}"}' WHERE checkpoint = ? AND record = 4711`,
      [second?.id ?? 0],
    );
  const [{ note }] = (
    await owner().raw(
      "SELECT state->>'note' AS note FROM ledger.checkpoint_record WHERE checkpoint = ? AND record = 4711",
      [second?.id ?? 0],
    )
  ).rows;
  await alter('forged');
  expect((await verifyLedger(owner())).misfits).toMatchObject([
    {
      place: `data.${STAYS}`,
      record: '4711',
      what: expect.stringMatching(/^the checkpoint of .* does not hold what its lines say$/),
    },
  ]);
  await alter(note);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});

test('what is erased is in none of them any more', async () => {
  const { id, version } = await owner()(`data.${STAYS}`).orderBy('id', 'desc').first();
  const before = await kept();
  await builder.call('POST', `/api/tables/${STAYS}/records/${id}/archive`, { version });
  const erased = await builder.call('DELETE', `/api/tables/${STAYS}/records/${id}`, {
    version: version + 1,
    reason: 'asked for',
  });
  expect([erased.status, before - (await kept())]).toEqual([200, (await checkpointsOf(owner(), STAYS)).length]);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});

test('one that a line of an older moment has overtaken is not read, and is made again', async () => {
  const before = await checkpointsOf(owner(), STAYS);
  await write(ago(20), `UPDATE data.quay_stays SET note = 'found late' WHERE id = 77`);
  const left = await checkpointsOf(owner(), STAYS);
  expect(left).toEqual(before.filter((one) => Date.parse(one.at) < Date.parse(ago(20))));
  expect((await verifyLedger(owner())).misfits).toEqual([]);
  await makeCheckpoints(owner(), true);
  expect((await checkpointsOf(owner(), STAYS)).length).toBeGreaterThanOrEqual(left.length);
  expect((await verifyLedger(owner())).misfits).toEqual([]);
});
