import type { Inbox } from '@fiche/core/api';
import { SMTPServer } from 'smtp-server';
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { addLimitedRoles, addStay } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import type { MailSettings } from '../services.ts';
import { type MailTransport, smtpTransport } from './mailTransport.ts';
import { mailNotices } from './noticeMail.ts';
import { notifyTaskEnded } from './notifying.ts';
import { RETRY_DELAYS, sendDue } from './sending.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
let ranged: Client;
const owner = () => office.database.databases.owner;

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
  ranged = await office.signIn('theranged');
  const field = { label: 'Assigned to', type: 'account' };
  await builder.call('POST', '/api/tables/quay_stays/fields', { field });
});
afterAll(() => office.close());

let keys = 0;
const save = (values: object, more: object = {}, who = clerk) =>
  who.call(
    'POST',
    '/api/tables/quay_stays/entries',
    { values, ...more },
    { 'idempotency-key': `told-${++keys}-000000` },
  );
const add = async (values: object): Promise<number> => (await save(values)).body.record.id;
const change = async (record: number, values: object, who = clerk): Promise<void> => {
  const { body } = await builder.call('GET', `/api/tables/quay_stays/records/${record}`);
  expect((await save(values, { record, version: body.version }, who)).status).toBe(200);
};
const watch = (record: number, who = builder) => who.call('PUT', `/api/tables/quay_stays/records/${record}/watch`, {});
const inboxOf = async (who: Client): Promise<Inbox> => (await who.call('GET', '/api/account/notices')).body;
const seeAll = (who: Client) => who.call('POST', '/api/account/notices/seen', { notices: 'all' });

describe('who watches a record', () => {
  afterEach(() => seeAll(builder));

  test('is told once of all changes since they looked, not of their own', async () => {
    const record = await add({ harbour: 1, note: 'first' });
    expect((await watch(record)).status).toBe(200);
    await change(record, { note: 'second' });
    await change(record, { note: 'third' });
    await change(record, { note: 'mine' }, builder);
    const { notices, unseen } = await inboxOf(builder);
    expect(unseen).toBe(1);
    expect(notices[0]).toMatchObject({ kind: 'changed', by: 'quayclerk', times: 2, record, seen: false });
    await builder.call('POST', '/api/account/notices/seen', { notices: [notices[0]?.id] });
    await change(record, { note: 'fourth' });
    expect((await inboxOf(builder)).notices.slice(0, 2)).toMatchObject([
      { times: 1, seen: false },
      { times: 2, seen: true },
    ]);
    expect((await inboxOf(clerk)).unseen).toBe(0);
  });

  test('hears of changes on every path: archiving, and a session that skips the server', async () => {
    const record = await add({ harbour: 1 });
    await watch(record);
    await clerk.call('POST', `/api/tables/quay_stays/records/${record}/archive`, { version: 1 });
    await seeAll(builder);
    await owner().raw("UPDATE data.quay_stays SET note = 'by hand' WHERE id = ?", [record]);
    expect((await inboxOf(builder)).notices[0]).toMatchObject({ record, by: expect.stringMatching(/^db:/) });
  });

  test('is not told of a change that changes nothing, and not any more once they stop', async () => {
    const record = await add({ harbour: 1, note: 'same' });
    await watch(record);
    await owner().raw("UPDATE data.quay_stays SET note = 'same' WHERE id = ?", [record]);
    await builder.call('DELETE', `/api/tables/quay_stays/records/${record}/watch`);
    await change(record, { note: 'other' });
    expect((await inboxOf(builder)).unseen).toBe(0);
  });

  test('sees in their list and inbox only what their role sees now', async () => {
    const near = await addStay(office, 'harbourmaster', { harbour: 1, note: 'near' });
    const far = await addStay(office, 'harbourmaster', { harbour: 2, note: 'far' });
    expect((await watch(near, ranged)).status).toBe(200);
    expect((await watch(far, ranged)).status).toBe(404);
    await change(near, { note: 'seen' });
    expect((await inboxOf(ranged)).unseen).toBe(1);
    await change(near, { harbour: 2 });
    expect(await inboxOf(ranged)).toMatchObject({ unseen: 0, notices: [] });
    expect((await ranged.call('GET', '/api/account/watches')).body.watches).toEqual([]);
  });

  test('can watch 500 records, and is told which page to go to for one more', async () => {
    await asActor(owner(), { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } }, (write) =>
      write.raw('INSERT INTO data.quay_stays (harbour) SELECT 1 FROM generate_series(1, 501)'),
    );
    await owner().raw(
      "INSERT INTO fiche.watch (table_id, record, login) SELECT 'quay_stays', id, 'auditor' FROM data.quay_stays ORDER BY id DESC LIMIT 500",
    );
    const auditor = await office.signIn('auditor');
    const { status, body } = await watch(1, auditor);
    expect(status).toBe(409);
    expect(body.detail).toContain('page of your account');
    expect((await auditor.call('GET', '/api/account/watches')).body.watches).toHaveLength(500);
  });

  test('a program does not watch', async () => {
    const made = await builder.call('POST', '/api/cabinets/quay/tokens', {
      name: 'watcher',
      role: 'clerk',
      tables: null,
    });
    const { status } = await office.anonymous.call(
      'PUT',
      '/api/tables/quay_stays/records/1/watch',
      {},
      {
        authorization: `Bearer ${made.body.token}`,
      },
    );
    expect(status).toBe(403);
  });
});

describe('the inbox', () => {
  test('has records that are assigned to one, by a save and by an import', async () => {
    const record = await add({ harbour: 1, assigned_to: 'harbourmaster' });
    const received = await builder.send(
      '/api/cabinets/quay/imports?file=stays.csv',
      'Harbour,Assigned to\nGannet Quay,quayclerk\nGannet Quay,quayclerk\nGannet Quay,harbourmaster\n',
    );
    const plan = {
      reading: { kind: 'csv' },
      into: { kind: 'table', table: 'quay_stays' },
      columns: [
        { name: 'Harbour', at: 0, to: { kind: 'field', field: 'harbour' }, matchOn: 'name' },
        { name: 'Assigned to', at: 1, to: { kind: 'field', field: 'assigned_to' } },
      ],
    };
    await builder.call('POST', `/api/cabinets/quay/imports/${received.body.id}/check`, { plan });
    await office.services.tasks.idle();
    await builder.call('POST', `/api/cabinets/quay/imports/${received.body.id}/run`, { rows: 'all' });
    await office.services.tasks.idle();
    expect((await inboxOf(builder)).notices[0]).toMatchObject({ kind: 'assigned', by: 'quayclerk', record });
    expect((await inboxOf(clerk)).notices[0]).toMatchObject({
      kind: 'assigned',
      by: 'harbourmaster',
      times: 2,
      record: null,
      table: { id: 'quay_stays' },
    });
  });

  test('goes on page by page past the thirtieth notice', async () => {
    await owner().raw(
      "INSERT INTO fiche.notice (login, cabinet, kind, by, table_id, at) SELECT 'theblind', 'quay', 'assigned', 'auditor', 'quay_stays', now() - n * interval '1 minute' FROM generate_series(1, 70) n",
    );
    const blind = await office.signIn('theblind');
    const ids = new Set<number>();
    let page = await inboxOf(blind);
    expect(page.unseen).toBe(70);
    for (let pages = 1; ; pages++) {
      for (const { id } of page.notices) ids.add(id);
      if (page.before === null) {
        expect([pages, ids.size]).toEqual([3, 70]);
        break;
      }
      page = (await blind.call('GET', `/api/account/notices?before=${page.before}`)).body;
    }
  });

  test('tells of the end of work that has lasted long, to who began it', async () => {
    await owner().raw(
      `INSERT INTO fiche.task (cabinet, kind, label, plan, account, state, at) VALUES ('quay', 'writeImport', 'Importing vessels.csv', '{}', 'quayclerk', 'done', now() - interval '1 minute'),
         ('quay', 'writeImport', 'Importing quick.csv', '{}', 'quayclerk', 'done', now())`,
    );
    const { rows } = await owner().raw<{ rows: { id: number }[] }>(
      'SELECT id FROM fiche.task ORDER BY id DESC LIMIT 2',
    );
    for (const { id } of rows) await notifyTaskEnded(owner(), id);
    const tasks = (await inboxOf(clerk)).notices.filter((one) => one.kind === 'task');
    expect(tasks).toMatchObject([{ task: { label: 'Importing vessels.csv', state: 'done' } }]);
  });

  test('is one’s own: notices of somebody else stay as they are', async () => {
    const record = await add({ harbour: 1, assigned_to: 'harbourmaster' });
    const [notice] = (await inboxOf(builder)).notices;
    expect(notice?.record).toBe(record);
    await clerk.call('POST', '/api/account/notices/seen', { notices: [notice?.id] });
    expect((await inboxOf(builder)).notices[0]?.seen).toBe(false);
  });

  test('forgets a record that is erased for good', async () => {
    const record = await add({ harbour: 1, assigned_to: 'harbourmaster' });
    await watch(record);
    await builder.call('POST', `/api/tables/quay_stays/records/${record}/archive`, { version: 1 });
    await builder.call('DELETE', `/api/tables/quay_stays/records/${record}`, { version: 2, reason: 'asked for' });
    const { rows } = await owner().raw<{ rows: { n: number }[] }>(
      'SELECT (SELECT count(*) FROM fiche.watch WHERE record = ?) + (SELECT count(*) FROM fiche.notice WHERE record = ?) AS n',
      [record, record],
    );
    expect(rows[0]?.n).toBe(0);
  });
});

/** A mail server on loopback that keeps what it gets, and refuses what `refuse` names. */
async function mailbox() {
  const got: { to: string; text: string }[] = [];
  const refuse = new Map<string, number>();
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onRcptTo({ address }, _session, done) {
      const code = refuse.get(address);
      done(code === undefined ? null : Object.assign(new Error('No such person here'), { responseCode: code }));
    },
    onData(stream, session, done) {
      let text = '';
      stream.on('data', (chunk) => {
        text += chunk;
      });
      stream.on('end', () => {
        const plain = text
          .replaceAll('=\r\n', '')
          .replaceAll(/=([0-9A-F]{2})/g, (_all, hex) => String.fromCharCode(Number.parseInt(hex, 16)));
        got.push({ to: session.envelope.rcptTo[0]?.address ?? '', text: plain });
        done();
      });
    },
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', () => resolve()));
  const { port } = server.server.address() as { port: number };
  const url = `smtp://127.0.0.1:${port}`;
  return { got, refuse, url, close: () => new Promise<void>((resolve) => server.close(() => resolve())) };
}

describe('the outbox', () => {
  let box: Awaited<ReturnType<typeof mailbox>>;
  let transport: MailTransport;
  let settings: MailSettings;
  const outbox = async (query = '', who = builder) =>
    (await who.call('GET', `/api/cabinets/quay/messages${query}`)).body;
  const invite = (login: string, email: string) =>
    builder.call('POST', '/api/cabinets/quay/accounts', { login, displayName: login, role: 'clerk', email });
  const due = () => owner().raw("UPDATE fiche.message SET next_at = now() WHERE state = 'waiting'");

  beforeAll(async () => {
    box = await mailbox();
    settings = {
      server: { url: box.url, from: 'office@gannet.example' },
      publicUrl: 'https://fiche.gannet.example',
    };
    transport = smtpTransport({ url: box.url, from: 'office@gannet.example' });
    Object.assign(office.services.mail, settings);
  });
  afterAll(async () => {
    transport.close();
    await box.close();
  });

  test('sends an invitation with its link, which the outbox and the database do not show', async () => {
    const { body } = await invite('newcomer', 'newcomer@gannet.example');
    expect(body).toMatchObject({ email: 'newcomer@gannet.example', mailed: true });
    const link = `https://fiche.gannet.example/password#${body.token}`;
    expect((await outbox()).messages[0]).toMatchObject({ kind: 'invitation', state: 'waiting', tries: 0 });
    expect(await sendDue(owner(), transport)).toBe(1);
    expect(box.got.at(-1)?.to).toBe('newcomer@gannet.example');
    expect(box.got.at(-1)?.text).toContain(link);
    const [sent] = (await outbox()).messages;
    expect(sent).toMatchObject({ state: 'sent', address: 'newcomer@gannet.example', problem: null });
    expect(sent.body).toContain('only its receiver gets it');
    const { rows } = await owner().raw('SELECT * FROM fiche.message');
    expect(JSON.stringify(rows)).not.toContain(body.token);
    await expect(office.database.databases.app.raw('SELECT secret FROM fiche.message')).rejects.toThrow(/denied/);
  });

  test('a newer link takes the place of one that was not sent yet', async () => {
    const first = await invite('hasty', 'hasty@gannet.example');
    const second = await builder.call('POST', '/api/cabinets/quay/accounts/hasty/link', {});
    await sendDue(owner(), transport);
    expect(box.got.at(-1)?.text).toContain(second.body.token);
    expect(box.got.some((one) => one.text.includes(first.body.token))).toBe(false);
    expect((await outbox()).messages.slice(0, 2)).toMatchObject([
      { state: 'sent' },
      { state: 'failed', problem: expect.stringContaining('newer link') },
    ]);
  });

  test('an address that the mail server refuses for good is given up, with its words', async () => {
    box.refuse.set('nobody@gannet.example', 550);
    await invite('nobodyhere', 'nobody@gannet.example');
    await sendDue(owner(), transport);
    expect((await outbox('?state=failed')).messages[0]).toMatchObject({
      address: 'nobody@gannet.example',
      tries: 1,
      problem: expect.stringMatching(/refused the address: 550 No such person here/),
    });
    const { rows } = await owner().raw("SELECT 1 FROM fiche.message WHERE state = 'failed' AND secret IS NOT NULL");
    expect(rows).toEqual([]);
  });

  test('what fails for a while is tried again after growing pauses, and given up after the last', async () => {
    box.refuse.set('busy@gannet.example', 451);
    await invite('busy', 'busy@gannet.example');
    const waits: number[] = [];
    for (let tries = 1; tries <= RETRY_DELAYS.length; tries++) {
      await due();
      await sendDue(owner(), transport);
      const [one] = (await outbox()).messages;
      expect(one).toMatchObject({ state: 'waiting', tries, problem: expect.stringContaining('451') });
      waits.push(Math.round((Date.parse(one.nextAt) - Date.now()) / 60_000));
    }
    expect(waits).toEqual([...RETRY_DELAYS]);
    await due();
    await sendDue(owner(), transport);
    expect((await outbox()).messages[0]).toMatchObject({ state: 'failed', tries: RETRY_DELAYS.length + 1 });
  });

  test('a mail server that is not there loses nothing: the message waits, and goes when it is back', async () => {
    const gone = smtpTransport({ url: 'smtp://127.0.0.1:1', from: 'office@gannet.example' });
    await invite('patient', 'patient@gannet.example');
    await sendDue(owner(), gone);
    gone.close();
    expect((await outbox()).messages[0]).toMatchObject({
      state: 'waiting',
      problem: expect.stringContaining('cannot be reached'),
    });
    await due();
    await sendDue(owner(), transport);
    expect(box.got.at(-1)?.to).toBe('patient@gannet.example');
  });

  test('two servers send each message once', async () => {
    const before = box.got.length;
    for (let n = 0; n < 25; n++) await invite(`many${n}`, `many${n}@gannet.example`);
    const all = async (): Promise<void> => {
      while ((await sendDue(owner(), transport)) > 0);
    };
    await Promise.all([all(), all(), all()]);
    const to = box.got.slice(before).map((one) => one.to);
    expect([to.length, new Set(to).size]).toEqual([25, 25]);
  });

  test('notices that somebody wants by mail are sent together, about what they see, unless they have looked', async () => {
    await ranged.call('PATCH', '/api/account', { email: 'ranged@gannet.example', mailed: ['changed'] });
    const records = [];
    for (const note of ['one', 'two', 'three'])
      records.push(await addStay(office, 'harbourmaster', { harbour: 1, note }));
    for (const record of records) await watch(record, ranged);
    for (const record of records) await change(record, { note: 'changed' });
    await change(records[0] ?? 0, { harbour: 2 });
    expect(await mailNotices(owner(), settings)).toBe(0);
    expect(await mailNotices(owner(), settings, 0)).toBe(1);
    const [kept] = (await outbox()).messages;
    expect(kept).toMatchObject({
      kind: 'notices',
      address: 'ranged@gannet.example',
      subject: expect.stringMatching(/^2 notices/),
    });
    expect(kept.body).toContain(`https://fiche.gannet.example/quay/tables/quay_stays/${records[1]}`);
    expect(kept.body).not.toContain(`/${records[0]}\n`);
    await change(records[1] ?? 0, { note: 'again' });
    await seeAll(ranged);
    expect(await mailNotices(owner(), settings, 0)).toBe(0);
    await change(records[2] ?? 0, { note: 'again' });
    expect(await mailNotices(owner(), settings, 0)).toBe(1);
    expect((await outbox()).messages[0].subject).toMatch(/^quayclerk changed Stays/);
  });

  test('nothing goes by mail to a role with a second factor only, until the account has one', async () => {
    const role = (secondFactor: boolean) =>
      owner().raw(
        "UPDATE fiche.role SET reach = reach || jsonb_build_object('secondFactor', ?::boolean) WHERE id = 'ranged'",
        [secondFactor],
      );
    await role(true);
    const record = await addStay(office, 'harbourmaster', { harbour: 1, note: 'guarded' });
    await owner().raw("INSERT INTO fiche.watch (table_id, record, login) VALUES ('quay_stays', ?, 'theranged')", [
      record,
    ]);
    await change(record, { note: 'changed' });
    expect(await mailNotices(owner(), settings, 0)).toBe(0);
    await role(false);
  });

  test('words of people that look like the place of a link stay as they are', async () => {
    await owner().raw(
      "INSERT INTO fiche.message (cabinet, kind, address, subject, body, state) VALUES ('quay', 'notices', 'plain@gannet.example', 'Plain', 'The berth {link}', 'waiting')",
    );
    expect((await outbox()).messages[0].body).toBe('The berth {link}');
    await sendDue(owner(), transport);
    expect(box.got.find((one) => one.to === 'plain@gannet.example')?.text).toContain('The berth {link}');
  });

  test('what it says of records goes when one of them is erased', async () => {
    const record = await addStay(office, 'harbourmaster', { harbour: 1, note: 'private' });
    await watch(record, ranged);
    await change(record, { note: 'changed' });
    await mailNotices(owner(), settings, 0);
    const { body } = await builder.call('GET', `/api/tables/quay_stays/records/${record}`);
    await builder.call('POST', `/api/tables/quay_stays/records/${record}/archive`, { version: body.version });
    await builder.call('DELETE', `/api/tables/quay_stays/records/${record}`, {
      version: body.version + 1,
      reason: 'asked for',
    });
    expect((await outbox()).messages[0]).toMatchObject({ subject: 'Erased', state: 'failed' });
  });

  test('is read by who has the right, of their cabinet alone', async () => {
    expect((await clerk.call('GET', '/api/cabinets/quay/messages')).status).toBe(403);
    const stranger = await office.signIn('stranger');
    expect((await stranger.call('GET', '/api/cabinets/quay/messages')).status).toBe(404);
    const [message] = (await outbox()).messages;
    expect((await stranger.call('POST', `/api/cabinets/other/messages/${message.id}/retry`, {})).status).toBe(404);
  });

  test('sends a failed notice again when asked; an invitation needs a new link', async () => {
    const { messages } = await outbox('?state=failed');
    const [notices, invitation] = ['notices', 'invitation'].map((kind) =>
      messages.find((one: { kind: string }) => one.kind === kind),
    );
    expect((await builder.call('POST', `/api/cabinets/quay/messages/${notices.id}/retry`, {})).status).toBe(200);
    expect((await builder.call('POST', `/api/cabinets/quay/messages/${notices.id}/retry`, {})).status).toBe(409);
    const refused = await builder.call('POST', `/api/cabinets/quay/messages/${invitation.id}/retry`, {});
    expect(refused.body.detail).toContain('new link');
  });

  test('without a mail server messages are kept, without their link, and not sent later by themselves', async () => {
    Object.assign(office.services.mail, { server: null });
    const { body } = await invite('keptone', 'kept@gannet.example');
    expect(body.mailed).toBe(false);
    const { sends, messages } = await outbox();
    expect([sends, messages[0].state]).toEqual([false, 'kept']);
    await due();
    const before = box.got.length;
    await sendDue(owner(), transport);
    expect(box.got.slice(before).some((one) => one.to === 'kept@gannet.example')).toBe(false);
    const { rows } = await owner().raw("SELECT secret FROM fiche.message WHERE state = 'kept'");
    expect(rows).toEqual([{ secret: null }]);
  });
});
