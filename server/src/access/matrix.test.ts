import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { addLimitedRoles, addStay } from '../fixtures/limitedRoles.ts';
import { type Answer, type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { contractsOf } from './index.ts';
import { CALLERS, MATRIX, NOT_HERE } from './matrix.ts';

type Method = Parameters<Client['call']>[0];
type Call = (method: Method, url: string, body?: unknown) => Promise<Answer>;

let office: TestOffice;
const call = {} as Record<(typeof CALLERS)[number], Call>;
const stays = { near: 0, far: 0 };

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  stays.near = await addStay(office, 'theown', { harbour: 1, note: 'near' });
  stays.far = await addStay(office, 'harbourmaster', { harbour: 2, note: 'far' });
  const logins = {
    builder: 'harbourmaster',
    clerk: 'quayclerk',
    auditor: 'auditor',
    own: 'theown',
    ranged: 'theranged',
    blind: 'theblind',
    stranger: 'stranger',
  } as const;
  const clients: Record<string, Client> = {};
  for (const [name, login] of Object.entries(logins)) {
    const client = await office.signIn(login);
    clients[name] = client;
    call[name as keyof typeof logins] = (method, url, body) => client.call(method, url, body, headers());
  }
  call.nobody = (method, url, body) => office.anonymous.call(method, url, body, headers());
  const made = await clients.builder?.call('POST', '/api/cabinets/quay/tokens', {
    name: 'reader',
    role: 'clerk',
    tables: ['quay_stays'],
  });
  const authorization = `Bearer ${made?.body.token}`;
  call.token = (method, url, body) => office.anonymous.call(method, url, body, { ...headers(), authorization });
});
afterAll(() => office.close());

const headers = () => ({ 'idempotency-key': randomUUID() });

interface Row {
  readonly route: string;
  readonly method: Method;
  readonly path: string;
  readonly target: string | undefined;
  readonly cells: string;
}

const rows: Row[] = MATRIX.trim()
  .split('\n')
  .map((line) => {
    const [method = '', path = '', ...rest] = line.split(/\s+/);
    const target = rest.length > 1 ? rest[0]?.slice(1) : undefined;
    return { route: `${method} ${path}`, method: method as Method, path, target, cells: rest.at(-1) ?? '' };
  });

function urlOf({ path, target }: Row): string {
  const id = target === 'far' ? stays.far : stays.near;
  return path
    .replace('{cabinet}', 'quay')
    .replace('{table}', target === 'vessels' ? 'quay_vessels' : 'quay_stays')
    .replace('{form}', 'quay_check_in')
    .replace('{field}', 'note')
    .replace('{id}', String(id))
    .replace('{position}', '1')
    .replace('{slug}', 'arrival')
    .replace('{role}', 'ghost')
    .replace(/\{\w+\}/g, '999999')
    .replace(/events$/, 'events?version=1');
}

/** For a target what passes as an entry or a change, at a version that nobody has; else what fits no route. */
function bodyOf({ method, path, target }: Row): unknown {
  if (method === 'GET') return undefined;
  if (target === undefined) return path.endsWith('}') || path.endsWith('sessions') ? undefinedFor(method) : NONSENSE;
  if (path.endsWith('/entries'))
    return target === 'vessels'
      ? { values: {} }
      : { record: stays[target as 'near' | 'far'], version: 99, values: { pontoon: null } };
  return method === 'DELETE' ? NONSENSE : { version: 99 };
}

const NONSENSE = { nonsense: true };
const undefinedFor = (method: Method): unknown => (method === 'DELETE' ? undefined : NONSENSE);

const EXPECTED: Readonly<Record<string, readonly number[]>> = {
  '+': [200, 400, 409, 413, 415, 422, 429],
  '-': [401],
  x: [403],
  '0': [404],
};

test('every route of the interface stands in the matrix', () => {
  const known = new Set([...rows.map((row) => row.route), ...Object.keys(NOT_HERE)]);
  const missing = contractsOf(office.app)
    .map((one) => `${one.method} ${one.path}`)
    .filter((route) => !known.has(route));
  expect(missing).toEqual([]);
  for (const row of rows) expect(row.cells, row.route).toHaveLength(CALLERS.length);
});

test.each(CALLERS)('as the matrix says: %s', async (caller) => {
  const at = CALLERS.indexOf(caller);
  const wrong: string[] = [];
  for (const row of rows) {
    const cell = row.cells[at] ?? '';
    // A stream that is let through never ends.
    if (row.path.endsWith('/events') && cell === '+') continue;
    const { status } = await call[caller](row.method, urlOf(row), bodyOf(row));
    if (!EXPECTED[cell]?.includes(status)) wrong.push(`${row.route} ${row.target ?? ''}: ${status}, not ${cell}`);
  }
  expect(wrong).toEqual([]);
});
