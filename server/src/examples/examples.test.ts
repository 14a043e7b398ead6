import { randomUUID } from 'node:crypto';
import { TOTP } from 'otpauth';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { contractsOf } from '../access/index.ts';
import { offerFirstKey } from '../accounts/index.ts';
import { buildApp } from '../app.ts';
import { freshDatabase } from '../fixtures/database.ts';
import { type Answer, type Client, PASSWORD, type TestOffice, testOffice } from '../fixtures/office.ts';
import { sealLedger } from '../history/index.ts';
import { createServices } from '../work.ts';
import { type Example, exampleOf, FIRST_EXAMPLES, STORY } from './index.ts';

let office: TestOffice;
const clients = new Map<string, Client>();
/** What words such as `<link>` stand for, out of the answers so far. */
const kept = new Map<string, string | number>();

beforeAll(async () => {
  office = await testOffice();
  clients.set('nobody', office.anonymous);
  // A session beside the one that works, to be ended.
  await office.signIn('harbourmaster');
  clients.set('harbourmaster', await office.signIn('harbourmaster'));
  // A public answer without the proofs of a browser is held, so that there is one to release.
  Object.assign(office.services, { leastSeconds: 3 });
});
afterAll(() => office.close());

/** Puts what was kept in place of the words that stand for it, at any depth. */
function filled<T>(value: T): T {
  if (typeof value === 'string' && kept.has(value)) return kept.get(value) as T;
  if (Array.isArray(value)) return value.map(filled) as T;
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, filled(one)])) as T;
}

function urlOf({ route, query }: Example, params: Readonly<Record<string, string | number>>): string {
  const path = (route.split(' ')[1] ?? '').replaceAll(/\{(\w+)\}/g, (_all, name) =>
    encodeURIComponent(String(filled(params[name] ?? name))),
  );
  const asked = new URLSearchParams(Object.entries(query ?? {}).map(([name, value]) => [name, String(value)]));
  return query ? `${path}?${asked}` : path;
}

async function sendExample(client: Client, example: Example): Promise<Answer> {
  const params = { ...exampleOf(example.route)?.params, ...example.params };
  const method = example.route.split(' ')[0] as Parameters<Client['call']>[0];
  const url = urlOf(example, params);
  const headers = { 'idempotency-key': randomUUID() };
  return example.file === undefined
    ? client.call(method, url, filled(example.body), headers)
    : client.send(url, Buffer.from(filled(example.file), 'latin1'), headers);
}

const partOf = (body: unknown, path: string): unknown =>
  path.split('.').reduce((value, step) => (value as Record<string, unknown> | undefined)?.[step], body);

/** What the story needs beside the answers. */
const BESIDE: Readonly<Record<string, () => Promise<void> | void>> = {
  // A file is named by its id and its name; its address has the id.
  'GET /api/tables/{table}/files/{file}': () => {
    kept.set('<stored file>', String(kept.get('<file>')).split('/')[0] ?? '');
  },
  // The secret part of a private address stands at its end.
  'GET /api/calendars/{token}': () => {
    kept.set('<calendar secret>', String(kept.get('<calendar address>')).split('/').at(-1) ?? '');
  },
  'PUT /api/account/second-factor': () => {
    kept.set('<code>', new TOTP({ secret: String(kept.get('<secret>')) }).generate());
  },
  'POST /api/cabinets/{cabinet}/cabinet-file': async () => {
    const login = { login: 'harbourmaster', password: PASSWORD };
    const session = await office.app.inject({ method: 'POST', url: '/api/session', payload: login });
    const cookie = session.cookies.map((one) => `${one.name}=${one.value}`).join('; ');
    const { rawPayload } = await office.app.inject({ url: '/api/cabinets/quay/export', headers: { cookie } });
    kept.set('<cabinet file>', rawPayload.toString('latin1'));
  },
  // A seal waits for every transaction that is running in the cluster.
  'GET /api/cabinets/{cabinet}/ledger/receipt': async () => {
    const { app, owner } = office.database.databases;
    const seals = async (): Promise<number> => {
      await sealLedger(app, '0 s');
      return Number((await owner.raw('SELECT count(*) FROM ledger.seal')).rows[0].count);
    };
    await expect.poll(seals, { timeout: 30_000 }).toBeGreaterThan(0);
  },
  // A notice that was kept while there was no mail server; there is one now.
  'POST /api/cabinets/{cabinet}/messages/{message}/retry': async () => {
    const { rows } = await office.database.databases.owner.raw(
      "INSERT INTO fiche.message (cabinet, kind, address, subject, body, state) VALUES ('quay', 'notices', 'a@gannet.example', 's', 'b', 'kept') RETURNING id",
    );
    kept.set('<message>', rows[0].id);
    const server = { url: 'smtp://127.0.0.1:1', from: 'office@gannet.example' };
    Object.assign(office.services.mail, { server });
  },
};

test('every route has an example', () => {
  const missing = contractsOf(office.app)
    .map((one) => `${one.method} ${one.path}`)
    .filter((route) => exampleOf(route) === undefined);
  expect(missing).toEqual([]);
});

test('every example is answered, one after another', async () => {
  for (const [at, example] of STORY.entries()) {
    const client = clients.get(example.by ?? 'harbourmaster');
    if (!client) throw new Error(`Nobody signs in as ${example.by}`);
    await BESIDE[example.route]?.();
    const { status, body } = await sendExample(client, example);
    await office.services.tasks.idle();
    expect(status, `${at}: ${example.route}: ${JSON.stringify(body)?.slice(0, 400)}`).toBe(200);
    for (const [words, path] of Object.entries(example.keeps ?? {})) {
      const value = partOf(body, path);
      expect(value, `${path} of the answer of ${example.route}`).toBeDefined();
      kept.set(words, value as string | number);
    }
  }
});

test('so is that of the first administrator, in an office that has none', async () => {
  const database = await freshDatabase();
  const app = await buildApp({ services: createServices(database.databases, { checkAnswers: true }) });
  kept.set('<first key>', await offerFirstKey(database.databases.owner));
  for (const { body } of FIRST_EXAMPLES) {
    const reply = await app.inject({
      method: 'POST',
      url: '/api/first-administrator',
      payload: filled(body) as object,
    });
    expect(reply.statusCode, reply.body).toBe(200);
  }
  await app.close();
  await database.drop();
});

test('the description of the interface shows them', async () => {
  const { body } = await office.anonymous.call('GET', '/api/openapi.json');
  const entries = body.paths['/api/tables/{table}/entries'].post;
  expect(entries.requestBody.content['application/json'].example).toEqual(
    exampleOf('POST /api/tables/{table}/entries')?.body,
  );
  expect(entries.parameters[0]).toMatchObject({ name: 'table', example: 'quay_stays' });
  const records = body.paths['/api/tables/{table}/records'].get;
  expect(records.parameters).toContainEqual(expect.objectContaining({ name: 'search', example: 'gs-0421' }));
  const imports = body.paths['/api/cabinets/{cabinet}/imports'].post;
  expect(Object.keys(imports.requestBody.content)).toEqual(['application/octet-stream']);
});
