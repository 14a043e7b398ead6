import { once } from 'node:events';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, test } from 'vitest';
import writeXlsx from 'write-excel-file/node';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let builder: Client;
beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
});
afterAll(() => office.close());

let tables = 0;

/** Brings a file into a new table of a text and a whole number: what was counted, and what is in the table then. */
async function bring(
  content: string | Uint8Array,
  kind: string,
  names: readonly [string, string] = ['Remark', 'Count'],
) {
  const label = `Brought in ${++tables}`;
  const { body: received } = await builder.send(`/api/cabinets/quay/imports?file=rows.${kind}`, content);
  const column = (at: number, type: string) => ({
    name: names[at],
    at,
    to: { kind: 'new', field: { label: ['Remark', 'Count'][at], type } },
  });
  const plan = {
    reading: { kind },
    into: { kind: 'new', label },
    columns: [column(0, 'text'), column(1, 'wholeNumber')],
  };
  const state = async (answer: { body: { id: number } }) => {
    await office.services.tasks.idle();
    return (await builder.call('GET', `/api/cabinets/quay/tasks/${answer.body.id}`)).body;
  };
  const checked = await state(await builder.call('POST', `/api/cabinets/quay/imports/${received.id}/check`, { plan }));
  if (checked.state !== 'done') return { refused: checked.message as string };
  const { rows, add, bad, skip, repeated } = checked.outcome;
  const badRows = (await builder.call('GET', `/api/cabinets/quay/imports/${received.id}/bad-rows`)).body.rows as {
    number: number;
    problems: { column: string; message: string }[];
  }[];
  if (add === 0) return { rows, add, bad, skip, repeated, badRows, there: [] };
  const written = await state(
    await builder.call('POST', `/api/cabinets/quay/imports/${received.id}/run`, { rows: 'good' }),
  );
  expect(written.state, written.message).toBe('done');
  const found = await office.database.databases.owner.raw(
    `SELECT remark, count FROM data.${written.outcome.table} ORDER BY id`,
  );
  return {
    rows,
    add,
    bad,
    skip,
    repeated,
    badRows,
    there: found.rows as { remark: string | null; count: number | null }[],
  };
}

interface Row {
  readonly remark: string;
  readonly count: string;
}
const row: fc.Arbitrary<Row> = fc.record({
  remark: fc.oneof(
    fc.constantFrom('dry', 'a,b', 'say "ho"', 'two\nlines', "it's", 'Übung', '  x', 'İzmir', '=1+1', 'null', '12'),
    fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 8 })
      .filter((text) => text.isWellFormed() && /\S/.test(text) && !/[\p{Cc}\p{Cf}\p{Cn}]/u.test(text)),
  ),
  count: fc.oneof(fc.nat({ max: 9_999 }).map(String), fc.constantFrom('', 'many', '1.5', '12345678901234567890')),
});
const isGood = ({ count }: Row): boolean => /^\d{0,6}$/.test(count);

const quote = (text: string): string =>
  /[",\r\n]/.test(text) || text.trim() !== text ? `"${text.replaceAll('"', '""')}"` : text;
const ends = fc.constantFrom('\n', '\r\n', '\r');
const json = ({ remark, count }: Row): object => ({
  Remark: remark,
  Count: /^\d+$/.test(count) ? Number(count) : count,
});

async function workbook(rows: readonly Row[]): Promise<Uint8Array> {
  const cells = [['Remark', 'Count'], ...rows.map((one) => [one.remark, one.count])].map((cellsOf) =>
    cellsOf.map((value) => (value === '' ? null : { value, type: String })),
  );
  const stream = await (
    writeXlsx as unknown as (data: unknown) => { toStream(): NodeJS.ReadableStream } | Promise<never>
  )(cells);
  const parts: Buffer[] = [];
  const readable = await (stream as { toStream(): NodeJS.ReadableStream | Promise<NodeJS.ReadableStream> }).toStream();
  readable.on('data', (part: Buffer) => parts.push(part));
  await once(readable, 'end');
  return Buffer.concat(parts);
}

test('every row of a file is accounted for, whatever the format and its line ends', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom('csv', 'json', 'jsonl', 'xlsx'),
      fc.array(row, { minLength: 1, maxLength: 12 }),
      fc.array(ends, { minLength: 13, maxLength: 13 }),
      async (kind, rows, lineEnds) => {
        const content =
          kind === 'csv'
            ? [['Remark', 'Count'], ...rows.map((one) => [quote(one.remark), quote(one.count)])]
                .map((cells, at) => `${cells.join(',')}${lineEnds[at]}`)
                .join('')
            : kind === 'json'
              ? JSON.stringify({ total: rows.length, items: rows.map(json) })
              : kind === 'jsonl'
                ? rows.map((one) => `${JSON.stringify(json(one))}\n`).join('')
                : await workbook(rows);
        const found = await bring(content, kind);
        expect(found.refused).toBeUndefined();
        const good = rows.filter(isGood);
        expect([found.rows, found.add, found.bad], JSON.stringify({ rows, badRows: found.badRows })).toEqual([
          rows.length,
          good.length,
          rows.length - good.length,
        ]);
        expect(found.rows).toBe((found.add ?? 0) + (found.bad ?? 0) + (found.skip ?? 0) + (found.repeated ?? 0));
        expect(found.there).toHaveLength(good.length);
        expect(found.there?.map((one) => one.count)).toEqual(
          good.map((one) => (one.count === '' ? null : Number(one.count))),
        );
      },
    ),
    { numRuns: 12 },
  );
});

test('names that come again are counted, and a cell that no text can hold is named with its row', async () => {
  const found = await bring('Remark,Count\nA,1\nRemark,Count\nB\u0000C,2\nD,3\n', 'csv');
  expect(found).toMatchObject({ rows: 4, add: 2, bad: 1, repeated: 1 });
  expect(found.badRows?.[0]).toMatchObject({
    number: 4,
    problems: [{ column: 'Remark', message: expect.stringContaining('NUL') }],
  });
});

test('what breaks says where', async () => {
  expect((await bring('{"Remark": "A", "Count": 1}\n{"Remark": oops}\n', 'jsonl')).refused).toContain(
    'Line 2 is not JSON, from character',
  );
  expect((await bring('[{"Remark": "A"},\n{"Remark": oops}]', 'json')).refused).toContain('line 2, character');
  expect((await bring(`Remark,Count\n"A,1\n${'x'.repeat(5 * 1024 * 1024)}`, 'csv')).refused).toContain(
    'longer than 4 MB',
  );
});

test('upper and lower case of a name are the database’s to say: İzmir is found as it is written, and in capitals', async () => {
  await builder.call(
    'POST',
    '/api/tables/quay_vessels/entries',
    { values: { name: 'İzmir' } },
    { 'idempotency-key': crypto.randomUUID() },
  );
  const { body: received } = await builder.send('/api/cabinets/quay/imports?file=rows.csv', 'Vessel\nİzmir\nİZMİR\n');
  const columns = [
    {
      name: 'Vessel',
      at: 0,
      to: { kind: 'new', field: { label: 'Vessel', type: 'link', settings: { table: 'quay_vessels' } } },
      matchOn: 'name',
    },
  ];
  const plan = { reading: { kind: 'csv' }, into: { kind: 'new', label: 'Passages' }, columns };
  const begun = await builder.call('POST', `/api/cabinets/quay/imports/${received.id}/check`, { plan });
  await office.services.tasks.idle();
  const { body } = await builder.call('GET', `/api/cabinets/quay/tasks/${begun.body.id}`);
  expect(body.outcome, body.message).toMatchObject({ rows: 2, add: 2, bad: 0 });
});
