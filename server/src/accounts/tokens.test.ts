import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addRole } from '../definitions/index.ts';
import { type Client, clerkRole, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let master: Client;
beforeAll(async () => {
  office = await testOffice();
  master = await office.signIn('harbourmaster');
});
afterAll(() => office.close());

const at = '/api/cabinets/quay/tokens';
const make = (name: string, more: object = {}) => master.call('POST', at, { name, role: 'clerk', ...more });
/** Calls as a program does: with the token alone. */
const as = (token: string) => (method: 'GET' | 'POST' | 'DELETE', url: string, body?: unknown) =>
  office.anonymous.call(method, url, body, {
    authorization: `Bearer ${token}`,
    ...(method === 'POST' ? { 'idempotency-key': randomUUID() } : {}),
  });
const ARGUMENTS = ['--table', 'quay_vessels', '--height', 'length', '--at', '', '--every', '0.01', '--times', '3'];
const berths = '/api/tables/quay_berths';

describe('a program with a token', () => {
  test('writes without a cookie, under its own name in record, history and ledger', async () => {
    const { token, id } = (await make('gauge-reader')).body;
    const gauge = as(token);
    const saved = await gauge('POST', `${berths}/entries`, { values: { number: 'T-1' } });
    expect(saved.status).toBe(200);
    const record = (await gauge('GET', `${berths}/records/${saved.body.record.id}`)).body;
    expect(record.stamp.createdBy).toBe('token:gauge-reader');
    const { lines } = (await gauge('GET', `${berths}/records/${record.id}/history`)).body;
    expect(lines[0].account).toBe('token:gauge-reader');
    const [listed] = (await master.call('GET', at)).body.tokens;
    expect(listed).toMatchObject({ id, name: 'gauge-reader', role: 'clerk', madeBy: 'harbourmaster', revoked: null });
    expect(listed.used).not.toBeNull();
    const ledger = (await master.call('GET', '/api/cabinets/quay/ledger?limit=10')).body;
    expect(ledger.lines).toContainEqual(expect.objectContaining({ what: 'Token', title: 'gauge-reader', kind: 'add' }));
    expect(JSON.stringify(ledger)).not.toContain(token);
  });

  test('may do what its role may, and nothing that is for people', async () => {
    const reader = as((await make('reader', { role: 'auditor' })).body.token);
    expect((await reader('GET', `${berths}/records`)).status).toBe(200);
    expect((await reader('POST', `${berths}/entries`, { values: { number: 'T-2' } })).status).toBe(403);
    for (const [method, url] of [
      ['GET', '/api/account'],
      ['DELETE', '/api/account/sessions'],
      ['GET', '/api/events'],
      ['GET', at],
    ] as const)
      expect((await reader(method, url)).status, url).toBe(403);
    expect((await reader('GET', '/api/cabinets/other')).status).toBe(404);
    expect((await as('fiche_made-up')('GET', `${berths}/records`)).status).toBe(401);
  });

  test('limited to tables is refused elsewhere in the cabinet', async () => {
    const limited = as((await make('limited', { tables: ['quay_berths'] })).body.token);
    expect((await limited('GET', `${berths}/records`)).status).toBe(200);
    for (const url of ['/api/tables/quay_stays/records', '/api/forms/quay_check_in', '/api/cabinets/quay'])
      expect((await limited('GET', url)).body.detail, url).toContain('limited to quay_berths');
    expect((await make('wrong', { tables: ['quay_nothing'] })).body.errors[0]).toMatchObject({ path: 'tables' });
  });

  test('is worth nothing once it is revoked or its last day is over', async () => {
    const { token, id } = (await make('brief')).body;
    const brief = as(token);
    expect((await brief('GET', `${berths}/records`)).status).toBe(200);
    expect((await master.call('DELETE', `${at}/${id}`)).status).toBe(200);
    expect((await brief('GET', `${berths}/records`)).body.detail).toContain('revoked');
    expect((await master.call('DELETE', `${at}/${id}`)).status).toBe(404);
    expect((await make('late', { until: '2020-01-31' })).body.errors[0]).toMatchObject({ path: 'until' });
    const ending = (await make('ending', { until: '2099-12-31' })).body;
    expect((await as(ending.token)('GET', `${berths}/records`)).status).toBe(200);
    await office.database.databases.owner.raw('UPDATE fiche.token SET expires_at = now() WHERE id = ?', [ending.id]);
    expect((await as(ending.token)('GET', `${berths}/records`)).status).toBe(401);
  });

  test('has a limit of its own', async () => {
    const busy = as((await make('busy')).body.token);
    await office.database.databases.owner.raw(
      `INSERT INTO fiche.attempt (what, window_start, count) SELECT 'token:' || id, to_timestamp(floor(extract(epoch FROM now()) / 60 + n) * 60), 600 FROM fiche.token, generate_series(0, 1) n WHERE name = 'busy'`,
    );
    expect((await busy('GET', `${berths}/records`)).status).toBe(429);
    expect((await master.call('GET', `${berths}/records`)).status).toBe(200);
  });
});

test('a name is used once, and nobody makes a token that may do more than they', async () => {
  expect((await make('twice')).status).toBe(200);
  expect((await make('twice')).body.errors[0]).toMatchObject({ path: 'name' });
  expect((await make('Two Words')).status).toBe(422);
  expect((await make('no-role', { role: 'ghost' })).body.errors[0]).toMatchObject({ path: 'role' });
  await asActor(office.database.databases.owner, { name: 'test', through: { kind: 'seed', label: 'test' } }, (owner) =>
    addRole(owner, 'quay', 'above', { ...clerkRole(), label: 'Above', rights: ['erase', 'people'] }),
  );
  await master.call('PATCH', '/api/cabinets/quay/accounts/quayclerk', { role: 'above' });
  const clerk = await office.signIn('quayclerk');
  expect((await clerk.call('POST', at, { name: 'mighty', role: 'builder' })).status).toBe(403);
  expect((await clerk.call('POST', at, { name: 'mighty', role: 'above' })).status).toBe(200);
});

test('where a browser shows its cookie, a token that is not valid is not passed over', async () => {
  expect((await master.call('GET', `${berths}/records`, undefined, { authorization: 'Bearer wrong' })).status).toBe(
    401,
  );
  // What a proxy adds for its own use is not ours.
  expect((await master.call('GET', `${berths}/records`, undefined, { authorization: 'Basic abc' })).status).toBe(200);
});

test('a field that begins with the account begins blank for a program', async () => {
  const field = { label: 'Measured by', type: 'account', initial: { kind: 'account' } };
  expect((await master.call('POST', `${berths}/fields`, { field })).status).toBe(200);
  const { token } = (await make('measurer')).body;
  const saved = await as(token)('POST', `${berths}/entries`, { values: { number: 'T-9' } });
  expect([saved.status, saved.body.record.values.measured_by ?? null]).toEqual([200, null]);
  const own = await master.call(
    'POST',
    `${berths}/entries`,
    { values: { number: 'T-10' } },
    { 'idempotency-key': randomUUID() },
  );
  expect(own.body.record.values.measured_by).toBe('harbourmaster');
});

test('the simulated gauge writes its readings through a token, and says why it was refused', async () => {
  const url = await office.app.listen({ port: 0, host: '127.0.0.1' });
  const gauge = (token: string) =>
    new Promise<{ code: number | null; out: string; err: string }>((resolve) => {
      const child = spawn(
        process.execPath,
        [fileURLToPath(new URL('../../../demo/gauge.mjs', import.meta.url)), '--url', url, ...ARGUMENTS],
        { env: { ...process.env, FICHE_TOKEN: token } },
      );
      let [out, err] = ['', ''];
      child.stdout.on('data', (chunk) => (out += chunk));
      child.stderr.on('data', (chunk) => (err += chunk));
      child.on('exit', (code) => resolve({ code, out, err }));
    });
  const { token } = (await make('tide', { tables: ['quay_vessels'] })).body;
  const { code, out, err } = await gauge(token);
  expect([err, code, out.trim().split('\n').length]).toEqual(['', 0, 3]);
  const { rows } = await office.database.databases.owner.raw(
    `SELECT length FROM data.quay_vessels WHERE created_by = 'token:tide'`,
  );
  expect(rows).toHaveLength(3);
  expect(rows.every((row: { length: number }) => row.length > 0 && row.length < 5)).toBe(true);
  const refused = await gauge((await make('blind', { role: 'auditor' })).body.token);
  expect([refused.code, refused.err]).toEqual([1, expect.stringContaining('may not add records')]);
});
