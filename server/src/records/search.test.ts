import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let clerk: Client;
const HARBOURS = ['Tern Cove', 'Gannet Quay', 'Skerry Haven'];
const CHOICES = ['Paint 100%', 'Scrub_deck', 'Repair'];
/** What the rows of Surveys show, by their ids. */
const rows = new Map<number, string[]>();

const builds = async (url: string, body: object) => (await office.signIn('harbourmaster')).call('POST', url, body);

beforeAll(async () => {
  office = await testOffice();
  clerk = await office.signIn('quayclerk');
  const table = (await builds('/api/cabinets/quay/tables', { label: 'Surveys' })).body.id;
  expect(table).toBe('quay_surveys');
  for (const field of [
    { label: 'Note', type: 'text' },
    { label: 'Report', type: 'longText' },
    { label: 'Kind', type: 'choice', settings: { choices: CHOICES } },
    { label: 'Work', type: 'choices', settings: { choices: CHOICES } },
    { label: 'Harbour', type: 'link', settings: { table: 'quay_harbours' } },
    { label: 'Seen from', type: 'links', settings: { table: 'quay_harbours' } },
    { label: 'Depth', type: 'wholeNumber' },
  ])
    await builds(`/api/tables/${table}/fields`, { field });
  const { owner } = office.services.databases;
  await owner.raw('UPDATE data.quay_harbours SET archived_at = now()');
  const links: Record<string, number> = {};
  for (const name of HARBOURS) {
    const { rows: made } = await owner.raw('INSERT INTO data.quay_harbours (name) VALUES (?) RETURNING id', [name]);
    links[name] = made[0].id;
  }
  const some = <T>(from: readonly T[], n: number): T => from[n % from.length] as T;
  for (let n = 0; n < 24; n++) {
    const shown = {
      note: some(['keel bent', 'Mast 7 torn', 'Über den Bug', ''], n),
      report: some(['Nothing to say.', 'The keel\nand the MAST'], n),
      kind: some(CHOICES, n),
      work: [some(CHOICES, n), some(CHOICES, n + 1)],
      harbour: some(HARBOURS, n),
      from: [some(HARBOURS, n + 1), some(HARBOURS, n + 2)].slice(n % 2),
      depth: n % 5,
    };
    const { rows: made } = await owner.raw(
      'INSERT INTO data.quay_surveys (note, report, kind, work, harbour, seen_from, depth) VALUES (?, ?, ?, ?, ?, ?, ?) RETURNING id',
      [
        shown.note,
        shown.report,
        shown.kind,
        shown.work,
        links[shown.harbour] ?? 0,
        shown.from.map((one) => links[one] ?? 0),
        shown.depth,
      ],
    );
    rows.set(made[0].id, [
      shown.note,
      shown.report,
      shown.kind,
      ...shown.work,
      shown.harbour,
      ...shown.from,
      `=${n % 5}`,
    ]);
  }
});
afterAll(() => office.close());

/** Whether a row shows a word: in a text, or as a whole number. */
const shows = (cells: readonly string[], word: string): boolean =>
  cells.some(
    (cell) => cell === `=${word}` || (!cell.startsWith('=') && cell.toLowerCase().includes(word.toLowerCase())),
  );

const WORDS = [
  'keel',
  'MAST',
  'übe',
  'tern',
  'cov',
  'haven',
  'paint',
  '100%',
  '_',
  'scr',
  'k',
  '7',
  '3',
  '0',
  'zzz',
  '%',
];

test('Find finds the rows that show every word, wherever each stands, and the export has the same', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.constantFrom(...WORDS), { minLength: 1, maxLength: 3 }), async (words) => {
      const search = encodeURIComponent(words.join(' '));
      const { body } = await clerk.call('GET', `/api/tables/quay_surveys/records?limit=100&search=${search}`);
      const expected = [...rows].filter(([, cells]) => words.every((word) => shows(cells, word))).map(([id]) => id);
      expect(body.records.map((one: { id: number }) => one.id).sort((a: number, b: number) => a - b)).toEqual(expected);
      expect(body.total).toBe(expected.length);
    }),
    { numRuns: 60 },
  );
  const file = await clerk.call('GET', '/api/tables/quay_surveys/export?search=tern%20mast');
  const expected = [...rows.values()].filter((cells) => shows(cells, 'tern') && shows(cells, 'mast'));
  expect(expected.length).toBeGreaterThan(0);
  expect(String(file.text ?? file.body).match(/Tern Cove/g)?.length).toBeGreaterThanOrEqual(expected.length);
});
