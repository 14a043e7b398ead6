import { afterAll, beforeAll, expect, test } from 'vitest';
import { asActor } from '../database/index.ts';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';

let office: TestOffice;
let clerk: Client;
const CHANGES = 450;

beforeAll(async () => {
  office = await testOffice();
  clerk = await office.signIn('quayclerk');
  const actor = { name: 'quayclerk', through: { kind: 'table', label: 'Harbours' } } as const;
  for (let n = 1; n <= CHANGES; n++)
    await asActor(office.database.databases.owner, actor, (write) =>
      write.raw('UPDATE data.quay_harbours SET name = ? WHERE id = 1', [`Tern Cove ${n}`]),
    );
});
afterAll(() => office.close());

const history = (query = '') => clerk.call('GET', `/api/tables/quay_harbours/records/1/history${query}`);

test('a long history comes page by page, each change once, from the newest to the first', async () => {
  const sizes: number[] = [];
  const ids: number[] = [];
  for (let before: number | null | undefined; before !== null; ) {
    const { status, body } = await history(before === undefined ? '' : `?before=${before}`);
    expect(status).toBe(200);
    sizes.push(body.lines.length);
    ids.push(...body.lines.map((line: { id: number }) => line.id));
    before = body.before;
  }
  expect(sizes).toEqual([200, 200, CHANGES + 1 - 400]);
  expect(ids).toEqual([...new Set(ids)].toSorted((a, b) => b - a));
  const { body } = await history(`?before=${ids.at(-1)}`);
  expect(body).toEqual({ lines: [], before: null });
});

test('what is held about a record has all of its changes', async () => {
  const builder = await office.signIn('harbourmaster');
  const { body } = await builder.call('GET', '/api/tables/quay_harbours/records/1/everything');
  expect(body.lines).toHaveLength(CHANGES + 1);
  expect(body.lines.at(-1).kind).toBe('add');
});

test.each(['0', '-1', 'x', '1.5'])('a page cannot begin before %s', async (before) => {
  expect((await history(`?before=${before}`)).status).toBe(422);
});

test('the lines that a filter finds are exported, however many, a row for each field that changed', async () => {
  const auditor = await office.signIn('auditor');
  const at = '/api/cabinets/quay/ledger/lines';
  const csv = await auditor.call('GET', `${at}?table=quay_harbours&account=quayclerk&as=csv`);
  const rows = (csv.text ?? '').trimEnd().split('\r\n');
  expect(rows[0]).toBe('\ufeffWhen,Account,Through,Kind,What,Record,Title,Field,Before,After,Reasons,Line,Transaction');
  expect(rows).toHaveLength(CHANGES + 1);
  expect(rows[1]).toContain(
    `change,Harbours,1,Tern Cove ${CHANGES},Name,Tern Cove ${CHANGES - 1},Tern Cove ${CHANGES},`,
  );
  const jsonl = await auditor.call('GET', `${at}?table=quay_harbours&account=quayclerk&as=jsonl`);
  const lines = (jsonl.text ?? '')
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as { id: number });
  expect(lines).toHaveLength(CHANGES);
  expect(new Set(lines.map((line) => line.id)).size).toBe(CHANGES);
  expect(lines[0]).toMatchObject({ account: 'quayclerk', table: 'quay_harbours', kind: 'change' });
});

test('what a spreadsheet would take for a formula is guarded', async () => {
  const actor = { name: 'quayclerk', through: { kind: 'table', label: 'Harbours' } } as const;
  await asActor(office.database.databases.owner, actor, (write) =>
    write.raw("UPDATE data.quay_harbours SET name = '=HYPERLINK(1)' WHERE id = 2"),
  );
  const builder = await office.signIn('harbourmaster');
  const { text } = await builder.call('GET', '/api/cabinets/quay/ledger/lines?table=quay_harbours&field=name');
  expect(text).toContain(",'=HYPERLINK(1),");
  expect(text).not.toContain(',=HYPERLINK');
});

test('a role that does not export a table gets no file of its lines, and is told which', async () => {
  const builder = await office.signIn('harbourmaster');
  const role = (await builder.call('GET', '/api/cabinets/quay')).body.roles.find(
    (one: { id: string }) => one.id === 'auditor',
  ).definition;
  const none = { see: 'all', add: 'none', change: 'none', archive: 'none', export: 'none', import: 'none', fields: {} };
  const { id, revision, ...definition } = role;
  const saved = await builder.call('PUT', `/api/cabinets/quay/roles/${id}`, {
    definition: { ...definition, tables: { quay_vessels: none } },
    revision,
  });
  expect(saved.status).toBe(200);
  const auditor = await office.signIn('auditor');
  const refused = await auditor.call('GET', '/api/cabinets/quay/ledger/lines');
  expect([refused.status, refused.body.detail]).toEqual([
    403,
    'Your role does not export all records of Vessels. Choose a table of which it does.',
  ]);
  expect((await auditor.call('GET', '/api/cabinets/quay/ledger/lines?table=quay_harbours')).status).toBe(200);
  // Nor does it get what the whole ledger says.
  expect((await auditor.call('GET', '/api/cabinets/quay/ledger/export')).status).toBe(403);
});
