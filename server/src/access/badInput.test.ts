import type { Contract } from '@fiche/core/api';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { z } from 'zod';
import { asActor } from '../database/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { contractsOf } from './index.ts';
import { unsoundPart } from './soundness.ts';

let office: TestOffice;
let builder: Client;
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Nothing' });
});
afterAll(() => office.close());

const deep = (levels: number): unknown => {
  let made: unknown = { kind: 'all', of: [] };
  for (let n = 0; n < levels; n++) made = { kind: 'all', of: [made] };
  return made;
};

/** Values that programs and people send where something else belongs. */
const nasty = fc.oneof(
  {
    weight: 3,
    arbitrary: fc.constantFrom<unknown>(
      '',
      'abc',
      '\u0000',
      'a\u0000b',
      '\ud800',
      "'; DROP TABLE x; --",
      '{{',
      '../../etc',
      'nonesuch:1',
      '1'.repeat(400),
      'NaN',
      '%00',
      '💥'.repeat(50),
    ),
  },
  {
    weight: 3,
    arbitrary: fc.constantFrom<unknown>(0, -1, 1, 2 ** 31, 2 ** 53, 9e15, 1.5, -0, Number.MAX_VALUE),
  },
  {
    weight: 2,
    arbitrary: fc.constantFrom<unknown>(
      null,
      true,
      false,
      [],
      {},
      [[]],
      { toString: 1 },
      { __proto__: null },
      [null],
      deep(150),
      { a: deep(100) },
    ),
  },
  { weight: 1, arbitrary: fc.jsonValue({ maxDepth: 3 }) },
);
const IDS = [
  '1',
  '0',
  '-1',
  'abc',
  '9'.repeat(30),
  '%00',
  '%ED%A0%80',
  '1e3',
  '..%2f',
  "1'--",
  'quay_berths',
  'quay_nothing',
  'quay_check_in',
  'arrival',
  'quay',
  'number',
  'gone',
];

/** The names that a contract's schema has at its first level, so that what is sent gets past it now and then. */
function namesIn(schema: z.ZodType): string[] {
  try {
    const json = z.toJSONSchema(schema, { unrepresentable: 'any', io: 'input' }) as {
      properties?: object;
      anyOf?: { properties?: object }[];
    };
    return [
      ...Object.keys(json.properties ?? {}),
      ...(json.anyOf ?? []).flatMap((one) => Object.keys(one.properties ?? {})),
    ];
  } catch {
    return [];
  }
}

const someOf = (names: readonly string[]): fc.Arbitrary<Record<string, unknown>> =>
  names.length === 0 ? fc.constant({}) : fc.dictionary(fc.constantFrom(...names), nasty, { maxKeys: names.length });

const address = (one: Contract): fc.Arbitrary<string> =>
  fc.array(fc.constantFrom(...IDS), { minLength: 6, maxLength: 6 }).map((ids) => {
    let n = 0;
    const own: Record<string, string> = {
      cabinet: 'quay',
      table: 'quay_berths',
      form: 'quay_check_in',
      slug: 'arrival',
    };
    // The first part of an address mostly names something that is there: what comes after it is tried then.
    return one.path.replaceAll(/\{(\w+)\}/g, (_all, name: string) =>
      own[name] !== undefined && n++ % 3 !== 2 ? own[name] : (ids[n++ % ids.length] ?? '1'),
    );
  });

/** Requests to each route; FICHE_RUNS for more. */
const RUNS = Number(process.env.FICHE_RUNS ?? 12);

const inAddress = (value: unknown): string =>
  (typeof value === 'string' ? value : (JSON.stringify(value) ?? '')).replace(/[\ud800-\udfff]/g, '');

/** What ends the session or reads everything there is has its own tests. */
const LEFT_OUT = new Set([
  'DELETE /api/session',
  'DELETE /api/account/sessions',
  'DELETE /api/account/sessions/{session}',
  'POST /api/cabinets/{cabinet}/verifications',
  // Streams that never end: the first takes nothing in, the second is tried below with what it refuses.
  'GET /api/events',
  'GET /api/tables/{table}/records/{id}/events',
  'GET /api/tables/{table}/events',
]);

/** An answer that takes so long was held up by what was sent: a busy machine alone takes less. */
const HELD_UP_MS = 30_000;
/** What begins a thread takes as long as the thread takes to load the program: it is tried less often. */
const BEGINS_THREAD = new Set(['POST /api/forms/{form}/draft/replay']);

/** What one route archived, the next ones find in use again. */
async function restoreAll(): Promise<void> {
  const { owner } = office.database.databases;
  await asActor(owner, { name: 'harbourmaster', through: { kind: 'tables', label: 'Tables' } }, async (transaction) => {
    for (const table of ['cabinet', '"table"', 'form'])
      await transaction.raw(`UPDATE fiche.${table} SET archived_at = NULL WHERE archived_at IS NOT NULL`);
    // The server reads definitions again when a cabinet's revision moves.
    await transaction.raw('UPDATE fiche.cabinet SET revision = revision + 1');
  });
}

test('bad input of every kind, on every route, is refused and never breaks or holds up the server', async () => {
  const contracts = contractsOf(office.app).filter((one) => !LEFT_OUT.has(`${one.method} ${one.path}`));
  const broken: string[] = [];
  for (const one of contracts) {
    const sends = one.method !== 'GET' && one.method !== 'DELETE';
    const requests = fc.tuple(address(one), someOf(namesIn(one.query)), someOf(namesIn(one.body)), nasty, fc.nat(4));
    const threaded = BEGINS_THREAD.has(`${one.method} ${one.path}`);
    for (const [path, query, body, other, pick] of fc.sample(requests, threaded ? 2 : RUNS)) {
      const asked = Object.entries(query).map(([key, value]) => `${key}=${encodeURIComponent(inAddress(value))}`);
      const url = `${path}${asked.length > 0 ? `?${asked.join('&')}` : ''}`;
      const begun = performance.now();
      const key = `bad-input-${Math.floor(begun * 1_000)}`;
      const sent = pick === 0 ? other : body;
      const { status } = await builder.call(one.method, url, sends ? sent : undefined, { 'idempotency-key': key });
      if (status >= 500 || performance.now() - begun > HELD_UP_MS)
        broken.push(`${status} ${one.method} ${url.slice(0, 300)} ${JSON.stringify(sent)?.slice(0, 300)}`);
    }
    if (sends) await restoreAll();
  }
  expect(broken).toEqual([]);
}, 300_000);

test.each([
  ['GET', '/api/tables/quay_berths/records/abc/history'],
  ['GET', '/api/tables/quay_berths/records/abc/linking'],
  ['GET', '/api/tables/quay_berths/records/%00'],
  ['GET', '/api/tables/quay_berths/records/99999999999999999999'],
  ['GET', '/api/tables/quay_berths/records/abc/events?version=1'],
  ['GET', '/api/tables/quay_nothing/records/1/events?version=1'],
] as const)('%s %s is not there', async (method, url) => {
  expect((await builder.call(method, url)).status).toBe(404);
});

test.each(['', '?version=', '?version=abc', '?version=1.5', '?version=-1', `?version=${'9'.repeat(400)}`])(
  'the events of a record are not opened with %s',
  async (query) => {
    const { status } = await builder.call('GET', `/api/tables/quay_berths/records/1/events${query}`);
    expect(status).toBe(422);
  },
);

test.each([
  [{ values: { harbour: 1, note: 'a\u0000b' } }, 'values.note'],
  [{ values: { harbour: 1, note: '\ud800' } }, 'values.note'],
  [{ values: { harbour: { toString: 1 } } }, 'harbour'],
  [{ values: { harbour: [1] } }, 'harbour'],
] as const)('an entry with %j is refused at its place', async (body, path) => {
  const answer = await builder.call('POST', '/api/forms/quay_check_in/entries', body, {
    'idempotency-key': 'bad-entry-1',
  });
  expect(answer, JSON.stringify(answer.body)).toMatchObject({ status: 422 });
  expect(answer.body.errors[0].path).toBe(path);
});

test('records that link to nothing known are none, and a table without fields answers', async () => {
  expect((await builder.call('GET', '/api/tables/quay_berths/records?linking=nonesuch:1')).status).toBe(422);
  expect((await builder.call('GET', '/api/tables/quay_nothing/records')).status).toBe(200);
  expect((await builder.call('GET', '/api/tables/quay_nothing/records?search=x')).status).toBe(200);
});

test('a condition 5,000 deep is refused, and a number that is infinite', async () => {
  const condition = `${'{"kind":"all","of":['.repeat(5_000)}${']}'.repeat(5_000)}`;
  const body = `{"rule":{"id":"r","kind":"stop","when":null,"must":${condition},"at":null,"message":"m"}}`;
  expect((await builder.call('POST', '/api/forms/quay_check_in/trial', body)).status).toBe(422);
  const infinite = '{"values":{"harbour":1,"length":1e400}}';
  const answer = await builder.call('POST', '/api/forms/quay_check_in/entries', infinite, {
    'idempotency-key': 'infinite-1',
  });
  expect(answer.status).toBe(422);
});

test('nesting is measured without recursion', () => {
  expect(unsoundPart(deep(100_000))).toMatchObject({ rule: 'depth' });
  expect(unsoundPart({ a: [{ b: 'fine' }] })).toBeUndefined();
});
