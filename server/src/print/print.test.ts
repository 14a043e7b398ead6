import { all, is } from '@fiche/core/conditions';
import { COMMON_SHEETS, labelLayoutSchema } from '@fiche/core/labels';
import { plainListing } from '@fiche/core/views';
import QRCode from 'qrcode';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { loadDefinitions } from '../definitions/index.ts';
import { addLimitedRoles } from '../fixtures/limitedRoles.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { cardDocument } from './card.ts';
import { labelsDocument } from './labels.ts';
import { listDocument } from './list.ts';
import { saidOf } from './printSelection.ts';
import { printedAsOf, printedRecord } from './record.ts';
import { widthsOf } from './ruledTable.ts';

let office: TestOffice;
let builder: Client;
const owner = () => office.database.databases.owner;
const app = () => office.services.databases.app;
const asking = { account: 'harbourmaster', now: '2026-08-20T10:00' };
const reader = { asking, limit: null };

beforeAll(async () => {
  office = await testOffice();
  await addLimitedRoles(office);
  builder = await office.signIn('harbourmaster');
  await asActor(owner(), { name: 'harbourmaster', through: { kind: 'seed', label: 'test' } }, (write) =>
    write.raw(
      `INSERT INTO data.quay_stays (harbour, note, persons, arrival) SELECT 1 + n % 2, 'stay ' || n, n % 7 + 1, '2026-08-17 10:00' FROM generate_series(1, 130) n`,
    ),
  );
});
afterAll(() => office.close());

/** All the texts of a document in order. */
function textsOf(node: unknown): string[] {
  if (typeof node === 'string') return [node];
  if (Array.isArray(node)) return node.flatMap(textsOf);
  if (typeof node !== 'object' || node === null) return [];
  const { text, stack, columns, table, content, qr } = node as Record<string, unknown>;
  // The parts of one text, in the files of its scripts, are read as one.
  const own = Array.isArray(text) ? [text.map((part) => (part as { text: string }).text).join('')] : textsOf(text);
  return [
    ...own,
    ...(typeof qr === 'string' ? [qr] : []),
    ...[stack, columns, (table as { body?: unknown })?.body, content].flatMap(textsOf),
  ];
}
const definitions = () => loadDefinitions(app());
async function stays() {
  const { tables } = await definitions();
  const table = tables.get('quay_stays');
  if (!table) throw new Error('There are no stays');
  return { tables, table };
}
const query = (listing: object) => ({
  listing: listing as ReturnType<typeof plainListing>,
  search: '',
  archived: 'no' as const,
});
const pages = (pdf: string): number => pdf.match(/\/Type \/Page\b/g)?.length ?? 0;

describe('a list', () => {
  test('says under its title which records it has, and when it was printed', async () => {
    const { tables, table } = await stays();
    const filter = all(is({ kind: 'column', path: 'persons' }, { kind: 'constant', value: 3 }));
    const found = { ...query({ ...plainListing(table), filter }), search: 'stay 1', archived: 'yes' as const };
    const said = await saidOf(app(), { table, tables, query: found, asOf: undefined });
    expect(said.slice(0, -1)).toEqual(['Stays whose Persons is 3', 'Found by “stay 1”', 'Archived records', '']);
    expect(said.at(-1)).toMatch(/^Printed \d+ \w+ \d{4}, \d\d:\d\d$/);
  });

  test('has its groups with their counts, its totals, and its head on every page', async () => {
    const { tables, table } = await stays();
    const listing = {
      ...plainListing(table),
      columns: [{ path: 'note' }, { path: 'persons', summary: 'sum' }],
      group: 'harbour',
      sort: [{ path: 'note', direction: 'up' }],
    };
    const job = await listDocument(
      { database: app(), tables, table, query: query(listing), reader },
      {
        title: 'Stays',
        said: ['Printed today'],
        paper: 'a4',
        orientation: 'auto',
      },
    );
    const texts = textsOf(job.document.content);
    expect(texts.slice(0, 3)).toEqual(['Stays', 'Printed today', '130 records']);
    expect(texts.filter((one) => /\(65\)$/.test(one))).toHaveLength(2);
    const { rows } = await owner().raw('SELECT sum(persons) AS n FROM data.quay_stays');
    expect(texts.at(-1)).toBe(`sum ${rows[0].n}`);
    expect(JSON.stringify(job.document.content)).toContain('"headerRows":1');
  });

  test('of more columns than fit beside each other, or more records than somebody reads, says what to do', async () => {
    const { tables, table } = await stays();
    const many = { ...plainListing(table), columns: Array.from({ length: 25 }, () => ({ path: 'note' })) };
    const print = { title: 'Stays', said: [], paper: 'letter', orientation: 'portrait' } as const;
    await expect(listDocument({ database: app(), tables, table, query: query(many), reader }, print)).rejects.toThrow(
      'print it in landscape',
    );
  });

  test('gives columns the width of the page, whatever stands in them', () => {
    const columns = [
      { label: 'Number', numeric: true },
      { label: 'Note', numeric: false },
      { label: 'What happened', numeric: false },
    ];
    for (const note of ['', 'short', 'x'.repeat(2_000)]) {
      const widths = widthsOf(columns, [{ kind: 'row', cells: ['12', note, note] }], 500);
      expect(widths.reduce((sum, one) => sum + one + 8, 0)).toBeCloseTo(500, 3);
      expect(Math.min(...widths)).toBeGreaterThanOrEqual(26);
    }
  });

  test('that cannot be printed says so when it is ordered, and a PDF can be asked for again', async () => {
    const order = (print: object, listing: object = { columns: [{ path: 'note' }] }) =>
      builder.call('POST', '/api/tables/quay_stays/exports', { listing, print });
    const many = { columns: Array.from({ length: 25 }, () => ({ path: 'note' })) };
    const list = { kind: 'list', paper: 'letter', orientation: 'portrait' };
    expect((await order(list, many)).body.detail).toContain('print it in landscape');
    const layout = { sheet: COMMON_SHEETS[0], lines: [{ text: '{note}' }] };
    const none = {
      columns: [{ path: 'note' }],
      filter: all(is({ kind: 'column', path: 'note' }, { kind: 'constant', value: 'nowhere' })),
    };
    expect((await order({ kind: 'labels', layout }, none)).body.detail).toContain('no records to print labels of');
    expect((await order({ kind: 'labels', layout, start: 30 })).body.detail).toContain('from 1 to 24');
    const { body } = await order(list);
    for (const again of [1, 2]) {
      const pdf = await builder.call('GET', `/api/tables/quay_stays/exports/${body.id}/file`);
      expect([again, pdf.status]).toEqual([again, 200]);
    }
  });

  test('comes as a PDF by way of an export, in the right of who asks', async () => {
    const body = { listing: { columns: [{ path: 'note' }] }, print: { kind: 'list', paper: 'letter' } };
    const order = await builder.call('POST', '/api/tables/quay_stays/exports', body);
    const pdf = await builder.call('GET', `/api/tables/quay_stays/exports/${order.body.id}/file`);
    expect([pdf.status, pdf.text?.slice(0, 5), pages(pdf.text ?? '')]).toEqual([200, '%PDF-', 4]);
    const own = await office.signIn('theown');
    const none = await own.call('POST', '/api/tables/quay_stays/exports', body);
    expect(none.body.total).toBe(0);
  });
});

describe('a card', () => {
  test('has what its form shows: sections, values in words, lines, who added it', async () => {
    const card = await printedRecord(
      app(),
      await definitions(),
      { table: 'quay_stays', id: 3, form: undefined },
      asking,
    );
    expect(card.title).toMatch(/^STAY-/);
    const texts = textsOf(cardDocument(card, 'letter').document.content);
    expect(texts).toEqual(
      expect.arrayContaining(['Note', 'stay 3', 'Persons', '4', expect.stringMatching(/^added .* · harbourmaster$/)]),
    );
    const { status, text } = await builder.call(
      'GET',
      '/api/tables/quay_stays/records/3/print?form=quay_check_in&paper=a4',
    );
    expect([status, text?.slice(0, 5)]).toEqual([200, '%PDF-']);
    expect((await builder.call('GET', '/api/tables/quay_stays/records/3/print?form=quay_gone')).status).toBe(404);
  });

  test('as it stood says so, and has the values of then', async () => {
    await builder.call(
      'POST',
      '/api/tables/quay_stays/entries',
      { values: { note: 'changed' }, record: 5, version: 1 },
      { 'idempotency-key': 'printed-as-of' },
    );
    const { lines } = (await builder.call('GET', '/api/tables/quay_stays/records/5/history')).body;
    const then = await printedAsOf(
      app(),
      await definitions(),
      { table: 'quay_stays', id: 5, form: undefined },
      lines.at(-1).at,
    );
    expect(textsOf(cardDocument(then, 'a4').document.content)).toEqual(
      expect.arrayContaining([expect.stringContaining('as it stood'), 'stay 5']),
    );
    const now = await builder.call('GET', '/api/tables/quay_stays/records/5/print?asOf=now');
    expect(now.status).toBe(200);
  });
});

describe('labels', () => {
  const [sheet] = COMMON_SHEETS;
  const layout = {
    sheet,
    lines: [{ text: '{note}', bold: true }, { text: 'Berth {berth.number}' }, { text: '{record}', size: 'small' }],
    qr: false,
  };
  const listing = { columns: [{ path: 'note' }], sort: [{ path: 'created_at', direction: 'up' }] };
  const preview = (more: object = {}, who = builder) =>
    who.call('POST', '/api/tables/quay_stays/label-preview', { listing, layout, ...more });

  test('are previewed sheet by sheet from the label that is still there', async () => {
    const { body } = await preview({ start: 5 });
    expect(body).toMatchObject({ total: 130, sheets: 6, misfits: 0 });
    expect(body.labels).toHaveLength(20);
    expect(body.labels[0]).toMatchObject({
      place: 4,
      lines: [{ text: 'stay 1', bold: true, points: 10.5 }, { text: expect.stringMatching(/^STAY-/) }],
    });
    expect((await preview({ start: 25 })).body.detail).toContain('from 1 to 24');
    const gone = await preview({ layout: { ...layout, lines: [{ text: '{gone}' }] } });
    expect([gone.status, gone.body.errors[0].path]).toEqual([422, 'layout.lines.0']);
  });

  test('too small for their text are told', async () => {
    const tiny = { ...sheet, columns: 1, rows: 1, width: 15, height: 8 };
    const { body } = await preview({ layout: { ...layout, sheet: tiny } });
    expect(body).toMatchObject({ misfits: 1, sheets: 130 });
  });

  test('stand each at its place on its sheet, with a code that opens the record', async () => {
    const { tables, table } = await stays();
    const wanted = { layout: labelLayoutSchema.parse({ ...layout, qr: true }), start: 24 };
    const reading = { database: app(), tables, table, query: query({ ...plainListing(table), ...listing }), reader };
    const job = await labelsDocument(reading, wanted, (id) => `https://fiche.gannet.example/${id}`);
    expect(job.foot).toBe(null);
    const content = job.document.content as {
      absolutePosition?: { x: number; y: number };
      pageBreak?: string;
      svg?: string;
    }[];
    expect(content.filter((one) => one.pageBreak === 'before')).toHaveLength(6);
    const drawings = content.flatMap((one) => one.svg ?? []);
    expect(drawings).toHaveLength(130);
    // The squares of the first code are those of its address.
    const { data, size } = QRCode.create('https://fiche.gannet.example/1', { errorCorrectionLevel: 'M' }).modules;
    const dark = new Set<number>();
    for (const [, x, y, width] of drawings[0]?.matchAll(/M(\d+) (\d+)\.5h(\d+)/g) ?? [])
      for (let at = 0; at < Number(width); at++) dark.add(Number(y) * size + Number(x) + at);
    expect([...dark].sort((a, b) => a - b)).toEqual([...data.keys()].filter((at) => data[at]));
    const places = content.flatMap((one) => one.absolutePosition ?? []);
    expect(places.filter(({ x, y }) => !(x >= 0 && x <= 596 && y >= 0 && y <= 842))).toEqual([]);
    const order = await builder.call('POST', '/api/tables/quay_stays/exports', {
      listing,
      print: { kind: 'labels', ...wanted },
    });
    const pdf = await builder.call('GET', `/api/tables/quay_stays/exports/${order.body.id}/file`);
    expect([pdf.text?.slice(0, 5), pages(pdf.text ?? '')]).toEqual(['%PDF-', 7]);
  });

  test('are kept by who builds, each change in the ledger, and offered to roles that see what they read', async () => {
    const url = '/api/tables/quay_stays/label-layouts';
    const { body: made } = await builder.call('POST', url, { label: 'Berth cards', layout });
    const changed = await builder.call('PUT', `${url}/${made.id}`, {
      label: 'Berth cards',
      layout: { ...layout, qr: true },
      revision: 1,
    });
    expect(changed.body).toMatchObject({ revision: 2, layout: { qr: true } });
    expect((await builder.call('PUT', `${url}/${made.id}`, { label: 'x', layout, revision: 1 })).status).toBe(409);
    const ledger = (await builder.call('GET', '/api/cabinets/quay/ledger?table=quay_stays')).body.lines;
    expect(ledger[0]).toMatchObject({
      what: 'Labels',
      title: 'Berth cards',
      changes: [
        {
          label: 'Layout',
          after: expect.stringContaining('24 on A4: {note} / Berth {berth.number} / {record}, with a code'),
        },
      ],
    });
    const blind = await office.signIn('theblind');
    const secret = { ...layout, lines: [{ text: '{note}' }] };
    await builder.call('POST', url, { label: 'With note', layout: secret });
    const seen = (await blind.call('GET', url)).body.layouts.map((one: { label: string }) => one.label);
    expect((await builder.call('GET', url)).body.layouts).toHaveLength(2);
    expect(seen.length).toBeLessThanOrEqual(2);
    expect((await builder.call('DELETE', `${url}/${made.id}`)).status).toBe(200);
  });
});
