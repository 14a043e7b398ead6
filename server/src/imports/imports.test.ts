import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import writeXlsx from 'write-excel-file/node';
import { asActor } from '../database/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
let clerk: Client;
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
  clerk = await office.signIn('quayclerk');
});
afterAll(() => office.close());

const owner = () => office.database.databases.owner;
const asOwner = (sql: string) =>
  asActor(owner(), { name: 'quayclerk', through: { kind: 'table', label: 'test' } }, (transaction) =>
    transaction.raw(sql),
  );
const rowsOf = async (sql: string) => (await owner().raw(sql)).rows;

interface ColumnPlan {
  name: string;
  to?: object;
  [more: string]: unknown;
}
const planOf = (
  into: object,
  columns: readonly ColumnPlan[],
  more: { reading?: object; [key: string]: unknown } = {},
) => {
  const { reading, ...others } = more;
  return {
    reading: { kind: 'csv', ...reading },
    into,
    columns: columns.map((column, at) => ({ at, to: { kind: 'nowhere' }, ...column })),
    ...others,
  };
};
const field = (id: string) => ({ kind: 'field', field: id });
const made = (label: string, type = 'text', settings = {}, required = false) => ({
  kind: 'new',
  field: { label, type, settings, required },
});

async function until(task: {
  id: number;
  state: string;
}): Promise<{ state: string; message: string; outcome: Record<string, unknown> }> {
  await office.services.tasks.idle();
  return (await builder.call('GET', `/api/cabinets/quay/tasks/${task.id}`)).body;
}

const receive = (content: string | Uint8Array, file = 'rows.csv', who = builder) =>
  who.send(`/api/cabinets/quay/imports?file=${encodeURIComponent(file)}`, content);

/** Sends a file, checks it under a plan, and gives what the check found. */
async function check(content: string | Uint8Array, plan: object, file = 'rows.csv') {
  const { body: received } = await receive(content, file);
  const begun = await builder.call('POST', `/api/cabinets/quay/imports/${received.id}/check`, { plan });
  if (begun.status !== 200) return { id: received.id as number, refused: begun.body.detail as string };
  const task = await until(begun.body);
  const bad = (await builder.call('GET', `/api/cabinets/quay/imports/${received.id}/bad-rows`)).body.rows as {
    number: number;
    problems: { column: string; message: string }[];
  }[];
  return { id: received.id as number, task, bad, refused: task.state === 'failed' ? task.message : undefined };
}

async function run(id: number, rows: 'all' | 'good' = 'all') {
  const begun = await builder.call('POST', `/api/cabinets/quay/imports/${id}/run`, { rows });
  return begun.status === 200
    ? until(begun.body)
    : { state: 'refused', message: begun.body.detail as string, outcome: {} };
}

let tables = 0;
/** Brings a file into a new table of text fields and gives its rows, in order. */
async function cells(content: string | Uint8Array, names: readonly string[], reading: object = {}, file?: string) {
  const label = `Cells ${++tables}`;
  const found = await check(
    content,
    planOf(
      { kind: 'new', label },
      names.map((name) => ({ name, to: made(name) })),
      { reading },
    ),
    file,
  );
  if (found.refused) return found.refused;
  await run(found.id);
  const columns = (
    await rowsOf(`SELECT id FROM fiche.field WHERE table_id = 'quay_cells_${tables}' ORDER BY position`)
  ).map((row: { id: string }) => row.id);
  const rows = await rowsOf(`SELECT * FROM data.quay_cells_${tables} ORDER BY id`);
  return rows.map((row: Record<string, string>) => columns.map((column: string) => row[column]));
}

describe('RFC 4180 and what is near it', () => {
  test.each([
    [
      'plain rows',
      'a,b\r\n1,2\r\n3,4\r\n',
      [
        ['1', '2'],
        ['3', '4'],
      ],
    ],
    ['no line break at the end', 'a,b\r\n1,2', [['1', '2']]],
    ['quotes around everything', '"a","b"\r\n"1","2"', [['1', '2']]],
    ['a separator in quotes', 'a,b\r\n"1,5",2', [['1,5', '2']]],
    ['a line break in quotes', 'a,b\r\n"1\n2",3', [['1 2', '3']]],
    ['a quote in quotes, doubled', 'a,b\r\n"the ""old"" slip",2', [['the "old" slip', '2']]],
    [
      'an empty cell',
      'a,b\r\n,2\r\n1,',
      [
        [null, '2'],
        ['1', null],
      ],
    ],
    ['spaces are part of a cell, and trimmed in text', 'a,b\r\n 1 ,2', [['1', '2']]],
    [
      'bare line feeds',
      'a,b\n1,2\n3,4',
      [
        ['1', '2'],
        ['3', '4'],
      ],
    ],
    ['a byte-order mark', '\ufeffa,b\n1,2', [['1', '2']]],
    [
      'a row that is too short',
      'a,b\n1\n3,4',
      [
        ['1', null],
        ['3', '4'],
      ],
    ],
    ['a row that is too long', 'a,b\n1,2,3', [['1', '2']]],
    ['blank lines', 'a,b\n\n1,2\n\n', [['1', '2']]],
    [
      'the header twice',
      'a,b\n1,2\na,b\n3,4',
      [
        ['1', '2'],
        ['3', '4'],
      ],
    ],
    ['a stray quote', 'a,b\n12" pipe,2', [['12" pipe', '2']]],
    ['a mark against formulas', "a,b\n'=1+1,'-x", [['=1+1', '-x']]],
  ])('%s', async (_what, content, expected) => {
    expect(await cells(content, ['a', 'b'])).toEqual(expected);
  });

  test('a quotation mark that is never closed is said with its row', async () => {
    expect(await cells('a,b\n1,2\n"3,4\n5,6\n', ['a', 'b'])).toMatch(/opened after row 2 and never closed/);
  });
});

describe('files that are not what was hoped', () => {
  test('Windows-1252 with semicolons and day-first dates', async () => {
    const bytes = Uint8Array.from(
      [...'Eigner;Ankunft\nGr\u00f6\u00dfe;17.8.2026\nM\u00f6we;3/9/26'].map((c) => c.charCodeAt(0)),
    );
    const plan = planOf(
      { kind: 'new', label: 'Ankunft' },
      [
        { name: 'Eigner', to: made('Eigner') },
        { name: 'Ankunft', to: made('Ankunft', 'date') },
      ],
      { reading: { encoding: 'windows-1252', separator: ';' } },
    );
    const { id } = await check(bytes, plan);
    expect(await run(id)).toMatchObject({ state: 'done', outcome: { add: 2, bad: 0 } });
    expect(await rowsOf('SELECT eigner, ankunft FROM data.quay_ankunft ORDER BY id')).toEqual([
      { eigner: 'Größe', ankunft: '2026-08-17' },
      { eigner: 'Möwe', ankunft: '2026-09-03' },
    ]);
  });

  test('a workbook: the second sheet, below a title row, with dates, numbers and a formula’s value', async () => {
    const rows = (data: unknown[][]) =>
      data.map((row) =>
        row.map((value) =>
          value === null ? null : value instanceof Date ? { value, format: 'yyyy-mm-dd' } : { value },
        ),
      );
    const book = await writeXlsx(
      [
        { sheet: 'About', data: rows([['Nothing here']]) },
        {
          sheet: 'Berths',
          data: rows([
            ['Berths of Gannet Quay', null],
            ['Number', 'Inspected'],
            ['A-1', new Date('2026-08-17T00:00:00Z')],
            ['A-2', null],
          ]),
        },
      ] as never,
      { dateFormat: 'yyyy-mm-dd' } as never,
    ).toBuffer();
    const plan = planOf(
      { kind: 'new', label: 'Inspected' },
      [
        { name: 'Number', to: made('Number') },
        { name: 'Inspected', to: made('Inspected', 'date') },
      ],
      { reading: { kind: 'xlsx', sheet: 2, header: 1 } },
    );
    const { id, refused } = await check(new Uint8Array(book), plan, 'berths.xlsx');
    expect(refused).toBeUndefined();
    await run(id);
    expect(await rowsOf('SELECT number, inspected FROM data.quay_inspected ORDER BY id')).toEqual([
      { number: 'A-1', inspected: '2026-08-17' },
      { number: 'A-2', inspected: null },
    ]);
  });

  test('JSON and JSON Lines, with names that come late and lists inside', async () => {
    expect(await cells('[{"a":1,"b":["x","y, z"]},{"b":null,"a":true}]', ['a', 'b'], { kind: 'json' })).toEqual([
      ['1', 'x, "y, z"'],
      ['yes', null],
    ]);
    expect(await cells('{"a":"1"}\n\n{"b":"2"}\n', ['a', 'b'], { kind: 'jsonl' })).toEqual([
      ['1', null],
      [null, '2'],
    ]);
    expect(await cells('{"a":1}\n{"a":', ['a'], { kind: 'jsonl' })).toMatch(/Line 2 is not JSON/);
    expect(await cells('[{"a":1},', ['a'], { kind: 'json' })).toMatch(/cut off/);
    expect(await cells('[1,2]', ['a'], { kind: 'json' })).toMatch(/not an object/);
  });

  test.each([
    ['a workbook that is none', 'PK\u0003\u0004 nonsense', { kind: 'xlsx' }, /cannot be read|damaged/],
    ['a sheet that is not there', zipSync({ 'x.txt': new Uint8Array(3) }), { kind: 'xlsx' }, /cannot be read/],
    [
      'a zip bomb',
      zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(450 * 1024 * 1024) }, { level: 9 }),
      { kind: 'xlsx' },
      /enormous/,
    ],
    ['no rows below the names', 'a,b\n', {}, /no rows below/],
    ['10,000 columns', `a${',x'.repeat(9_999)}\n1`, {}, /10,000 columns; at most 1,500/],
  ])('%s is refused with what to do', async (_what, content, reading, words) => {
    expect(await cells(content, ['a'], reading)).toMatch(words);
  });

  test('a file over the limit is refused before it is read', async () => {
    const refused = await builder.send('/api/cabinets/quay/imports?file=big.csv', 'a\n1', {
      'content-length': String(201 * 1024 * 1024),
    });
    expect(refused).toMatchObject({ status: 413, body: { detail: expect.stringContaining('at most 200 MB') } });
  });

  test('200,000 rows', async () => {
    const content = `Number,Depth\n${Array.from({ length: 200_000 }, (_one, n) => `B-${n},${n % 40}.5`).join('\n')}`;
    const { id, task } = await check(
      content,
      planOf({ kind: 'new', label: 'Many' }, [
        { name: 'Number', to: made('Number') },
        { name: 'Depth', to: made('Depth', 'decimal', { places: 1 }) },
      ]),
    );
    expect(task?.outcome).toMatchObject({ rows: 200_000, add: 200_000, bad: 0 });
    expect((await run(id)).state).toBe('done');
    expect((await rowsOf('SELECT count(*) AS n, sum(depth) AS sum FROM data.quay_many'))[0]).toEqual({
      n: 200_000,
      sum: 4_000_000,
    });
  });

  test('1,000 columns are taken', async () => {
    const names = Array.from({ length: 1_000 }, (_one, n) => `Column ${n}`);
    const found = await cells(`${names.join(',')}\n${names.map((_name, n) => n).join(',')}`, names);
    expect(found).toHaveLength(1);
    expect((found as string[][])[0]?.at(-1)).toBe('999');
  });

  test('an empty body, a file cut off, and a plan of nonsense leave nothing', async () => {
    const before = await rowsOf('SELECT count(*) AS n FROM fiche.import');
    const cut = await builder
      .send('/api/cabinets/quay/imports?file=cut.csv', 'a,b\n1,2', { 'content-length': '5000' })
      .catch(() => ({ status: 400 }));
    expect(cut.status).toBe(400);
    expect(await rowsOf('SELECT count(*) AS n FROM fiche.import')).toEqual(before);
    const { body } = await receive('a\n1');
    const plan = planOf({ kind: 'new', label: 'X' }, [{ name: 'a', to: { kind: 'field', field: 'nothing' } }]);
    expect((await builder.call('POST', `/api/cabinets/quay/imports/${body.id}/check`, { plan })).status).toBe(422);
  });
});

describe('into a table that is there', () => {
  const vessels = (more: object = {}) =>
    planOf(
      { kind: 'table', table: 'quay_vessels' },
      [
        { name: 'Registration', to: field('registration') },
        { name: 'Name', to: field('name') },
        { name: 'Length', to: field('length') },
      ],
      { key: ['registration'], ...more },
    );

  test('a key decides for each row: change, add; what is unchanged gets no line; bad rows say why', async () => {
    const content =
      'Registration,Name,Length\nGS-0421,Kittiwake Rose,12.4\nGS-0007,Tystie,6\nGS-0900,Fulmar,9\nGS-0901,Gannet,nine\nGS-0900,Twice,3\n,Nobody,1\n';
    const { id, task, bad } = await check(content, vessels());
    expect(task?.outcome).toEqual({ rows: 6, add: 1, change: 2, skip: 0, bad: 3 });
    expect(bad?.map((row) => [row.number, row.problems[0]?.column])).toEqual([
      [5, 'Length'],
      [6, 'Registration'],
      [7, 'Registration'],
    ]);
    expect(bad?.[1]?.problems[0]?.message).toContain('An earlier row of the file has the same Registration');
    expect(await run(id)).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('3 rows cannot be imported'),
    });
    const [{ n: lines }] = await rowsOf(`SELECT count(*) AS n FROM ledger.line WHERE place = 'data.quay_vessels'`);
    expect(await run(id, 'good')).toMatchObject({ state: 'done' });
    expect(await rowsOf('SELECT registration, name, length FROM data.quay_vessels ORDER BY registration')).toEqual([
      { registration: 'GS-0007', name: 'Tystie', length: 6 },
      { registration: 'GS-0421', name: 'Kittiwake Rose', length: 12.4 },
      { registration: 'GS-0900', name: 'Fulmar', length: 9 },
    ]);
    // One line for the record that changed, one for the new one; none for the vessel that stayed the same.
    const [{ n: after }] = await rowsOf(`SELECT count(*) AS n FROM ledger.line WHERE place = 'data.quay_vessels'`);
    expect(after - lines).toBe(2);
    // A second press writes nothing twice.
    expect((await run(id, 'good')).state).toBe('done');
    expect((await rowsOf('SELECT count(*) AS n FROM data.quay_vessels'))[0].n).toBe(3);
  });

  test('bad rows come out with their reasons, and go in again once corrected', async () => {
    const { id } = await check('Registration,Name,Length\nGS-0910,Puffin,ten\n', vessels());
    const file = await builder.call('GET', `/api/cabinets/quay/imports/${id}/bad-rows/export`);
    expect(file.text).toContain('Registration,Name,Length,Reason');
    const corrected = (file.text ?? '').replace('ten', '10');
    const again = await check(
      corrected,
      planOf({ kind: 'table', table: 'quay_vessels' }, [
        { name: 'Registration', to: field('registration') },
        { name: 'Name', to: field('name') },
        { name: 'Length', to: field('length') },
        { name: 'Reason' },
      ]),
    );
    expect(again.task?.outcome).toMatchObject({ add: 1, bad: 0 });
    expect(await run(again.id)).toMatchObject({ state: 'done' });
  });

  const stays = (names: string[], more: { key: string[] }) =>
    planOf(
      { kind: 'table', table: 'quay_stays' },
      names.map((name) => ({
        name,
        to: field(name.toLowerCase()),
        ...(name === 'Berth' ? { matchOn: 'number' } : {}),
      })),
      more,
    );

  test('a change of one field is held to rules over several, by what the record has', async () => {
    await builder.call('POST', '/api/tables/quay_stays/constraints', {
      constraint: {
        kind: 'noOverlap',
        id: 'berth_taken',
        same: ['berth'],
        from: 'arrival',
        to: 'departure',
        message: 'Berth taken.',
      },
    });
    const rows = (content: string, names: string[]) => check(content, stays(names, { key: ['note'] }));
    await asOwner(
      `INSERT INTO data.quay_stays (harbour, berth, note, arrival, departure) VALUES (1, 1, 'first', '2027-03-01 10:00', '2027-03-05 10:00'), (1, 1, 'second', '2027-03-05 10:00', '2027-03-09 10:00')`,
    );
    const early = await rows('Note,Departure\nfirst,2027-02-01 10:00\nsecond,2027-03-10 10:00\n', [
      'Note',
      'Departure',
    ]);
    expect(early.refused).toBeUndefined();
    expect(early.bad?.map((row) => row.problems)).toEqual([
      [{ column: 'Departure', message: 'Departure must be after arrival.' }],
    ]);
    const late = await rows('Note,Departure\nfirst,2027-03-06 10:00\n', ['Note', 'Departure']);
    expect(late.bad?.map((row) => row.problems[0]?.message)).toEqual(['Berth taken.']);
    // The good one changes that field and no other.
    await run(early.id, 'good');
    expect((await rowsOf(`SELECT departure, arrival, berth FROM data.quay_stays WHERE note = 'second'`))[0]).toEqual({
      departure: '2027-03-10T10:00',
      arrival: '2027-03-05T10:00',
      berth: 1,
    });
  });

  test('rows find the places that are left on a day, in their order; the others say so at their column', async () => {
    const message = 'No tender is free that day.';
    await builder.call('POST', '/api/cabinets/quay/tables', { label: 'Tender trips' });
    for (const field of [
      { label: 'Tender', type: 'text' },
      { label: 'Day', type: 'date' },
    ])
      await builder.call('POST', '/api/tables/quay_tender_trips/fields', { field });
    await builder.call('POST', '/api/tables/quay_tender_trips/constraints', {
      constraint: { kind: 'atMost', id: 'full', most: 2, same: ['tender'], from: 'day', message },
    });
    await asOwner(`INSERT INTO data.quay_tender_trips (tender, day) VALUES ('Tern', '2027-05-01')`);
    const checked = await check(
      'Tender,Day\nTern,2027-05-01\nTern,2027-05-01\nTern,2027-05-02\nGull,2027-05-01\n',
      planOf({ kind: 'table', table: 'quay_tender_trips' }, [
        { name: 'Tender', to: field('tender') },
        { name: 'Day', to: field('day') },
      ]),
    );
    expect(checked.bad?.map((row) => row.problems)).toEqual([[{ column: 'Day', message }]]);
    await run(checked.id, 'good');
    expect(await rowsOf(`SELECT count(*) AS n FROM data.quay_tender_trips`)).toEqual([{ n: 4 }]);
  });

  test('a rule that asks refuses rows, unless the import gives a reason; what is calculated is calculated', async () => {
    const { body: table } = await builder.call('PATCH', '/api/tables/quay_vessels', {
      rules: [
        {
          id: 'long',
          kind: 'ask',
          must: {
            kind: 'compare',
            left: { kind: 'form', path: 'length' },
            operator: 'atMost',
            right: { kind: 'constant', value: 30 },
          },
          at: 'length',
          message: 'Is it that long?',
        },
      ],
    });
    expect(table.rules).toHaveLength(1);
    await builder.call('POST', '/api/tables/quay_vessels/fields', {
      field: { label: 'Feet', type: 'decimal', settings: { places: 1 }, calculation: 'length * 3.28' },
    });
    const file = 'Registration,Name,Length\nGS-0950,Long,40\nGS-0951,Short,10\n';
    const asked = await check(file, vessels());
    expect(asked.bad?.map((row) => row.problems)).toEqual([
      [
        {
          column: 'Length',
          message: 'Is it that long? Correct the row, or give a reason for the whole import.',
        },
      ],
    ]);
    const told = await check(file, { ...vessels(), reason: 'Measured again in spring.' });
    await run(told.id);
    expect(
      await rowsOf(`SELECT length, feet FROM data.quay_vessels WHERE registration LIKE 'GS-095%' ORDER BY 1`),
    ).toEqual([
      { length: 10, feet: 32.8 },
      { length: 40, feet: 131.2 },
    ]);
    const { body: ledger } = await builder.call('GET', '/api/cabinets/quay/ledger?limit=5');
    expect(ledger.lines[0].reasons).toContain('Reason: Measured again in spring.');
    await builder.call('PATCH', '/api/tables/quay_vessels', { rules: [] });
  });

  test('an archived record is not changed behind its archive, and one that has moved since the check is not overwritten', async () => {
    const archived = await check('Registration,Name,Length\nGS-0940,Auk,8\n', vessels());
    await run(archived.id);
    await asOwner(`UPDATE data.quay_vessels SET archived_at = now() WHERE registration = 'GS-0940'`);
    const refused = await check('Registration,Name,Length\nGS-0940,Auk,9\n', vessels());
    expect(refused.bad?.[0]?.problems[0]?.message).toContain('is archived. Restore it first');
    const moved = await check('Registration,Name,Length\nGS-0007,Tystie the second,6\n', vessels());
    await asOwner(`UPDATE data.quay_vessels SET length = 7 WHERE registration = 'GS-0007'`);
    expect(await run(moved.id)).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('changed since the check'),
    });
    expect((await rowsOf(`SELECT name, length FROM data.quay_vessels WHERE registration = 'GS-0007'`))[0]).toEqual({
      name: 'Tystie',
      length: 7,
    });
    const planned = await check('Registration,Name,Length\nGS-0007,Tystie the third,6\n', vessels());
    await builder.call('PATCH', '/api/tables/quay_vessels/fields/name', { help: 'As painted on the stern.' });
    expect(await run(planned.id)).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('Vessels has been changed since the check'),
    });
  });

  test('what the file does not have begins as it does on a form', async () => {
    const add = (field: object) => builder.call('POST', '/api/tables/quay_harbours/fields', { field });
    await add({ label: 'Open', type: 'yesNo', initial: { kind: 'value', value: true } });
    await add({ label: 'By', type: 'text', initial: { kind: 'account' } });
    const { id } = await check(
      'Name\nPetrel Bay\n',
      planOf({ kind: 'table', table: 'quay_harbours' }, [{ name: 'Name', to: field('name') }]),
    );
    await run(id);
    expect((await rowsOf(`SELECT open, "by" FROM data.quay_harbours WHERE name = 'Petrel Bay'`))[0]).toEqual({
      open: true,
      by: 'harbourmaster',
    });
    expect(await add({ label: 'Odd', type: 'wholeNumber', initial: { kind: 'today' } })).toMatchObject({ status: 422 });
  });

  test('no line of an import is stamped as the database', async () => {
    expect(
      await rowsOf(`SELECT account FROM ledger.line WHERE place = 'fiche.import' AND account LIKE 'db:%'`),
    ).toEqual([]);
  });

  test('a link is found by name, told apart by what stands beside it, and refused when it is not there', async () => {
    const content = 'Number,Pontoon,Harbour\nN-1,A,Gannet Quay\nN-2,A,\nN-3,Z,\nN-4,B,\n';
    const berths = planOf({ kind: 'table', table: 'quay_berths' }, [
      { name: 'Number', to: field('number') },
      { name: 'Pontoon', to: field('pontoon'), matchOn: 'letter' },
    ]);
    const { bad, task } = await check(content, berths);
    expect(task?.outcome).toMatchObject({ add: 1, bad: 3 });
    expect(bad?.map((row) => row.problems[0]?.message)).toEqual([
      expect.stringContaining('Several records of Pontoons are called “A”'),
      expect.stringContaining('Several records of Pontoons are called “A”'),
      expect.stringContaining('no record of Pontoons called “Z”'),
    ]);
    const berthed = planOf({ kind: 'table', table: 'quay_stays' }, [
      { name: 'Harbour', to: field('harbour'), matchOn: 'name' },
      { name: 'Pontoon', to: field('pontoon'), matchOn: 'letter' },
      { name: 'Berth', to: field('berth'), matchOn: 'number' },
      { name: 'Arrival', to: field('arrival') },
      { name: 'Departure', to: field('departure') },
    ]);
    const told = await check(
      'Harbour,Pontoon,Berth,Arrival,Departure\ntern cove,A,A-1,17/8/2026 15:30,19/8/2026 10:00\nGannet Quay,A,A-2,2026-08-19 10:00,2026-08-17 10:00\n',
      berthed,
    );
    expect(told.bad?.[0]?.problems).toEqual([{ column: 'Departure', message: 'Departure must be after arrival.' }]);
    await run(told.id, 'good');
    expect((await rowsOf('SELECT harbour, pontoon, berth FROM data.quay_stays ORDER BY id DESC LIMIT 1'))[0]).toEqual({
      harbour: 2,
      pontoon: 3,
      berth: 4,
    });
  });

  test('the whole import is one line in the ledger that opens into its records', async () => {
    const { id } = await check('Registration,Name,Length\nGS-0920,Skua,8\nGS-0921,Tern,7\n', vessels());
    await run(id);
    const { body } = await builder.call('GET', '/api/cabinets/quay/ledger?limit=5');
    const [line] = body.lines;
    expect(line).toMatchObject({ what: 'Import', title: 'rows.csv', import: id, through: 'Import of rows.csv' });
    const opened = await builder.call('GET', `/api/cabinets/quay/ledger?import=${id}`);
    expect(opened.body.lines.map((one: { what: string; title: string }) => `${one.what} ${one.title}`)).toEqual([
      'Vessels Tern',
      'Vessels Skua',
    ]);
  });

  test('a clerk brings rows in, but makes no table', async () => {
    const { body } = await receive('a\n1', 'x.csv', clerk);
    const plan = planOf({ kind: 'new', label: 'Mine' }, [{ name: 'a', to: made('a') }]);
    expect((await clerk.call('POST', `/api/cabinets/quay/imports/${body.id}/check`, { plan })).status).toBe(403);
  });

  test('a server that died while at it leaves nothing half done, and another takes the work up', async () => {
    const { id } = await check('Registration,Name,Length\nGS-0930,Petrel,8\n', vessels());
    const [{ id: task }] = await rowsOf(
      `INSERT INTO fiche.task (cabinet, kind, label, plan, account, state, beat_at) VALUES ('quay', 'writeImport', 'left behind', '{"id": ${id}, "rows": "all"}', 'harbourmaster', 'running', now() - interval '1 minute') RETURNING id`,
    );
    await office.services.tasks.takeUp();
    expect(await until({ id: task, state: '' })).toMatchObject({ state: 'done' });
    expect(await rowsOf(`SELECT name FROM data.quay_vessels WHERE registration = 'GS-0930'`)).toEqual([
      { name: 'Petrel' },
    ]);
  });
});

test('a column is proposed as a link where its words tell records apart, not where many records share one', async () => {
  await asOwner(
    `INSERT INTO data.quay_vessels (registration, name) SELECT 'GS-9' || lpad(n::text, 3, '0'), CASE WHEN n % 2 = 0 THEN 'Ferry' ELSE 'Tender' END FROM generate_series(1, 40) n`,
  );
  const links = async (cells: string[]) =>
    (await builder.call('POST', '/api/cabinets/quay/imports/links', { columns: [{ name: 'Boat', cells }] })).body.links;
  expect(await links(['GS-9001', 'GS-9002', 'gs-9003'])).toEqual([
    { name: 'Boat', table: 'quay_vessels', field: 'registration', share: 1 },
  ]);
  expect(await links(['Ferry', 'Tender'])).toEqual([]);
});

describe('through a form', () => {
  const columns = ['harbour', 'pontoon', 'registration', 'note'].map((id) => ({
    name: id,
    to: field(id),
    matchOn: { harbour: 'name', pontoon: 'letter' }[id] ?? null,
  }));
  const into = { kind: 'table', table: 'quay_stays' };
  const file = [
    'harbour,pontoon,registration,note',
    'Gannet Quay,B,GS-0421,fits',
    'Tern Cove,B,GS-0421,another harbour’s pontoon',
    'Gannet Quay,A,GS-9999,unknown vessel',
  ].join('\n');

  test('rows are narrowed, filled and refused as if they were entered there', async () => {
    const plain = await check(file, planOf(into, columns));
    expect(plain.bad).toEqual([]);
    const found = await check(file, planOf(into, columns, { form: 'quay_check_in' }));
    expect(found.bad?.map((row) => [row.number, row.problems[0]?.column])).toEqual([
      [3, 'pontoon'],
      [4, 'registration'],
    ]);
    await run(found.id, 'good');
    const [row] = await rowsOf(
      "SELECT s.vessel, s.length = v.length AS filled FROM data.quay_stays s JOIN data.quay_vessels v ON v.id = s.vessel WHERE s.note = 'fits'",
    );
    expect(row).toEqual({ vessel: 1, filled: true });
  });

  test('a corrected row passes the form as well; a column that the form fills by itself is refused', async () => {
    const found = await check(file, planOf(into, columns, { form: 'quay_check_in' }));
    const { body } = await builder.call('POST', `/api/cabinets/quay/imports/${found.id}/corrections`, {
      rows: [
        { number: 3, cells: ['Gannet Quay', 'B', 'GS-0007', 'mended'] },
        { number: 4, cells: ['Tern Cove', 'B', 'GS-0007', 'still wrong'] },
      ],
    });
    expect(body.rows.map((one: { problems: object[] }) => one.problems.length)).toEqual([0, 1]);
    const filled = [...columns, { name: 'vessel', to: field('vessel'), matchOn: 'name' }];
    const refused = await check(
      `${file.split('\n')[0]},vessel\nGannet Quay,B,GS-0421,x,Tystie`,
      planOf(into, filled, { form: 'quay_check_in' }),
    );
    expect(refused.refused).toContain('Vessel is read-only in Check-in');
    expect((await check(file, planOf(into, columns, { form: 'quay_gone' }))).refused).toContain('not there');
  });
});

describe('XML', () => {
  const xml = `<?xml version="1.0" encoding="windows-1252"?>
    <arrivals><arrival><vessel>Möwe</vessel><crew><name>Ada</name></crew><crew><name>Finn</name></crew></arrival>
    <arrival><vessel>Tystie</vessel><crew><name>Odd</name></crew><crew><name>Rae</name></crew></arrival></arrivals>`;
  const bytes = Uint8Array.from([...xml].map((one) => one.charCodeAt(0)));

  test('is imported list by list: records, then the lines in them with what finds their record', async () => {
    const reading = { kind: 'xml', encoding: 'windows-1252' };
    expect(await cells(bytes, ['vessel'], reading, 'arrivals.xml')).toEqual([['Möwe'], ['Tystie']]);
    expect(await cells(bytes, ['arrival vessel', 'name'], { ...reading, sheet: 2 }, 'arrivals.xml')).toEqual([
      ['Möwe', 'Ada'],
      ['Möwe', 'Finn'],
      ['Tystie', 'Odd'],
      ['Tystie', 'Rae'],
    ]);
    expect(await cells(bytes, ['x'], { ...reading, sheet: 3 }, 'arrivals.xml')).toContain('this XML has 2');
  });

  test('with entities of its own is refused, and nothing of them is read', async () => {
    const bomb = '<!DOCTYPE x [<!ENTITY a "aaaa">]><x><y><n>&a;</n></y><y><n>b</n></y></x>';
    expect(await cells(bomb, ['n'], { kind: 'xml' }, 'bomb.xml')).toContain('defines entities of its own');
  });
});
