import { Secret, TOTP } from 'otpauth';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, PASSWORD, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let clerk: Client;
beforeAll(async () => {
  office = await testOffice();
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

const at = '/api/account/second-factor';
/** The code of a device, so many steps of 30 s from now. */
const codeOf = (secret: string, steps = 0): string =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({ timestamp: Date.now() + steps * 30_000 });
const enter = (code?: string) =>
  office.anonymous.call('POST', '/api/session', {
    login: 'quayclerk',
    password: PASSWORD,
    ...(code === undefined ? {} : { code }),
  });
/** Forgets which codes were used. */
const forgetUsedCodes = () => office.database.databases.owner.raw('UPDATE fiche.second_factor SET last_step = NULL');
/** Resets the limits on tries. */
const forgetTries = () => office.database.databases.owner.raw('DELETE FROM fiche.attempt');

test('a second factor counts once its first code was typed, and then nobody comes in without one', async () => {
  expect((await clerk.call('POST', at, { password: 'a guess' })).body.errors[0]).toMatchObject({ path: 'password' });
  const { secret, uri } = (await clerk.call('POST', at, { password: PASSWORD })).body;
  expect(uri).toBe(new TOTP({ issuer: 'Fiche', label: 'quayclerk', secret: Secret.fromBase32(secret) }).toString());
  expect((await enter()).status).toBe(200);
  expect((await clerk.call('PUT', at, { code: '000000' })).body.errors[0]).toMatchObject({ path: 'code' });
  const { recoveryCodes } = (await clerk.call('PUT', at, { code: codeOf(secret, -1) })).body;
  expect(new Set(recoveryCodes).size).toBe(10);
  expect((await clerk.call('GET', '/api/account')).body.secondFactor).toEqual({
    since: expect.any(String),
    recoveryCodes: 10,
  });
  expect((await clerk.call('POST', at, { password: PASSWORD })).status).toBe(409);

  const asked = await enter();
  expect([asked.status, asked.body.errors[0].path]).toEqual([401, 'code']);
  const code = codeOf(secret);
  const both = await Promise.all([enter(code), enter(` ${code.slice(0, 3)} ${code.slice(3)}`)]);
  expect(both.map((one) => one.status).sort()).toEqual([200, 401]);
  expect((await enter(codeOf(secret, -1))).status).toBe(401);
  expect((await enter(codeOf(secret, 5))).status).toBe(401);
  expect((await enter(String(recoveryCodes[3]).toLowerCase())).status).toBe(200);
  expect((await enter(recoveryCodes[3])).status).toBe(401);
  expect((await clerk.call('GET', '/api/account')).body.secondFactor.recoveryCodes).toBe(9);
});

test('a wrong password does not say whether there is a second factor, and codes cannot be guessed for long', async () => {
  await forgetTries();
  const wrong = await office.anonymous.call('POST', '/api/session', { login: 'quayclerk', password: 'a guess' });
  expect([wrong.status, wrong.body.errors]).toEqual([401, []]);
  const answers: number[] = [];
  for (let n = 0; n < 10; n++) answers.push((await enter('123456')).status);
  expect(answers.at(-1)).toBe(429);
});

test('it is removed with the password, or for somebody who lost it by who manages people; the ledger says both', async () => {
  await Promise.all([forgetTries(), forgetUsedCodes()]);
  const master = await office.signIn('harbourmaster');
  const person = async () =>
    (await master.call('GET', '/api/cabinets/quay/accounts')).body.people.find(
      (one: { login: string }) => one.login === 'quayclerk',
    );
  expect((await person()).secondFactor).toBe(true);
  const theirs = '/api/cabinets/quay/accounts/quayclerk/second-factor';
  expect((await clerk.call('DELETE', theirs)).status).toBe(403);
  expect((await master.call('DELETE', theirs)).status).toBe(200);
  expect((await master.call('DELETE', theirs)).status).toBe(409);
  expect([(await person()).secondFactor, (await enter()).status]).toEqual([false, 200]);

  const { secret } = (await clerk.call('POST', at, { password: PASSWORD })).body;
  await clerk.call('PUT', at, { code: codeOf(secret) });
  expect((await clerk.call('DELETE', at, { password: 'a guess' })).status).toBe(422);
  expect((await clerk.call('DELETE', at, { password: PASSWORD })).status).toBe(200);
  expect((await enter()).status).toBe(200);
  const { lines } = (await master.call('GET', '/api/cabinets/quay/ledger?limit=40')).body;
  const said = (lines as { what: string; account: string; kind: string }[])
    .filter((one) => one.what === 'Second factor' && one.kind === 'erase')
    .map((one) => one.account);
  expect(said).toEqual(['quayclerk', 'harbourmaster']);
  expect(JSON.stringify(lines)).not.toContain(secret);
});
