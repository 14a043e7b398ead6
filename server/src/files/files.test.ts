import { tmpdir } from 'node:os';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { countBytes, forgetUnclaimed, requireDiskSpace } from './index.ts';

let office: TestOffice;
let clerk: Client;
let builder: Client;
const PNG = (shade: number) =>
  sharp({ create: { width: 40, height: 30, channels: 3, background: { r: shade, g: 90, b: 91 } } })
    .png()
    .toBuffer();

beforeAll(async () => {
  office = await testOffice();
  [clerk, builder] = [await office.signIn('quayclerk'), await office.signIn('harbourmaster')];
  const { body } = await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Reports' });
  for (const field of [
    { label: 'Title', type: 'text' },
    { label: 'Papers', type: 'attachments', settings: { largest: 2, mostCount: 3 } },
    { label: 'Photo', type: 'attachments', settings: { kinds: 'pictures', mostCount: 1 } },
  ])
    await builder.call('POST', `/api/tables/${body.id}/fields`, { field });
});
afterAll(() => office.close());

const BASE = '/api/tables/quay_reports';
const send = (field: string, name: string, content: string | Uint8Array, who = clerk) =>
  who.send(`${BASE}/files?field=${field}&name=${encodeURIComponent(name)}`, content);
let keys = 0;
const enter = (body: object, who = clerk) =>
  who.call('POST', `${BASE}/entries`, body, { 'idempotency-key': `files-${++keys}-test` });
const raw = async (url: string) => {
  const session = await office.app.inject({
    method: 'POST',
    url: '/api/session',
    payload: { login: 'quayclerk', password: 'tern-cove-17' },
  });
  const cookie = session.cookies.map((one) => `${one.name}=${one.value}`).join('; ');
  return office.app.inject({ method: 'GET', url, headers: { cookie } });
};
const contents = async () =>
  Number((await office.services.databases.owner('fiche.content').whereNotNull('sha256').count('* as n'))[0]?.n);

describe('receiving', () => {
  test('the kind is found in the content, whatever the name says; any script keeps its name', async () => {
    const lies = await send('papers', '泊位.exe', await PNG(1));
    expect(lies).toMatchObject({ status: 200, body: { kind: 'image/png', name: '泊位.exe' } });
    expect(lies.body.token).toBe(`${lies.body.token.slice(0, 36)}/泊位.exe`);
    const text = await send('papers', 'photo.png', 'no picture at all');
    expect(text.body.kind).toBe('text/plain');
    const refused = await send('photo', 'photo.png', 'no picture at all');
    expect(refused.status).toBe(422);
    expect(refused.body.detail).toContain('only pictures are taken here');
  });

  test('whoever can neither add nor change sends no files', async () => {
    const auditor = await office.signIn('auditor');
    expect((await send('papers', 'note.txt', 'note', auditor)).status).toBe(403);
    expect((await send('papers', 'note.txt', 'note', office.anonymous)).status).toBe(401);
  });

  test('an empty file and one over the limit are refused, and nothing of them stays', async () => {
    const { owner } = office.services.databases;
    const before = await owner('fiche.content').count('* as n');
    const empty = await send('papers', 'nothing.txt', '');
    expect([empty.status, empty.body.detail]).toEqual([422, expect.stringContaining('nothing.txt is empty')]);
    const large = await send('papers', 'large.bin', new Uint8Array(3 * 1024 * 1024));
    expect([large.status, large.body.detail]).toEqual([413, expect.stringContaining('larger than the 2 MB')]);
    expect(await owner('fiche.content').count('* as n')).toEqual(before);
  });

  test('the same content is stored once, also when it comes twice at once', async () => {
    const picture = await PNG(7);
    const before = await contents();
    const sent = await Promise.all([1, 2, 3, 4].map((n) => send('papers', `${n}.png`, picture)));
    expect(sent.map((one) => one.status)).toEqual([200, 200, 200, 200]);
    expect(new Set(sent.map((one) => one.body.token)).size).toBe(4);
    expect(await contents()).toBe(before + 1);
  });
});

describe('with a record', () => {
  test('a save that names files keeps them; they come back as they were, pictures small, too', async () => {
    const picture = await PNG(20);
    const [photo, paper] = [
      (await send('photo', 'quay.png', picture)).body.token,
      (await send('papers', 'note.html', '<script>alert(1)</script>')).body.token,
    ];
    const { status, body } = await enter({ values: { title: 'Broken cleat', photo: [photo], papers: [paper] } });
    expect(status).toBe(200);
    const shown = await raw(`${BASE}/files/${photo.slice(0, 36)}`);
    expect(shown.rawPayload.equals(picture)).toBe(true);
    expect(shown.headers).toMatchObject({ 'content-type': 'image/png', 'x-content-type-options': 'nosniff' });
    expect(shown.headers['content-disposition']).toContain('inline');
    // Nothing but a picture or a PDF is ever shown by the browser itself.
    const html = await raw(`${BASE}/files/${paper.slice(0, 36)}`);
    expect(html.headers['content-type']).toBe('application/octet-stream');
    expect(html.headers['content-disposition']).toContain('attachment');
    const small = await raw(`${BASE}/files/${photo.slice(0, 36)}/thumbnail`);
    expect(small.headers['content-type']).toBe('image/webp');
    expect((await sharp(small.rawPayload).metadata()).width).toBe(40);
    const history = await clerk.call('GET', `${BASE}/records/${body.record.id}/history`);
    expect(history.body.lines[0].changes).toContainEqual(
      expect.objectContaining({ label: 'Papers', after: 'note.html' }),
    );
  });

  test('files of others that are not saved, that are renamed or made up, are refused at their field', async () => {
    const theirs = (await send('papers', 'theirs.txt', 'theirs', builder)).body.token as string;
    const mine = (await send('papers', 'mine.txt', 'mine')).body.token as string;
    for (const token of [theirs, mine.replace('mine.txt', 'other.txt'), `${crypto.randomUUID()}/made up.txt`]) {
      const refused = await enter({ values: { title: 'x', papers: [token] } });
      expect(refused.body.errors).toEqual([expect.objectContaining({ path: 'papers', rule: 'file' })]);
    }
    expect((await enter({ values: { title: 'x', papers: [mine] } })).status).toBe(200);
    const stranger = await (await office.signIn('stranger')).call('GET', `${BASE}/files/${mine.slice(0, 36)}`);
    expect(stranger.status).toBe(404);
  });

  test('what no save has claimed is forgotten after its time, and what one has is not', async () => {
    const lost = (await send('papers', 'lost.txt', 'lost for ever')).body.token as string;
    const kept = (await send('papers', 'kept.txt', 'kept for ever')).body.token as string;
    await enter({ values: { title: 'keeps', papers: [kept] } });
    const { owner } = office.services.databases;
    await owner.raw(`UPDATE fiche.file SET sent_at = sent_at - interval '2 days'`);
    await owner.raw(`UPDATE fiche.content SET begun_at = begun_at - interval '2 days'`);
    await forgetUnclaimed(owner);
    expect((await raw(`${BASE}/files/${kept.slice(0, 36)}`)).statusCode).toBe(200);
    expect((await raw(`${BASE}/files/${lost.slice(0, 36)}`)).statusCode).toBe(404);
    expect(await owner('fiche.content_part').whereNotIn('content', owner('fiche.file').select('content'))).toEqual([]);
  });

  test('what a public page received is forgotten after an hour, but for what an answer names that is held for a person', async () => {
    const { owner } = office.services.databases;
    const tokens = [
      (await send('papers', 'gone.txt', 'gone')).body.token,
      (await send('papers', 'waits.txt', 'waits')).body.token,
    ] as string[];
    await owner.raw(
      `UPDATE fiche.file SET sent_by = 'page:arrival', sent_at = now() - interval '61 minutes' WHERE claimed_at IS NULL`,
    );
    await owner.raw(
      `INSERT INTO fiche.held_answer (form_id, version, why, body, key) VALUES ('quay_arrival', 1, 'test', jsonb_build_object('values', jsonb_build_object('papers', ?::text)), 'files-held')`,
      [tokens[1]] as string[],
    );
    await forgetUnclaimed(owner);
    const { rows } = await owner.raw(`SELECT name FROM fiche.file WHERE sent_by = 'page:arrival'`);
    expect(rows).toEqual([{ name: 'waits.txt' }]);
  });

  test('so much an hour is taken from one address to a page, from all to the page, and by an account', async () => {
    const { app } = office.services.databases;
    const [page, MB] = ['page:quota', 1024 * 1024];
    for (let n = 0; n < 3; n++) await countBytes(app, page, '10.1.1.1', 100 * MB);
    await expect(countBytes(app, page, '10.1.1.1', 1)).rejects.toMatchObject({ status: 429 });
    await expect(countBytes(app, page, '10.1.1.2', 1)).resolves.toBeUndefined();
    for (let n = 0; n < 9; n++) await countBytes(app, page, `10.1.2.${n}`, 290 * MB);
    await expect(countBytes(app, page, '10.1.3.1', 250 * MB)).rejects.toMatchObject({ status: 429 });
    await expect(countBytes(app, 'quota.clerk', null, 9_999 * MB)).resolves.toBeUndefined();
    await expect(countBytes(app, 'quota.clerk', null, 2 * MB)).rejects.toMatchObject({ status: 429 });
  });

  test('a nearly full disk is said, where it is this machine’s', async () => {
    await expect(requireDiskSpace(null)).resolves.toBeUndefined();
    await expect(requireDiskSpace(tmpdir())).resolves.toBeUndefined();
    // A file system without any free space.
    await expect(requireDiskSpace('/proc')).rejects.toMatchObject({ status: 507 });
  });

  test('taking a file out of a record keeps it in its history', async () => {
    const token = (await send('papers', 'once.txt', 'once')).body.token as string;
    const { body } = await enter({ values: { title: 'x', papers: [token] } });
    await enter({ record: body.record.id, version: 1, values: { papers: null } });
    const { lines } = (await clerk.call('GET', `${BASE}/records/${body.record.id}/history`)).body;
    expect(lines[0].changes[0]).toMatchObject({ before: 'once.txt', after: '', was: [token] });
    expect((await raw(`${BASE}/files/${token.slice(0, 36)}`)).statusCode).toBe(200);
    const back = await enter({ record: body.record.id, version: 2, values: { papers: lines[0].changes[0].was } });
    expect(back.body.record.values.papers).toEqual([token]);
  });
});
