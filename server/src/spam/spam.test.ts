import { createHash } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { buildApp } from '../app.ts';
import { type TestOffice, testOffice } from '../fixtures/office.ts';
import { beginToken } from '../forms/index.ts';
import { createServices } from '../work.ts';
import { WORK_BITS, workIsDone } from './index.ts';

let office: TestOffice;
let app: Awaited<ReturnType<typeof buildApp>>;
let keys = 0;
beforeAll(async () => {
  office = await testOffice();
  app = await buildApp({
    services: createServices(office.database.databases, { leastSeconds: 3, checkAnswers: true }),
  });
});
afterAll(async () => {
  await app.close();
  await office.close();
});

/** The work that a browser finds. */
function workFor(token: string): string {
  for (let n = 0; ; n++) if (workIsDone(token, n.toString(36))) return n.toString(36);
}
const opened = (secondsAgo: number) =>
  beginToken(office.database.databases.app, 'quay_arrival', 1, Date.now() - secondsAgo * 1_000);

async function send(
  token: string | undefined,
  page: object | undefined,
  values: object = { harbour: 1 },
  key = `spam-test-${++keys}`,
) {
  const reply = await app.inject({
    method: 'POST',
    url: '/api/public/arrival/entries',
    headers: { 'idempotency-key': key, ...(token === undefined ? {} : { 'x-fiche-begun': token }) },
    payload: { values, ...(page ? { page } : {}) },
  });
  return { status: reply.statusCode, body: reply.json() };
}
const held = (reference: string) => /^H-\d+$/.test(reference);
const waiting = async () =>
  (await (await office.signIn('quayclerk')).call('GET', '/api/forms/quay_arrival/held')).body.answers;

test('a person’s answer is saved, and the page says what work its browser does', async () => {
  const page = await app.inject({ method: 'GET', url: '/api/public/arrival' });
  expect(page.json()).toMatchObject({ workBits: WORK_BITS, begun: expect.any(String) });
  const token = await opened(10);
  const answer = await send(token, { work: workFor(token) });
  expect([answer.status, held(answer.body.reference)]).toEqual([200, false]);
});

test('what looks like spam is held with the reason, and what cannot be saved is refused as ever', async () => {
  const [token, early] = [await opened(10), await opened(1)];
  const good = workFor(token);
  for (const [sent, page, why] of [
    [token, { trap: 'https://gulls.example', work: good }, 'people do not see'],
    [undefined, { work: good }, 'without the page having been opened'],
    [`${token}x`, { work: good }, 'without the page having been opened'],
    [early, { work: workFor(early) }, 'people need 3 s at least'],
    [token, { work: 'none' }, 'small calculation'],
    [token, undefined, 'small calculation'],
    [await opened(80 * 3_600), {}, 'hours before it was sent'],
  ] as const) {
    const answer = await send(sent, page);
    expect([answer.status, held(answer.body.reference)], why).toEqual([200, true]);
    expect((await waiting())[0].why).toContain(why);
  }
  expect((await send(token, { trap: 'x' }, { harbour: 99 })).status).toBe(422);
});

test('two who open the page in the same second have an opening each', async () => {
  const now = Date.now() - 10_000;
  const tokens = await Promise.all([1, 2].map(() => beginToken(office.database.databases.app, 'quay_arrival', 1, now)));
  for (const token of tokens) {
    const references: string[] = [];
    for (let n = 0; n < 5; n++) references.push((await send(token, { work: workFor(token) })).body.reference);
    expect(references.map(held)).toEqual([false, false, false, false, false]);
  }
});

test('one opening of the page is good for a few answers, and the same answer is held once', async () => {
  const token = await opened(10);
  const work = workFor(token);
  const references: string[] = [];
  for (let n = 0; n < 7; n++) references.push((await send(token, { work })).body.reference);
  expect(references.map(held)).toEqual([false, false, false, false, false, true, true]);
  const [first, again] = [
    await send(undefined, {}, { harbour: 1 }, 'spam-twice-1'),
    await send(undefined, {}, { harbour: 1 }, 'spam-twice-1'),
  ];
  expect(again.body).toEqual(first.body);
});

test('a person releases it, as its page would have saved it, or discards it, once, with a reason', async () => {
  const clerk = await office.signIn('quayclerk');
  await send(undefined, {}, { harbour: 2, note: 'real after all' });
  await send(undefined, {}, { harbour: 1, note: 'buy gulls' });
  const [spam, real] = await waiting();
  const decide = (id: number, decision: string, reason: string) =>
    clerk.call('POST', `/api/forms/quay_arrival/held/${id}`, { decision, reason });
  expect((await decide(real.id, 'release', ' ')).status).toBe(422);
  const released = await decide(real.id, 'release', 'called back');
  expect(released.body.reference).toMatch(/^STAY-/);
  expect((await decide(spam.id, 'discard', 'advertising')).status).toBe(200);
  expect((await decide(spam.id, 'release', 'again')).body.detail).toContain(
    'quayclerk has discarded this answer already',
  );
  expect(
    (await office.signIn('auditor').then((auditor) => auditor.call('GET', '/api/forms/quay_arrival/held'))).status,
  ).toBe(403);
  const { rows } = await office.database.databases.owner.raw(
    `SELECT s.note, l.account, l.through FROM data.quay_stays s JOIN ledger.line l ON l.place = 'data.quay_stays' AND l.record = s.id::text WHERE s.note IN ('real after all', 'buy gulls')`,
  );
  expect(rows).toEqual([
    {
      note: 'real after all',
      account: 'page:arrival',
      through: expect.objectContaining({ reason: 'released by quayclerk: called back' }),
    },
  ]);
});

test('the work is hard to fake', () => {
  const token = 'token';
  const bits = (work: string) => createHash('sha256').update(`${token}:${work}`).digest();
  expect(bits(workFor(token)).readUInt16BE(0) >> (16 - WORK_BITS)).toBe(0);
});
