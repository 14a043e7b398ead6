import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import { placeLines } from '@fiche/core/forms';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { loadDefinitions } from '../definitions/index.ts';
import { PASSWORD, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let server: { process: ChildProcess; url: string } | undefined;

beforeAll(async () => {
  office = await testOffice();
  const builder = await office.signIn('harbourmaster');
  const { body } = await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Crew' });
  for (const field of [
    { label: 'Stay', type: 'link', settings: { table: 'quay_stays' }, required: true },
    { label: 'Name', type: 'text', required: true },
  ])
    await builder.call('POST', `/api/tables/${body.id}/fields`, { field });
  const form = await builder.call('POST', '/api/cabinets/quay/forms', { table: 'quay_stays', label: 'Manifest' });
  const { body: draft } = await builder.call('GET', `/api/forms/${form.body.id}/draft`);
  const crew = (await loadDefinitions(office.services.databases.app)).tables.get('quay_crew');
  if (!crew) throw new Error('no table');
  const [section] = draft.definition.sections;
  const definition = {
    ...draft.definition,
    sections: [{ ...section, items: [...section.items, placeLines(crew, 'stay', new Set())] }],
  };
  const saved = await builder.call('PUT', `/api/forms/${form.body.id}/draft`, { definition, revision: draft.revision });
  await builder.call('POST', `/api/forms/${form.body.id}/publish`, { revision: saved.body.revision });
});
afterAll(async () => {
  server?.process.kill('SIGKILL');
  await office.close();
});

/** Starts a server of its own on the test’s database, and signs in. */
async function start(): Promise<{ send(path: string, body: object, key: string): Promise<Response> }> {
  const root = fileURLToPath(new URL('../../../', import.meta.url));
  const child = spawn(process.execPath, ['--import', 'tsx', 'server/src/main.ts'], {
    cwd: root,
    env: { ...process.env, DATABASE_URL: office.database.ownerUrl, PORT: '0', HOST: '127.0.0.1' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const url = await new Promise<string>((resolve, reject) => {
    let said = '';
    child.stdout?.on('data', (data: Buffer) => {
      said += data;
      const found = /http:\/\/[\d.]+:\d+/.exec(said)?.[0];
      if (found) resolve(found);
    });
    child.on('exit', () => reject(new Error(`The server ended: ${said}`)));
  });
  server = { process: child, url };
  const session = await fetch(`${url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ login: 'quayclerk', password: PASSWORD }),
  });
  const cookie = session.headers
    .getSetCookie()
    .map((one) => one.split(';')[0])
    .join('; ');
  const { csrf } = (await session.json()) as { csrf: string };
  return {
    send: (path, body, key) =>
      fetch(`${url}${path}`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', cookie, 'x-fiche-csrf': csrf, 'idempotency-key': key },
        body: JSON.stringify(body),
      }),
  };
}

test('a server killed between request and answer: what was acknowledged is there, whole, and sent again comes once', async () => {
  const entries = Array.from({ length: 60 }, (_, n) => ({
    key: `killed-${n}-entry`,
    body: {
      values: { harbour: 1, note: `entry ${n}` },
      lines: { crew: [1, 2, 3].map((one) => ({ key: `l${one}`, values: { name: `hand ${n}-${one}` } })) },
    },
  }));
  const first = await start();
  const acknowledged = new Set<number>();
  const sending = entries.map(async ({ key, body }, n) => {
    const answer = await first.send('/api/forms/quay_manifest/entries', body, key).catch(() => undefined);
    if (answer?.status !== 200) return;
    acknowledged.add(n);
    if (acknowledged.size === 8) server?.process.kill('SIGKILL');
  });
  await Promise.all(sending);
  if (server?.process.exitCode === null && server.process.signalCode === null) await once(server.process, 'exit');
  expect(acknowledged.size).toBeGreaterThanOrEqual(8);
  expect(acknowledged.size).toBeLessThan(entries.length);

  const { owner } = office.services.databases;
  const there = async () => {
    const stays = await owner('data.quay_stays').whereLike('note', 'entry %').select('id', 'note');
    const crew = await owner('data.quay_crew').select('stay', 'name');
    return { stays, crew };
  };
  // Nothing of an entry without the whole of it.
  const after = await there();
  for (const n of acknowledged) expect(after.stays.map((one) => one.note)).toContain(`entry ${n}`);
  for (const stay of after.stays) expect(after.crew.filter((one) => one.stay === stay.id)).toHaveLength(3);

  const second = await start();
  for (const { key, body } of entries)
    expect((await second.send('/api/forms/quay_manifest/entries', body, key)).status).toBe(200);
  const whole = await there();
  expect(whole.stays).toHaveLength(entries.length);
  expect(new Set(whole.stays.map((one) => one.note)).size).toBe(entries.length);
  expect(whole.crew).toHaveLength(3 * entries.length);
}, 60_000);
