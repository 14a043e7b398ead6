import type { PublicPage } from '@fiche/core/pages';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { setPage as publishedPage } from '../fixtures/page.ts';
import { verifyLedger } from '../history/index.ts';
import { eraseOldAnswers } from './index.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
let keys = 0;
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

const FORM = 'quay_arrival';

const setPage = (settings: Partial<PublicPage>): Promise<void> => publishedPage(office, settings);

/** Puts one more field of the table on the form. */
async function onForm(field: string): Promise<void> {
  const { body } = await builder.call('GET', `${PAGE_PATH}/draft`);
  const [first, ...rest] = body.definition.sections;
  const definition = { ...body.definition, sections: [{ ...first, items: [...first.items, { field }] }, ...rest] };
  const saved = await builder.call('PUT', `${PAGE_PATH}/draft`, { definition, revision: body.revision });
  expect(saved.status).toBe(200);
}

const open = async (headers: Record<string, string> = {}) =>
  (await office.anonymous.call('GET', '/api/public/arrival', undefined, headers)).body;
const send = (values: object, headers: Record<string, string> = {}, more: object = {}) =>
  office.anonymous.call(
    'POST',
    '/api/public/arrival/entries',
    { values, ...more },
    {
      'idempotency-key': `answer-key-${++keys}`,
      ...headers,
    },
  );
const answers = async () => (await clerk.call('GET', `/api/forms/${FORM}/answers`)).body;
const civil = (hours: number): string => new Date(Date.now() + hours * 3_600_000).toISOString().slice(0, 16);
const PAGE_PATH = `/api/forms/${FORM}`;

test('an answer is listed with the record that it made, for those who see it', async () => {
  const { body } = await send({ harbour: 1, note: 'listed' });
  const { answers: all, total, days } = await answers();
  expect(all[0]).toMatchObject({ reference: body.reference, code: null, link: null, corrections: 0, version: 1 });
  expect(all[0].records).toEqual([
    { table: 'quay_stays', tableLabel: 'Stays', record: expect.any(Number), title: expect.any(String), did: 'added' },
  ]);
  expect(total).toBe(all.length);
  expect(days.at(-1)).toEqual({ day: expect.any(String), count: total });
  const csv = await clerk.call('GET', `${PAGE_PATH}/answers.csv`);
  expect(csv.text).toContain(`,${body.reference},1,page,0,`);
  expect(csv.text).toContain('listed');
});

test('before it opens and after it has closed a page says so, and takes nothing', async () => {
  await setPage({ when: { opens: civil(2), closes: null }, words: { before: 'Come back on Monday.' } });
  expect(await open()).toMatchObject({ unavailable: 'before', words: 'Come back on Monday.', label: 'Arrival' });
  expect((await send({ harbour: 1 })).body.detail).toContain('Come back on Monday. Your answer was not sent');
  await setPage({ when: { opens: null, closes: civil(-1) } });
  expect(await open()).toMatchObject({ unavailable: 'closed' });
  const late = await send({ harbour: 1 });
  expect([late.status, late.body.detail]).toEqual([409, expect.stringContaining('what you typed stays here')]);
  const asked = await office.anonymous.call('POST', '/api/public/arrival/choices', { field: 'pontoon', values: {} });
  expect(asked.status).toBe(409);
});

test('of ten who send at once, only as many are taken as the page takes; a second sending is the same answer', async () => {
  const { total } = await answers();
  await setPage({ atMost: total + 3 });
  const sent = await Promise.all(Array.from({ length: 10 }, (_, n) => send({ harbour: 1, note: `rush ${n}` })));
  expect(sent.filter((one) => one.status === 200)).toHaveLength(3);
  expect(new Set(sent.filter((one) => one.status !== 200).map((one) => one.status))).toEqual(new Set([409]));
  expect((await answers()).total).toBe(total + 3);
  expect(await open()).toMatchObject({ unavailable: 'full' });
  await setPage({ atMost: total + 4 });
  const key = { 'idempotency-key': 'the-last-place' };
  const [first, again] = [await send({ harbour: 2 }, key), await send({ harbour: 2 }, key)];
  expect([first.status, again.body]).toEqual([200, first.body]);
});

test('a limit for each linked record counts that record alone', async () => {
  await setPage({ atMostFor: { field: 'harbour', most: 1 } });
  expect((await send({ harbour: 1 })).status).toBe(200);
  const second = await send({ harbour: 1 });
  expect(second.status).toBe(422);
  expect(second.body.errors[0]).toMatchObject({ path: 'harbour', rule: 'atMost' });
  expect((await send({ harbour: 2 })).status).toBe(200);
});

test('a code opens the page, stamps the answer, and is told to nobody', async () => {
  await setPage({ who: { kind: 'code', codes: [{ code: 'Möwe-77', label: 'Newsletter' }] } });
  expect(await open()).toMatchObject({ unavailable: 'code' });
  expect(await open({ 'x-fiche-code': 'guess' })).toMatchObject({ unavailable: 'wrongCode' });
  expect((await send({ harbour: 1 })).status).toBe(403);
  const code = { 'x-fiche-code': encodeURIComponent(' MÖWE-77 ') };
  const page = await open(code);
  expect(JSON.stringify(page)).not.toMatch(/möwe/i);
  expect((await send({ harbour: 1, note: 'coded' }, code)).status).toBe(200);
  expect((await answers()).answers[0]).toMatchObject({ code: 'Newsletter' });
  const { body } = await clerk.call('GET', `/api/tables/quay_stays/records?search=coded&archived=no`);
  const history = await builder.call('GET', `/api/tables/quay_stays/records/${body.records[0].id}/history`);
  expect(JSON.stringify(history.body)).toContain('with the code Newsletter');
  // Who fills the form in the office is not told its codes either.
  expect(JSON.stringify((await clerk.call('GET', PAGE_PATH)).body)).not.toMatch(/möwe/i);
  for (let n = 0; n < 25; n++) await open({ 'x-fiche-code': `guess-${n}` });
  const blocked = await office.anonymous.call('GET', '/api/public/arrival', undefined, { 'x-fiche-code': 'one-more' });
  expect(blocked.status).toBe(429);
});

test('a personal link fills its record, counts once, and is withdrawn', async () => {
  await setPage({ who: { kind: 'link', fills: 'harbour' } });
  const made = await builder.call('POST', `${PAGE_PATH}/personal-links`, {});
  expect(made.body.made).toBeGreaterThan(1);
  expect((await builder.call('POST', `${PAGE_PATH}/personal-links`, {})).body).toEqual({
    made: 0,
    had: made.body.made,
  });
  const { links } = (await builder.call('GET', `${PAGE_PATH}/personal-links`)).body;
  const [one, other] = links;
  expect(await open()).toMatchObject({ unavailable: 'link' });
  expect(await open({ 'x-fiche-link': `${one.id}.forged` })).toMatchObject({ unavailable: 'link' });
  const mine = { 'x-fiche-link': one.token };
  expect((await open(mine)).given).toMatchObject({ values: { harbour: one.record } });
  // What is sent in its place counts for nothing.
  const twice = { ...mine, 'idempotency-key': 'by-link-twice' };
  const sent = await send({ harbour: other.record, note: 'by link' }, twice);
  expect(sent.status).toBe(200);
  expect((await send({ harbour: other.record, note: 'by link' }, twice)).body).toEqual(sent.body);
  const { body } = await clerk.call('GET', `/api/tables/quay_stays/records?search=by%20link&archived=no`);
  expect(body.records.map((record: { values: object }) => record.values)).toMatchObject([{ harbour: one.record }]);
  expect((await answers()).answers[0]).toMatchObject({ link: one.id });
  expect((await send({ note: 'again' }, mine)).body.detail).toContain('was used already');
  expect(await open(mine)).toMatchObject({ unavailable: 'used' });
  expect((await builder.call('DELETE', `${PAGE_PATH}/personal-links/${other.id}`)).status).toBe(200);
  expect(await open({ 'x-fiche-link': other.token })).toMatchObject({ unavailable: 'withdrawn' });
  // One that was used up, or withdrawn, makes room for another.
  expect((await builder.call('POST', `${PAGE_PATH}/personal-links`, { once: false })).body.made).toBe(2);
});

test('a respondent comes back by the receipt and corrects the answer, until a day', async () => {
  await setPage({ corrections: { until: null } });
  const { body } = await send({ harbour: 1, note: 'first words' });
  const receipt = { 'x-fiche-receipt': body.receipt };
  const { received } = await open(receipt);
  expect(received.record.values).toMatchObject({ harbour: 1, note: 'first words' });
  expect(received.record.stamp).toMatchObject({ createdBy: '', changedBy: '' });
  const { id, version } = received.record;
  const corrected = await send({ note: 'second words' }, receipt, { record: id, version });
  expect([corrected.status, corrected.body.reference]).toEqual([200, body.reference]);
  expect((await answers()).answers[0]).toMatchObject({ reference: body.reference, corrections: 1 });
  expect((await send({ note: 'x' }, receipt, { record: id, version })).body).toMatchObject({
    status: 409,
    detail: expect.stringContaining('The office has changed this answer meanwhile'),
  });
  expect((await send({ note: 'x' }, receipt, { record: id === 1 ? 2 : id - 1, version: 1 })).status).toBe(403);
  expect((await send({ note: 'x' }, {}, { record: id, version: 2 })).status).toBe(403);
  expect(await open({ 'x-fiche-receipt': `${id}.forged` })).toMatchObject({ unavailable: 'receipt' });
  await setPage({ corrections: { until: '2020-01-01' } });
  expect(await open(receipt)).toMatchObject({ unavailable: 'receipt', words: expect.stringContaining('no longer') });
  expect((await send({ note: 'x' }, receipt, { record: id, version: 2 })).status).toBe(403);
});

test('an answer that is corrected to another record counts for that one, where there is room', async () => {
  const { owner } = office.database.databases;
  // Tests send more in an hour than a person does.
  await owner.raw('DELETE FROM fiche.attempt');
  await owner.raw('UPDATE fiche.answer SET counts_for = NULL');
  await setPage({ corrections: { until: null }, atMostFor: { field: 'harbour', most: 1 } });
  const { body } = await send({ harbour: 2, note: 'moves' });
  const receipt = { 'x-fiche-receipt': body.receipt };
  const moveTo = async (harbour: number) => {
    const { id, version } = (await open(receipt)).received.record;
    return send({ harbour }, receipt, { record: id, version });
  };
  expect((await send({ harbour: 2 })).status).toBe(422);
  expect((await moveTo(1)).status).toBe(200);
  // Its place is free again, and taken by somebody else.
  expect((await send({ harbour: 2 })).status).toBe(200);
  const back = await moveTo(2);
  expect([back.status, back.body.errors[0]]).toEqual([
    422,
    expect.objectContaining({ path: 'harbour', rule: 'atMost' }),
  ]);
  expect((await moveTo(1)).status).toBe(200);
});

test('a page writes numbers and dates as its builder says, and as the office does otherwise', async () => {
  await setPage({});
  const { office: usual } = await open();
  await setPage({ locale: 'de-DE' });
  const page = await open();
  expect(page.office).toEqual({ ...usual, locale: 'de-DE' });
});

test('consent is asked for, and its text is kept with the answer', async () => {
  await setPage({ consent: 'You may keep my note.' });
  expect((await send({ harbour: 1 })).body.detail).toContain('Agree to the text');
  expect((await send({ harbour: 1 }, {}, { page: { agreed: true } })).status).toBe(200);
  await setPage({ consent: 'You may keep my note for a year.' });
  expect((await send({ harbour: 1 }, {}, { page: { agreed: true } })).status).toBe(200);
  const [later, earlier] = (await answers()).answers;
  expect([earlier.consent, later.consent]).toEqual(['You may keep my note.', 'You may keep my note for a year.']);
});

test('a confirmation goes to the address that was given, with the reference, what was answered and the way back', async () => {
  await builder.call('POST', '/api/tables/quay_stays/fields', { field: { label: 'E-mail', type: 'email' } });
  await onForm('e_mail');
  await setPage({
    corrections: { until: null },
    confirmation: { to: 'e_mail', subject: 'Your stay {reference}', text: '{values}\n\n{link}' },
  });
  const { body } = await send({ harbour: 1, note: 'confirmed', e_mail: 'ada@tern.example' });
  await send({ harbour: 1, note: 'without an address' });
  const { messages } = (await builder.call('GET', '/api/cabinets/quay/messages')).body;
  expect(messages.filter((one: { kind: string }) => one.kind === 'confirmation')).toEqual([
    expect.objectContaining({ address: 'ada@tern.example', subject: `Your stay ${body.reference}`, login: null }),
  ]);
  expect(messages[0].body).toContain('Note: confirmed\nE-mail: ada@tern.example');
  expect(messages[0].body).toContain(`/p/arrival#receipt=${body.receipt}`);
});

test('answers are erased with what they added after so many days, and the ledger says so', async () => {
  const { owner } = office.database.databases;
  await setPage({ eraseAfterDays: 30 });
  const { body: old } = await send({ harbour: 1, note: 'old words' });
  const { body: fresh } = await send({ harbour: 1, note: 'fresh words' });
  const { answers: before } = await answers();
  const idOf = (reference: string): number =>
    before.find((one: { reference: string }) => one.reference === reference)?.id;
  await owner.raw("UPDATE fiche.answer SET at = at - interval '31 days' WHERE id = ?", [idOf(old.reference)]);
  await eraseOldAnswers(owner);
  const { rows } = await owner.raw("SELECT note FROM data.quay_stays WHERE note IN ('old words', 'fresh words')");
  expect(rows).toEqual([{ note: 'fresh words' }]);
  const { answers: after } = await answers();
  const now = (reference: string) => after.find((one: { reference: string }) => one.reference === reference);
  expect(now(old.reference)).toMatchObject({ records: [], erasedAt: expect.any(String), notErased: null });
  expect(now(fresh.reference)).toMatchObject({ erasedAt: null });
  const lines = await owner.raw(
    "SELECT account, kind, through->>'reason' AS reason FROM ledger.line WHERE place = 'data.quay_stays' AND kind = 'erase'",
  );
  expect(lines.rows).toEqual([
    { account: 'page:arrival', kind: 'erase', reason: 'Erased after 30 days, as the page says.' },
  ]);
  expect((await owner.raw("SELECT 1 FROM ledger.line WHERE after::text LIKE '%old words%'")).rows).toEqual([]);
  expect((await verifyLedger(owner)).misfits).toEqual([]);
});

test('who watches a form is told of its answers, counted while they are not seen', async () => {
  await setPage({});
  const inbox = async () => (await clerk.call('GET', '/api/account/notices')).body;
  await send({ harbour: 1, note: 'nobody watches' });
  expect((await inbox()).unseen).toBe(0);
  expect((await clerk.call('PUT', `${PAGE_PATH}/watch`, {})).status).toBe(200);
  for (const note of ['one', 'two']) await send({ harbour: 1, note });
  const { notices, unseen } = await inbox();
  expect(unseen).toBe(1);
  expect(notices[0]).toMatchObject({ kind: 'answers', times: 2, form: { id: FORM, label: 'Arrival' }, record: null });
  await clerk.call('POST', '/api/account/notices/seen', { notices: 'all' });
  await send({ harbour: 1, note: 'three' });
  expect((await inbox()).notices[0]).toMatchObject({ times: 1, seen: false });
  expect((await clerk.call('GET', '/api/account/watches')).body.watches).toMatchObject([
    { form: FORM, title: 'Arrival' },
  ]);
  await clerk.call('DELETE', `${PAGE_PATH}/watch`);
  await send({ harbour: 1, note: 'four' });
  expect((await inbox()).notices[0]).toMatchObject({ times: 1 });
});

test('an answer that came by a personal link keeps its record when it is corrected', async () => {
  await setPage({ who: { kind: 'link', fills: 'harbour' }, corrections: { until: null } });
  await builder.call('POST', `${PAGE_PATH}/personal-links`, { once: false });
  const { links } = (await builder.call('GET', `${PAGE_PATH}/personal-links`)).body;
  const [one, other] = links.filter((link: { state: string }) => link.state === 'open');
  const { body } = await send({ note: 'linked' }, { 'x-fiche-link': one.token });
  const receipt = { 'x-fiche-receipt': body.receipt };
  const { id, version } = (await open(receipt)).received.record;
  const corrected = await send({ harbour: other.record, note: 'linked on' }, receipt, { record: id, version });
  expect(corrected.status).toBe(200);
  expect((await open(receipt)).received.record.values).toMatchObject({ harbour: one.record, note: 'linked on' });
});

test('a link is sent once, to the records that have an address', async () => {
  await builder.call('POST', '/api/tables/quay_harbours/fields', { field: { label: 'E-mail', type: 'email' } });
  await office.database.databases.owner.raw("UPDATE data.quay_harbours SET e_mail = 'quay@tern.example' WHERE id = 1");
  const mail = () =>
    builder.call('POST', `${PAGE_PATH}/personal-links/mails`, {
      to: 'e_mail',
      subject: '{title}',
      text: 'Open {link}',
    });
  const first = (await mail()).body;
  expect(first).toMatchObject({ sent: 1, before: 0 });
  expect((await mail()).body).toEqual({ sent: 0, without: first.without, before: 1 });
  const { messages } = (await builder.call('GET', '/api/cabinets/quay/messages')).body;
  expect(messages[0]).toMatchObject({ kind: 'personalLink', address: 'quay@tern.example' });
  expect(messages[0].body).toMatch(/^Open .*\/p\/arrival#link=\d+\./);
});

test('consent is to the text of the version that was filled', async () => {
  await setPage({ consent: 'The text that is shown.' });
  const { begun, version } = await open();
  await setPage({ consent: 'A later text.' });
  const sent = await send({ harbour: 1 }, { 'x-fiche-begun': begun }, { formVersion: version, page: { agreed: true } });
  expect(sent.status).toBe(200);
  expect((await answers()).answers[0].consent).toBe('The text that is shown.');
});
