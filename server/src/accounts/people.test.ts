import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { addMembership } from '../accounts/index.ts';
import { asActor } from '../database/index.ts';
import { addRole } from '../definitions/index.ts';
import { type Client, clerkRole, type TestOffice, testOffice } from '../fixtures/office.ts';
import { deviceOf } from './sessions.ts';

let office: TestOffice;
let master: Client;
let clerk: Client;
beforeAll(async () => {
  office = await testOffice();
  [master, clerk] = [await office.signIn('harbourmaster'), await office.signIn('quayclerk')];
});
afterAll(() => office.close());

const people = '/api/cabinets/quay/accounts';
const signIn = (login: string, password: string) => office.anonymous.call('POST', '/api/session', { login, password });
const listed = async (login: string, by = master) =>
  (await by.call('GET', people)).body.people.find((one: { login: string }) => one.login === login);
const invite = (login: string, role = 'clerk', more: object = {}) =>
  master.call('POST', people, { login, displayName: `The ${login}`, role, ...more });
const WORDS = 'a heron on the slipway';
/** Invites somebody and sets their password by the link. */
const join = async (login: string, role = 'clerk'): Promise<void> => {
  const { body } = await invite(login, role);
  expect((await office.anonymous.call('POST', '/api/password', { token: body.token, password: WORDS })).status).toBe(
    200,
  );
};
const asOwner = (work: Parameters<typeof asActor<unknown>>[2]) =>
  asActor(office.database.databases.owner, { name: 'test', through: { kind: 'seed', label: 'test' } }, work);

describe('an invitation', () => {
  test('makes an account that signs in once its link has set a password; the link works once', async () => {
    const made = await invite('ebbclerk', 'clerk', { email: 'ebb@gannet.example' });
    expect(made.body).toMatchObject({ login: 'ebbclerk' });
    expect(await listed('ebbclerk')).toMatchObject({ invited: true, email: 'ebb@gannet.example', role: 'clerk' });
    expect((await signIn('ebbclerk', WORDS)).status).toBe(401);
    const { token } = made.body;
    expect((await office.anonymous.call('POST', '/api/password-link', { token })).body).toEqual({
      login: 'ebbclerk',
      displayName: 'The ebbclerk',
      invited: true,
    });
    for (const [password, words] of [
      ['short', 'at least 10'],
      ['ebbclerk is here', 'without the login'],
      ['Password123', 'common'],
    ]) {
      const { status, body } = await office.anonymous.call('POST', '/api/password', { token, password });
      expect([status, body.errors[0].path]).toEqual([422, 'password']);
      expect(body.errors[0].message).toContain(words);
    }
    const both = await Promise.all(
      [1, 2].map(() => office.anonymous.call('POST', '/api/password', { token, password: WORDS })),
    );
    expect(both.map((one) => one.status).sort()).toEqual([200, 403]);
    const { status, body } = await signIn('ebbclerk', WORDS);
    expect([status, body.cabinets]).toEqual([200, [expect.objectContaining({ id: 'quay', role: 'Clerk' })]]);
    expect(await listed('ebbclerk')).toMatchObject({ invited: false, linkUntil: null });
  });

  test('is refused for a login that is there or ever was, and says so at its field', async () => {
    await join('once');
    await master.call('PATCH', `${people}/once`, { closed: true });
    for (const login of ['quayclerk', 'once', 'stranger']) {
      const { status, body } = await invite(login);
      expect([status, body.errors[0].path]).toEqual([422, 'login']);
    }
    expect((await invite('Up Per')).status).toBe(422);
    expect((await invite('nobody2', 'ghost')).body.errors[0]).toMatchObject({ path: 'role' });
    expect((await invite('nobody3', 'clerk', { email: 'no address' })).body.errors[0]).toMatchObject({ path: 'email' });
  });

  test('a link is worth nothing once another was made, when it is too old, or when it is made up', async () => {
    const first = (await invite('tideclerk')).body.token;
    const second = (await master.call('POST', `${people}/tideclerk/link`, {})).body.token;
    const read = async (token: string) => (await office.anonymous.call('POST', '/api/password-link', { token })).status;
    expect([await read(first), await read('made-up'), await read(second)]).toEqual([403, 403, 200]);
    await office.database.databases.owner.raw(
      `UPDATE fiche.password_link SET expires_at = now() - interval '1 second' WHERE login = 'tideclerk'`,
    );
    expect(await read(second)).toBe(403);
  });
});

describe('a person of the cabinet', () => {
  test('gets another role, at the next request', async () => {
    await join('duskclerk');
    const dusk = await office.signIn('duskclerk', WORDS);
    const tries = async () => (await dusk.call('GET', '/api/cabinets/quay/ledger')).status;
    expect(await tries()).toBe(403);
    await master.call('PATCH', `${people}/duskclerk`, { role: 'auditor' });
    expect(await tries()).toBe(200);
    await master.call('DELETE', `${people}/duskclerk`);
    expect(await tries()).toBe(404);
    expect((await dusk.call('GET', '/api/session')).body).toMatchObject({ login: 'duskclerk', cabinets: [] });
  });

  test('is closed and opened again: sessions end, and the password works again only then', async () => {
    await join('gullclerk');
    const gull = await office.signIn('gullclerk', WORDS);
    await master.call('PATCH', `${people}/gullclerk`, { closed: true });
    expect((await gull.call('GET', '/api/cabinets/quay')).status).toBe(401);
    expect((await signIn('gullclerk', WORDS)).status).toBe(401);
    expect((await master.call('POST', `${people}/gullclerk/link`, {})).status).toBe(409);
    expect(await listed('gullclerk')).toMatchObject({ closed: true });
    await master.call('PATCH', `${people}/gullclerk`, { closed: false });
    expect((await signIn('gullclerk', WORDS)).status).toBe(200);
  });

  test('a reset ends every session, and the former password opens nothing', async () => {
    await join('ternclerk');
    const tern = await office.signIn('ternclerk', WORDS);
    const { token } = (await master.call('POST', `${people}/ternclerk/link`, {})).body;
    expect((await tern.call('GET', '/api/cabinets/quay')).status).toBe(200);
    await office.anonymous.call('POST', '/api/password', { token, password: 'another heron entirely' });
    expect((await tern.call('GET', '/api/cabinets/quay')).status).toBe(401);
    expect([
      (await signIn('ternclerk', WORDS)).status,
      (await signIn('ternclerk', 'another heron entirely')).status,
    ]).toEqual([401, 200]);
  });

  test('the last who manages people cannot be removed, closed or given less, not even by two at once', async () => {
    const refused = (answer: { status: number; body: { detail: string } }) => {
      expect(answer.status).toBe(409);
      expect(answer.body.detail).toContain('Give somebody else');
    };
    refused(await master.call('PATCH', `${people}/harbourmaster`, { role: 'clerk' }));
    refused(await master.call('DELETE', `${people}/harbourmaster`));
    expect((await master.call('PATCH', `${people}/harbourmaster`, { closed: true })).body.detail).toContain('your own');
    // An invited administrator who has not come yet does not count.
    await invite('deputy', 'builder');
    refused(await master.call('DELETE', `${people}/harbourmaster`));
    await master.call('DELETE', `${people}/deputy`);
    await join('second', 'builder');
    const second = await office.signIn('second', WORDS);
    const both = await Promise.all([
      master.call('DELETE', `${people}/second`),
      second.call('DELETE', `${people}/harbourmaster`),
    ]);
    expect(both.map((one) => one.status).filter((status) => status === 200)).toHaveLength(1);
    // Whoever is left brings the other back.
    if (both[0]?.status === 200) await asOwner((owner) => addMembership(owner, 'second', 'quay', 'builder'));
    else await asOwner((owner) => addMembership(owner, 'harbourmaster', 'quay', 'builder'));
    expect((await listed('second')).role).toBe('builder');
  });
});

describe('who manages people', () => {
  test('gives no role that allows more than they may, and touches nobody who may do more', async () => {
    await asOwner((owner) => addRole(owner, 'quay', 'porter', { ...clerkRole(), label: 'Porter', rights: ['people'] }));
    await join('porter', 'porter');
    const porter = await office.signIn('porter', WORDS);
    expect(
      (await porter.call('GET', people)).body.roles.map((one: { id: string; mayGive: boolean }) => [
        one.id,
        one.mayGive,
      ]),
    ).toEqual(
      expect.arrayContaining([
        ['builder', false],
        ['clerk', true],
        ['porter', true],
      ]),
    );
    const body = { login: 'friend', displayName: 'Friend', role: 'builder' };
    expect((await porter.call('POST', people, body)).status).toBe(403);
    expect((await porter.call('PATCH', `${people}/porter`, { role: 'builder' })).status).toBe(403);
    for (const change of [{ role: 'clerk' }, { closed: true }, { displayName: 'Me' }])
      expect((await porter.call('PATCH', `${people}/harbourmaster`, change)).status).toBe(403);
    expect((await porter.call('POST', `${people}/harbourmaster/link`, {})).status).toBe(403);
    expect((await porter.call('DELETE', `${people}/harbourmaster`)).status).toBe(403);
    expect((await porter.call('POST', people, { ...body, role: 'clerk' })).status).toBe(200);
  });

  test('does not get at an account that belongs to a cabinet of others as well', async () => {
    await join('both');
    await asOwner((owner) => addMembership(owner, 'both', 'other', 'builder'));
    expect((await listed('both')).mayManage).toBe(false);
    for (const change of [{ closed: true }, { displayName: 'Mine' }, { email: 'mine@gannet.example' }])
      expect((await master.call('PATCH', `${people}/both`, change)).status).toBe(403);
    expect((await master.call('POST', `${people}/both/link`, {})).status).toBe(403);
    // Their role here is this cabinet's own.
    expect((await master.call('PATCH', `${people}/both`, { role: 'auditor' })).status).toBe(200);
  });

  test('adds people of the other cabinets that they manage, and of no others', async () => {
    const stranger = { login: 'stranger', displayName: 'Stranger' };
    expect((await master.call('GET', people)).body.others).not.toContainEqual(stranger);
    expect((await master.call('PUT', `${people}/stranger`, { role: 'clerk' })).status).toBe(404);
    await asOwner((owner) => addMembership(owner, 'harbourmaster', 'other', 'builder'));
    expect((await master.call('GET', people)).body.others).toContainEqual(stranger);
    expect((await master.call('PUT', `${people}/stranger`, { role: 'clerk' })).status).toBe(200);
    expect((await master.call('PUT', `${people}/stranger`, { role: 'clerk' })).status).toBe(409);
    expect((await listed('stranger')).role).toBe('clerk');
  });

  test('adds somebody again who was removed from their last cabinet', async () => {
    await join('leaver');
    expect((await master.call('DELETE', `${people}/leaver`)).status).toBe(200);
    expect((await master.call('GET', people)).body.others).toContainEqual({
      login: 'leaver',
      displayName: 'The leaver',
    });
    expect((await master.call('PUT', `${people}/leaver`, { role: 'clerk' })).status).toBe(200);
    expect((await listed('leaver')).role).toBe('clerk');
  });

  test('whoever reads the cabinet is told which accounts are closed', async () => {
    await join('sealed');
    await master.call('PATCH', `${people}/sealed`, { closed: true });
    const { accounts } = (await clerk.call('GET', '/api/cabinets/quay')).body;
    const closed = (accounts as { login: string; closed: boolean }[])
      .filter((one) => one.closed)
      .map((one) => one.login);
    expect(closed).toContain('sealed');
    expect(closed).not.toContain('quayclerk');
  });

  test('a clerk sees no list of people with e-mail addresses, and changes nothing', async () => {
    expect((await clerk.call('GET', people)).status).toBe(403);
    expect((await clerk.call('PATCH', `${people}/quayclerk`, { role: 'builder' })).status).toBe(403);
  });
});

describe('one’s own account', () => {
  test('changes its name, e-mail and password; other sessions end, this one goes on', async () => {
    await join('owlclerk');
    const [desk, phone] = [await office.signIn('owlclerk', WORDS), await office.signIn('owlclerk', WORDS)];
    await desk.call('PATCH', '/api/account', { displayName: 'Owl', email: 'owl@gannet.example' });
    const own = (await desk.call('GET', '/api/account')).body;
    expect(own).toMatchObject({ login: 'owlclerk', displayName: 'Owl', email: 'owl@gannet.example' });
    expect(own.sessions.map((one: { current: boolean }) => one.current).sort()).toEqual([false, true]);
    const change = (present: string, password: string) =>
      desk.call('PUT', '/api/account/password', { present, password });
    expect((await change('wrong words', 'a heron by the weir')).body.errors[0]).toMatchObject({ path: 'present' });
    expect((await change(WORDS, 'short')).body.errors[0]).toMatchObject({ path: 'password' });
    expect((await phone.call('GET', '/api/account')).status).toBe(200);
    expect((await change(WORDS, 'a heron by the weir')).status).toBe(200);
    expect([(await phone.call('GET', '/api/account')).status, (await desk.call('GET', '/api/account')).status]).toEqual(
      [401, 200],
    );
  });

  test('ends one session, or all others, and no session of anybody else', async () => {
    await join('elkclerk');
    const [one, two, three] = [
      await office.signIn('elkclerk', WORDS),
      await office.signIn('elkclerk', WORDS),
      await office.signIn('elkclerk', WORDS),
    ];
    const ids = async (client: Client): Promise<{ id: number; current: boolean }[]> =>
      (await client.call('GET', '/api/account')).body.sessions;
    const [newest] = await ids(one);
    expect((await clerk.call('DELETE', `/api/account/sessions/${newest?.id}`)).status).toBe(404);
    expect((await one.call('DELETE', `/api/account/sessions/${newest?.id}`)).status).toBe(200);
    expect((await three.call('GET', '/api/account')).status).toBe(401);
    expect((await two.call('DELETE', '/api/account/sessions')).status).toBe(200);
    expect([(await one.call('GET', '/api/account')).status, await ids(two)]).toEqual([
      401,
      [expect.objectContaining({ current: true })],
    ]);
  });

  test('the password of a session that was left open cannot be guessed for long', async () => {
    await join('mothclerk');
    const moth = await office.signIn('mothclerk', WORDS);
    const tries = async () =>
      (await moth.call('PUT', '/api/account/password', { present: 'a guess', password: 'a heron by the weir' })).status;
    const answers: number[] = [];
    for (let n = 0; n < 10; n++) answers.push(await tries());
    expect(answers.at(-1)).toBe(429);
  });
});

test('where somebody is signed in is said by browser and system', () => {
  const agents = {
    'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0': 'Firefox on Linux',
    'Mozilla/5.0 (iPhone; CPU iPhone OS 18_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.5 Mobile/15E148 Safari/604.1':
      'Safari on iOS',
    nonsense: '',
    '': '',
  };
  for (const [agent, device] of Object.entries(agents)) expect(deviceOf(agent)).toBe(device);
});

test('what was done with people is in the ledger of the cabinet, also for a login with dots, and tells no secret', async () => {
  const { token } = (await invite('e.b.b', 'clerk', { email: 'ebb@gannet.example' })).body;
  await office.anonymous.call('POST', '/api/password', { token, password: WORDS });
  await master.call('PATCH', `${people}/e.b.b`, { role: 'auditor' });
  const { body } = await master.call('GET', '/api/cabinets/quay/ledger?limit=20');
  const lines = (
    body.lines as { what: string; title: string; account: string; changes: { label: string; after: string }[] }[]
  )
    .filter((one) => one.title === 'e.b.b')
    .map((one) => [one.account, one.what, one.changes.map((change) => `${change.label}: ${change.after}`).join(', ')]);
  expect(lines).toEqual([
    ['harbourmaster', 'Role in the cabinet', 'Role: auditor'],
    ['e.b.b', 'Account', 'Password: a new one'],
    ['e.b.b', 'Password link', expect.any(String)],
    ['harbourmaster', 'Password link', expect.stringContaining('Secret: a new one')],
    ['harbourmaster', 'Role in the cabinet', 'Role: clerk'],
    ['harbourmaster', 'Account', 'Display name: The e.b.b, E-mail: ebb@gannet.example'],
  ]);
  await expect(
    (await office.signIn('stranger')).call('GET', '/api/cabinets/other/ledger').then((one) => JSON.stringify(one.body)),
  ).resolves.not.toContain('e.b.b');
});
