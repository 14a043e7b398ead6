import { connect, type Socket } from 'node:net';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { buildApp } from '../app.ts';
import { type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let app: Awaited<ReturnType<typeof buildApp>>;
let port: number;
beforeAll(async () => {
  office = await testOffice();
  app = await buildApp({ services: office.services, connections: { most: 50, perAddress: 5 } });
  await app.listen({ port: 0, host: '127.0.0.1' });
  port = (app.server.address() as { port: number }).port;
});
afterAll(async () => {
  await app.close();
  await office.close();
});

const opened = (): Promise<Socket> =>
  new Promise((resolve, reject) => {
    const socket = connect(port, '127.0.0.1', () => resolve(socket));
    socket.on('error', reject);
  });
const ended = (socket: Socket): Promise<void> =>
  new Promise((resolve) => socket.once('close', () => resolve()).resume());

test('one address has so many connections and no more; those that are there go on', async () => {
  const sockets: Socket[] = [];
  for (let n = 0; n < 5; n++) sockets.push(await opened());
  const over = await opened();
  over.on('error', () => undefined);
  await ended(over);
  const [first] = sockets;
  const answer = new Promise<string>((resolve) => first?.once('data', (data) => resolve(String(data))));
  first?.write('GET /api/health HTTP/1.1\r\nHost: x\r\n\r\n');
  expect(await answer).toContain('200 OK');
  for (const socket of sockets) socket.destroy();
});

test('clients may take so long for headers, a body, and for saying nothing', () => {
  expect(app.server.headersTimeout).toBeLessThanOrEqual(15_000);
  expect(app.server.requestTimeout).toBeGreaterThan(app.server.headersTimeout);
  expect(app.server.timeout).toBeGreaterThan(0);
});

test('open records are bounded by session, and end when it ends', async () => {
  const address = `http://127.0.0.1:${port}`;
  const signedIn = await app.inject({
    method: 'POST',
    url: '/api/session',
    payload: { login: 'quayclerk', password: 'tern-cove-17' },
  });
  const cookie = signedIn.cookies.map((one) => `${one.name}=${one.value}`).join('; ');
  const url = `${address}/api/tables/quay_berths/records/1/events?version=1`;
  const stream = await fetch(url, { headers: { cookie } });
  expect(stream.status).toBe(200);
  const reading = (async () => {
    for await (const _chunk of stream.body ?? []) void _chunk;
    return 'ended';
  })();
  await app.inject({
    method: 'DELETE',
    url: '/api/session',
    headers: { cookie, 'x-fiche-csrf': signedIn.json().csrf },
  });
  expect(await reading).toBe('ended');
});

test('a server that ends waits for what is under way, not for a connection that has asked nothing yet', async () => {
  const ending = await buildApp({ services: office.services });
  let answer: () => void = () => undefined;
  const asked = new Promise<void>((resolve) => {
    ending.get('/slow', async () => {
      resolve();
      await new Promise<void>((done) => {
        answer = done;
      });
      return { whole: true };
    });
  });
  await ending.listen({ port: 0, host: '127.0.0.1' });
  const at = (ending.server.address() as { port: number }).port;
  const silent = connect(at, '127.0.0.1');
  await new Promise((resolve) => silent.once('connect', resolve));
  const slow = fetch(`http://127.0.0.1:${at}/slow`);
  await asked;
  const closed = ending.close();
  await ended(silent);
  answer();
  expect(await (await slow).json()).toEqual({ whole: true });
  await closed;
}, 20_000);
