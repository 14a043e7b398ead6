import { afterAll, beforeAll, expect, test } from 'vitest';
import { buildApp } from '../app.ts';
import { asSuperuser } from '../fixtures/database.ts';
import { type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let app: Awaited<ReturnType<typeof buildApp>>;
let address: string;
let cookie: string;
beforeAll(async () => {
  office = await testOffice();
  app = await buildApp({ services: office.services });
  address = await app.listen({ port: 0, host: '127.0.0.1' });
  const signedIn = await app.inject({
    method: 'POST',
    url: '/api/session',
    payload: { login: 'quayclerk', password: 'tern-cove-17' },
  });
  cookie = signedIn.cookies.map((one) => `${one.name}=${one.value}`).join('; ');
});
afterAll(async () => {
  await app.close();
  await office.close();
});

/** Opens a stream of events; gives what it tells, until it ends. */
async function listening(url: string): Promise<{ readonly told: string[]; readonly ended: Promise<void> }> {
  const stream = await fetch(`${address}${url}`, { headers: { cookie } });
  const told: string[] = [];
  const ended = (async () => {
    for await (const chunk of stream.body ?? []) told.push(Buffer.from(chunk).toString());
  })();
  return { told, ended };
}

test('a server that no longer hears the database ends its streams, and pages that come again hear what is saved', async () => {
  const first = await listening('/api/tables/quay_berths/records/1/events?version=1');
  await asSuperuser(
    office.database.superUrl,
    "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'fiche listens' AND datname = current_database()",
  );
  await first.ended;
  const builder = await office.signIn('harbourmaster');
  const { body } = await builder.call('GET', '/api/tables/quay_berths/records/1');
  const again = await listening(`/api/tables/quay_berths/records/1/events?version=${body.version}`);
  await builder.call('POST', '/api/tables/quay_berths/records/1/archive', { version: body.version });
  await expect.poll(() => again.told.join('')).toContain('harbourmaster');
}, 30_000);
