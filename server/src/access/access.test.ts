import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, PASSWORD, type TestOffice, testOffice } from '../fixtures/office.ts';
import { contractsOf } from './index.ts';

let office: TestOffice;
const clients: Record<string, Client> = {};
beforeAll(async () => {
  office = await testOffice();
  clients.nobody = office.anonymous;
  for (const login of ['quayclerk', 'auditor', 'harbourmaster', 'stranger'])
    clients[login] = await office.signIn(login);
});
afterAll(() => office.close());

test('a role without the right to add is refused by the form, too', async () => {
  const answer = await clients.auditor?.call(
    'POST',
    '/api/forms/quay_check_in/entries',
    { values: { harbour: 1 } },
    { 'idempotency-key': 'auditor-tries' },
  );
  expect(answer?.status).toBe(403);
});

test('a cookie alone does not write', async () => {
  const reply = await office.app.inject({
    method: 'POST',
    url: '/api/session',
    payload: { login: 'quayclerk', password: PASSWORD },
  });
  const cookie = reply.cookies.map((one) => `${one.name}=${one.value}`).join('; ');
  expect(reply.cookies[0]).toMatchObject({ httpOnly: true, sameSite: 'Strict' });
  const write = await office.app.inject({
    method: 'POST',
    url: '/api/tables/quay_berths/records/1/archive',
    headers: { cookie },
    payload: { version: 1 },
  });
  expect(write.statusCode).toBe(403);
});

test('a wrong password and an unknown login get the same answer, and too many tries are slowed', async () => {
  const tries = async (login: string) => office.anonymous.call('POST', '/api/session', { login, password: 'guess' });
  const [wrong, unknown] = [await tries('auditor'), await tries('nobody.here')];
  expect(wrong).toEqual(unknown);
  expect(wrong.status).toBe(401);
  for (let n = 0; n < 8; n++) await tries('auditor');
  const slowed = await office.anonymous.call('POST', '/api/session', { login: 'auditor', password: PASSWORD });
  expect(slowed.status).toBe(429);
  expect(slowed.body.detail).toMatch(/Wait \d+ min/);
});

test('the whole interface is described by OpenAPI', async () => {
  const { body } = await office.anonymous.call('GET', '/api/openapi.json');
  expect(body.openapi).toBe('3.1.0');
  for (const one of contractsOf(office.app)) {
    const described = body.paths[one.path]?.[one.method.toLowerCase()];
    expect(described, one.path).toMatchObject({ summary: one.summary, responses: { 200: {}, default: {} } });
    expect(body.tags.map((tag: { name: string }) => tag.name)).toContain(described.tags[0]);
  }
});

test('the description can be read on a page whose files all come from here', async () => {
  const page = await office.app.inject({ method: 'GET', url: '/api/docs' });
  expect([page.statusCode, page.headers['content-type']]).toEqual([200, 'text/html; charset=utf-8']);
  expect(page.headers['content-security-policy']).not.toMatch(/https?:|unsafe-eval|script-src/);
  const files = [...page.body.matchAll(/(?:src|href)="([^"]+)"/g)].map(([, address]) => address ?? '');
  expect(files.length).toBeGreaterThan(3);
  for (const url of files) expect((await office.app.inject({ method: 'GET', url })).statusCode, url).toBe(200);
  const read = await office.app.inject({ method: 'GET', url: '/api/docs/json' });
  expect(read.json().paths).toEqual((await office.anonymous.call('GET', '/api/openapi.json')).body.paths);
});

test('every address that docs/API.md calls is there, by its method', () => {
  const text = readFileSync(new URL('../../../docs/API.md', import.meta.url), 'utf8');
  const calls = [...text.matchAll(/curl ((?:[^\n`]|\\\n)*?)"\$FICHE(\/api\/[^"?]*)/g)].map(
    ([, options = '', path = '']) => [options.includes(' -d ') ? 'POST' : 'GET', path],
  );
  expect(calls.length).toBeGreaterThan(6);
  const known = contractsOf(office.app).map(
    (one) => [one.method, new RegExp(`^${one.path.replaceAll(/\{\w+\}/g, '[^/]+')}$`)] as const,
  );
  for (const [method, path = ''] of calls)
    expect(
      known.some(([of, pattern]) => of === method && pattern.test(path)),
      `${method} ${path}`,
    ).toBe(true);
});

test('what is not there is said so', async () => {
  for (const url of [
    '/api/tables/quay_ghosts/records',
    '/api/tables/quay_berths/records/999999',
    '/api/forms/quay_ghost',
    '/api/public/ghost',
    '/api/nothing',
  ])
    expect((await clients.harbourmaster?.call('GET', url))?.status, url).toBe(404);
});
