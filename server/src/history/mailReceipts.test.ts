import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { type Client, type TestOffice, testOffice } from '../fixtures/office.ts';
import { mailReceipts, sealLedger } from './index.ts';

let office: TestOffice;
let builder: Client;
const owner = () => office.database.databases.owner;
const address = '/api/cabinets/quay/ledger/receipt-mail';
const sent = async () => owner()('fiche.message').where({ kind: 'receipt' }).orderBy('id');
const mail = { server: null, publicUrl: 'http://127.0.0.1' };

beforeAll(async () => {
  office = await testOffice();
  builder = await office.signIn('harbourmaster');
});
afterAll(() => office.close());

test('a receipt goes to the address once a day, however often it is looked, and verifies by itself', async () => {
  await mailReceipts(owner(), mail);
  expect(await sent()).toEqual([]);
  expect((await builder.call('GET', address)).body).toEqual({ address: null });
  expect((await builder.call('PUT', address, { address: 'nowhere' })).body.errors).toMatchObject([{ path: 'address' }]);
  expect((await builder.call('PUT', address, { address: 'auditor@sound.example' })).status).toBe(200);
  await owner()
    .raw("SELECT ledger.make_seal(1, '0 seconds')")
    .catch(() => sealLedger(office.database.databases.app));
  await mailReceipts(owner(), mail);
  await mailReceipts(owner(), mail);
  const [one, ...more] = await sent();
  expect(more).toEqual([]);
  expect(one).toMatchObject({ address: 'auditor@sound.example', cabinet: 'quay', state: 'kept' });
  const json = String(one.body).slice(String(one.body).indexOf('{'));
  expect(JSON.parse(json)).toMatchObject({ format: 'fiche-receipt/1', seal: { number: expect.any(String) } });
  const folder = mkdtempSync(join(tmpdir(), 'receipt-'));
  writeFileSync(join(folder, 'receipt.json'), json);
  const { text } = await builder.call('GET', '/api/cabinets/quay/ledger/export');
  writeFileSync(join(folder, 'ledger.jsonl'), text ?? '');
  const tool = resolve(import.meta.dirname, '../../../tools/verify.mjs');
  const ran = spawnSync(process.execPath, [tool, join(folder, 'ledger.jsonl'), join(folder, 'receipt.json')], {
    encoding: 'utf8',
  });
  rmSync(folder, { recursive: true });
  expect(ran.stdout).toContain('No tampering found');
  // The next day there is another; and that it was set, and to whom, is in the ledger.
  await owner().raw("UPDATE fiche.receipt_mail SET last_at = now() - interval '25 hours'");
  await mailReceipts(owner(), mail);
  expect(await sent()).toHaveLength(2);
  const { body } = await builder.call('GET', '/api/cabinets/quay/ledger?limit=5');
  expect(body.lines[0]).toMatchObject({
    what: 'Settings',
    title: 'Receipts by mail',
    changes: [{ label: 'Address', after: 'auditor@sound.example' }],
  });
  await builder.call('PUT', address, { address: null });
  await owner().raw("UPDATE fiche.receipt_mail SET last_at = now() - interval '25 hours'");
  await mailReceipts(owner(), mail);
  expect(await sent()).toHaveLength(2);
});
