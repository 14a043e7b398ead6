import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { buildApp } from '../app.ts';
import { freshDatabase, type TestDatabase } from '../fixtures/database.ts';
import { PASSWORD, type TestOffice, testOffice } from '../fixtures/office.ts';
import { createServices } from '../work.ts';
import { addAccount, lacksAdministrator, makeFirstAdministrator, offerFirstKey, SAMPLE_PASSWORD } from './index.ts';

describe('the first administrator', () => {
  let database: TestDatabase;
  beforeAll(async () => {
    database = await freshDatabase();
  });
  afterAll(() => database.drop());
  const office = { timeZone: 'Atlantic/Azores', locale: 'pt-PT', currency: 'EUR' };
  const first = {
    login: 'ailsa',
    displayName: 'Ailsa',
    password: 'a long enough word',
    cabinet: 'Slipway',
    office,
  };

  test('is made once, with a key that was offered within the hour', async () => {
    const { owner } = database.databases;
    expect(await lacksAdministrator(owner)).toBe(true);
    const [old, token] = [await offerFirstKey(owner), await offerFirstKey(owner)];
    await owner.raw(
      `UPDATE fiche.first_key SET expires_at = now() - interval '1 second' WHERE token_hash = encode(sha256(?::bytea), 'hex')`,
      [old],
    );
    await expect(makeFirstAdministrator(owner, { ...first, token: old })).rejects.toThrow('used up or too old');
    await expect(makeFirstAdministrator(owner, { ...first, token: 'guessed' })).rejects.toThrow('used up or too old');
    for (const [password, words] of [
      ['short', 'at least 10'],
      [SAMPLE_PASSWORD, 'sample office'],
      ['ailsa-and-more', 'without the login'],
    ] as const)
      await expect(makeFirstAdministrator(owner, { ...first, token, password })).rejects.toThrow(words);
    const both = await Promise.allSettled([
      makeFirstAdministrator(owner, { ...first, token }),
      makeFirstAdministrator(owner, { ...first, login: 'other', cabinet: 'Other', token }),
    ]);
    expect(both.filter((one) => one.status === 'fulfilled')).toHaveLength(1);
    expect(await lacksAdministrator(owner)).toBe(false);
    await expect(
      makeFirstAdministrator(owner, { ...first, login: 'third', token: await offerFirstKey(owner) }),
    ).rejects.toThrow('used up');
  });

  test('signs in to a cabinet in which everything may be done', async () => {
    const services = createServices(database.databases, { checkAnswers: true });
    const app = await buildApp({ services });
    const answer = await app.inject({
      method: 'POST',
      url: '/api/session',
      payload: { login: 'ailsa', password: first.password },
    });
    expect(answer.json()).toMatchObject({
      login: 'ailsa',
      samples: [],
      cabinets: [{ label: 'Slipway', role: 'Builder' }],
    });
    await app.close();
    await services.tasks.stop();
  });

  test('the sample office’s password opens nothing outside it', async () => {
    const { owner } = database.databases;
    await owner.transaction(async (transaction) => {
      await transaction.raw(`SELECT set_config('fiche.actor', 'test', true)`);
      await addAccount(transaction, 'quayclerk', 'Quay clerk', SAMPLE_PASSWORD);
    });
    for (const [sample, status] of [
      [false, 401],
      [true, 200],
    ] as const) {
      const services = createServices(database.databases, { sample });
      const app = await buildApp({ services });
      const answer = await app.inject({
        method: 'POST',
        url: '/api/session',
        payload: { login: 'quayclerk', password: SAMPLE_PASSWORD },
      });
      expect(answer.statusCode).toBe(status);
      await app.close();
      await services.tasks.stop();
    }
  });
});

describe('tries to sign in', () => {
  let office: TestOffice;
  beforeAll(async () => {
    office = await testOffice();
  });
  afterAll(() => office.close());
  const from = async (address: string, login: string, password: string, headers: Record<string, string> = {}) => {
    const reply = await office.app.inject({
      method: 'POST',
      url: '/api/session',
      payload: { login, password },
      remoteAddress: address,
      headers,
    });
    return reply.statusCode;
  };

  test('are limited for an account from one address, whatever X-Forwarded-For is invented', async () => {
    for (let n = 0; n < 8; n++)
      expect(await from('10.0.0.1', 'auditor', 'guess', { 'x-forwarded-for': `1.2.3.${n}` })).toBe(401);
    expect(await from('10.0.0.1', 'auditor', PASSWORD, { 'x-forwarded-for': '9.9.9.9' })).toBe(429);
    expect(await from('10.0.0.2', 'auditor', PASSWORD)).toBe(200);
  });

  test('are limited from one address over all accounts, right ones not counted', async () => {
    for (let n = 0; n < 45; n++) await from('10.0.0.3', `nobody${n}`, 'guess');
    expect(await from('10.0.0.3', 'quayclerk', PASSWORD)).toBe(429);
    for (let n = 0; n < 45; n++) expect(await from('10.0.0.4', 'quayclerk', PASSWORD)).toBe(200);
  });

  test('of one account from everywhere leave each address few, and do not refuse the right password', async () => {
    for (let n = 0; n < 70; n++) await from(`10.0.1.${n}`, 'harbourmaster', 'guess');
    expect(await from('10.0.2.1', 'harbourmaster', PASSWORD)).toBe(200);
    for (let n = 0; n < 2; n++) expect(await from('10.0.2.2', 'harbourmaster', 'guess')).toBe(401);
    expect(await from('10.0.2.2', 'harbourmaster', 'guess')).toBe(429);
  });

  test('behind proxies the address is the one that the nearest trusted proxy saw', async () => {
    const app = await buildApp({ services: office.services, proxies: 1 });
    const reply = (forwarded: string) =>
      app.inject({
        method: 'POST',
        url: '/api/session',
        payload: { login: 'stranger', password: 'guess' },
        remoteAddress: '127.0.0.1',
        headers: { 'x-forwarded-for': forwarded },
      });
    for (let n = 0; n < 8; n++) expect((await reply(`6.6.6.${n}, 10.9.9.9`)).statusCode).toBe(401);
    expect((await reply('7.7.7.7, 10.9.9.9')).statusCode).toBe(429);
    expect((await reply('7.7.7.7, 10.9.9.8')).statusCode).toBe(401);
    await app.close();
  });
});
