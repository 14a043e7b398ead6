import { newFieldSchema } from '@fiche/core/tables';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asSuperuser, freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { addField, createCabinet, createTable } from '../tables/index.ts';
import { asActor, setActor } from './index.ts';

let database: TestDatabase;
const actor = { name: 'quayclerk', through: { kind: 'form', label: 'Check-in', version: 4 } } as const;

beforeAll(async () => {
  database = await freshDatabase();
  await asActor(
    database.databases.owner,
    { name: 'harbourmaster', through: { kind: 'tables', label: 'Tables' } },
    async (owner) => {
      await createCabinet(owner, 'quay', 'Quay');
      await createTable(owner, 'quay', 'Berths', '');
      await addField(owner, 'quay_berths', newFieldSchema.parse({ label: 'Number', type: 'text' }));
      await addField(
        owner,
        'quay_berths',
        newFieldSchema.parse({ label: 'Ticket', type: 'sequence', settings: { prefix: 'T-', withYear: true } }),
      );
    },
  );
});
afterAll(() => database.drop());

const app = () => database.databases.app;
const write = (sql: string, who: typeof actor | { name: string; through: typeof actor.through; at: string } = actor) =>
  asActor(app(), who, (transaction) => transaction.raw(sql));
const newest = async (place: string) =>
  (await database.databases.owner.raw('SELECT * FROM ledger.line WHERE place = ? ORDER BY id DESC LIMIT 1', [place]))
    .rows[0];

describe('the ledger', () => {
  test('writes each change in the same transaction: who, through what, before and after', async () => {
    await write(`INSERT INTO data.quay_berths (number) VALUES ('A-1')`);
    expect(await newest('data.quay_berths')).toMatchObject({
      account: 'quayclerk',
      through: { label: 'Check-in', version: 4 },
      kind: 'add',
      before: null,
      after: { number: 'A-1' },
    });
    await write(`UPDATE data.quay_berths SET number = 'A-2'`);
    expect(await newest('data.quay_berths')).toMatchObject({
      kind: 'change',
      before: { number: 'A-1' },
      after: { number: 'A-2' },
      version: 2,
    });
    await write(`UPDATE data.quay_berths SET archived_at = now()`);
    expect((await newest('data.quay_berths')).kind).toBe('archive');
  });

  test('keeps no line of a change that was rolled back, and none of a change that changed nothing', async () => {
    const before = (await newest('data.quay_berths')).id;
    await expect(
      asActor(app(), actor, async (transaction) => {
        await transaction.raw(`UPDATE data.quay_berths SET number = 'lost'`);
        throw new Error('no');
      }),
    ).rejects.toThrow('no');
    await write(`UPDATE data.quay_berths SET number = number`);
    expect((await newest('data.quay_berths')).id).toBe(before);
  });

  test.each([
    `UPDATE ledger.line SET account = 'auditor'`,
    'DELETE FROM ledger.line',
    'TRUNCATE ledger.line',
    `INSERT INTO ledger.line (at, account, transaction, place, record, kind) VALUES (now(), 'x', 1, 'x', '1', 'add')`,
    'DROP TABLE ledger.line',
    'ALTER TABLE ledger.line DISABLE TRIGGER ALL',
  ])('refuses the application: %s', async (sql) => {
    await expect(write(sql)).rejects.toThrow(/permission denied|must be owner/);
  });

  test.each([`UPDATE ledger.line SET account = 'auditor'`, 'DELETE FROM ledger.line', 'TRUNCATE ledger.line'])(
    'refuses even the owner and the superuser: %s',
    async (sql) => {
      await expect(database.databases.owner.raw(sql)).rejects.toThrow('The ledger cannot be altered');
      await expect(asSuperuser(database.superUrl, sql)).rejects.toThrow('The ledger cannot be altered');
    },
  );

  test('a partition cannot be emptied behind its back', async () => {
    const name = `line_${new Date().toISOString().slice(0, 7).replace('-', '_')}`;
    await expect(asSuperuser(database.superUrl, `TRUNCATE ledger.${name}`)).rejects.toThrow(
      'The ledger cannot be altered',
    );
  });
});

describe('audit fields', () => {
  test('cannot be written by the application, nor can a sequence number', async () => {
    for (const column of ['created_by', 'changed_by', 'version', 'id', 'ticket'])
      await expect(write(`UPDATE data.quay_berths SET ${column} = ${column}`), column).rejects.toThrow(
        /permission denied|can only be updated/,
      );
    await expect(write(`INSERT INTO data.quay_berths (number, ticket) VALUES ('B-1', 'T-1')`)).rejects.toThrow(
      'permission denied',
    );
  });

  test('are stamped over whatever the superuser writes, as the database user', async () => {
    await asSuperuser(
      database.superUrl,
      "SELECT set_config('fiche.actor', 'quayclerk', false)",
      `INSERT INTO data.quay_berths (number, version, created_at, created_by, changed_at, changed_by) VALUES ('C-1', 9, '2001-01-01', 'auditor', '2001-01-01', 'auditor')`,
    );
    const { rows } = await app().raw(`SELECT * FROM data.quay_berths WHERE number = 'C-1'`);
    expect(rows[0]).toMatchObject({ version: 1, created_by: 'db:postgres', changed_by: 'db:postgres' });
    expect(new Date(rows[0].created_at).getFullYear()).toBeGreaterThan(2020);
    expect(await newest('data.quay_berths')).toMatchObject({ account: 'db:postgres', through: null });
  });

  test('nothing is written without an actor', async () => {
    await expect(app().raw(`INSERT INTO data.quay_berths (number) VALUES ('D-1')`)).rejects.toThrow('No actor');
    await expect(app().raw(`UPDATE data.quay_berths SET number = 'D-1'`)).rejects.toThrow('No actor');
    await expect(app().raw('DELETE FROM data.quay_berths')).rejects.toThrow('permission denied');
  });

  test('only the owner can give a moment of the past', async () => {
    const past = { ...actor, at: '2025-05-01T10:00:00Z' };
    await write(`INSERT INTO data.quay_berths (number) VALUES ('E-1')`, past);
    await asActor(database.databases.owner, past, (owner) =>
      owner.raw(`INSERT INTO data.quay_berths (number) VALUES ('E-2')`),
    );
    const { rows } = await app().raw(
      `SELECT number, created_at, ticket FROM data.quay_berths WHERE number LIKE 'E-%' ORDER BY number`,
    );
    expect(rows[0].created_at.slice(0, 4)).not.toBe('2025');
    expect(rows[1]).toMatchObject({ created_at: '2025-05-01T10:00:00.000Z', ticket: 'T-2025-00001' });
  });
});

test('sequence numbers are given once each, also to saves that run beside one another', async () => {
  await Promise.all(Array.from({ length: 20 }, () => write(`INSERT INTO data.quay_berths (number) VALUES ('F')`)));
  const { rows } = await app().raw(`SELECT DISTINCT ticket FROM data.quay_berths WHERE number = 'F'`);
  expect(rows).toHaveLength(20);
});

test('the application can make no tables and read no passwords in the ledger', async () => {
  await expect(app().raw('CREATE TABLE data.x ()')).rejects.toThrow('permission denied');
  await database.databases.owner.transaction(async (owner) => {
    await setActor(owner, actor);
    await owner('fiche.account').insert({ login: 'nightclerk', display_name: 'Night', password_hash: 'secret-hash' });
  });
  expect(JSON.stringify(await newest('fiche.account'))).not.toContain('secret-hash');
});
