import { fileURLToPath } from 'node:url';
import { expect, type Page, test } from '@playwright/test';
import { divider, expectAccessible, said, setSlot, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const sample = (name: string): string => fileURLToPath(new URL(`../demo/files/${name}`, import.meta.url));
const columnRow = (page: Page, name: string) =>
  page.locator('.columns_columns').getByRole('row').filter({ hasText: name });
const verdict = (page: Page) => page.getByRole('region', { name: 'What the check found' });

test('a messy CSV becomes a table: found by looking, checked, corrected, imported', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  await page.getByLabel('Choose a file').setInputFiles(sample('winter-berths.csv'));
  await expect(page.getByText('It is delimited text in')).toContainText(
    'Windows-1252, with semicolons between the cells; its columns are named in row 2',
  );
  await expect(columnRow(page, 'Vessel')).toContainText('Möwe · Lady "Jane"');
  await expect(columnRow(page, 'Berthed on')).toContainText('a date, read day first');
  await expect(columnRow(page, 'Length')).toContainText('a decimal, with a decimal comma');
  await expect(columnRow(page, 'Paid')).toContainText('a yes/no');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Check every row' }).click();
  await expect(verdict(page)).toContainText(
    '6 rows checked: 4 records to add, 2 rows to correct. Nothing is written yet.',
  );
  await expect(verdict(page)).toContainText('Berthed on: There is no such day in the calendar.');
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: /export these rows as CSV/ }).click();
  const stream = await (await download).createReadStream();
  let rows = '';
  for await (const chunk of stream) rows += chunk;
  expect(rows).toContain('Vessel,Owner,Berthed on,Length (m),Paid,Reason');
  await page.getByRole('button', { name: 'Import the 4 good rows only' }).click();
  await page.getByRole('link', { name: 'See the records' }).click();
  await expect(page.getByRole('heading', { name: 'winter berths' })).toBeVisible();
  await expect(page.getByRole('status').first()).toHaveText('4 records');
  await expect(page.getByRole('gridcell', { name: '24 Dec 2026' })).toBeVisible();

  // The corrected rows go in again.
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  const corrected = rows.replace('31.02.2026', '28.02.2026').replace('eight', '"8,00"');
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'corrected.csv', mimeType: 'text/csv', buffer: Buffer.from(corrected) });
  await expect(columnRow(page, 'Reason')).toContainText('nowhere');
  await page.getByRole('button', { name: 'Check every row' }).click();
  await expect(verdict(page)).toContainText('2 rows checked: 2 records to add.');
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await page.getByRole('link', { name: 'See the records' }).click();
  await expect(page.getByRole('status').first()).toHaveText('6 records');

  // One line in the ledger, which opens into its records.
  await divider(page, 'Ledger').click();
  await page.getByRole('button', { name: 'corrected.csv' }).click();
  await expect(page.getByText('Only the records of one import.')).toBeVisible();
  await expect(page.getByRole('row')).toHaveCount(2);
  await page.getByRole('button', { name: 'and 1 more record' }).click();
  await expect(page.getByRole('row')).toHaveCount(3);
});

test('rows that cannot be imported are corrected in place, under the same checks, by keyboard', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/imports/new?into=gannet_vessels');
  const rows =
    'Registration,Name,Type,Length\nGS-9301,Auk,Ketch,nine\nGS-9302,Tern,Ketch,8\nGS-9303,Skua,Submarine,long\n';
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'more.csv', mimeType: 'text/csv', buffer: Buffer.from(rows) });
  await page.getByRole('button', { name: 'Check every row' }).click();
  await expect(verdict(page)).toContainText('1 record to add, 2 rows to correct.');
  const grid = page.getByRole('region', { name: 'Rows to correct' });
  // The column with a fault comes first, and each faulty cell says so.
  await expect(grid.getByRole('columnheader').nth(2)).toHaveText('Length');
  await expect(grid.getByLabel('Length, row 2')).toHaveAttribute('aria-invalid', 'true');
  await expectAccessible(page);
  await grid.getByLabel('Length, row 2').fill('9');
  await page.keyboard.press('Enter');
  await expect(grid.getByRole('row').filter({ hasText: '✓ Corrected' })).toHaveCount(1);
  await expect(grid.getByLabel('Length, row 4')).toBeFocused();
  await page.keyboard.type('7.5');
  await page.keyboard.press('Tab');
  // What is wrong with the row otherwise is said as soon as its cells can be read.
  await expect(grid).toContainText('“Submarine” is not one of the choices');
  await expect(grid).not.toContainText('Length:');
  // The check waits for the cell that was just left.
  await page.route('**/corrections', async (route) => {
    await expect(page.getByRole('button', { name: /Check again/ })).toBeFocused();
    await route.continue();
  });
  await grid.getByLabel('Type, row 4').fill('Ketch');
  await page.getByRole('button', { name: 'Check again with 1 corrected row' }).click();
  await expect(verdict(page)).toContainText('3 rows checked: 3 records to add.');
  await page.getByRole('button', { name: 'Import 3 rows' }).click();
  await page.getByRole('link', { name: 'See the records' }).click();
  await page.getByRole('searchbox').fill('GS-9303');
  await expect(page.getByRole('gridcell', { name: 'Skua', exact: true })).toBeVisible();
});

test('a workbook into a table that is there: its links are found, told apart by what stands beside them', async ({
  page,
}) => {
  await signIn(page, 'quayclerk', '/gannet/imports/new?into=gannet_berths');
  await page.getByLabel('Choose a file').setInputFiles(sample('new-berths.xlsx'));
  await expect(page.getByText('It is a workbook; its sheet')).toContainText('Berths; its columns are named in row 3');
  await expect(columnRow(page, 'Longest vessel')).toContainText('Longest vessel');
  await expect(columnRow(page, 'Surveyed')).toContainText('nowhere');
  await page.getByRole('button', { name: 'Check every row' }).click();
  // A letter alone is no pontoon: every harbour has an A.
  await expect(verdict(page)).toContainText('Several records of Pontoons are called “A”');
  await setSlot(page, columnRow(page, 'Pontoon'), /^where Pontoon goes/, 'nowhere');
  await page.getByRole('button', { name: 'Check every row' }).click();
  await expect(page.getByRole('alert')).toContainText('Pontoon is required in Berths, and no column goes there.');
});

test('JSON Lines by key: what is there is changed, what is not is added, what is wrong says why', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/imports/new?into=gannet_vessels');
  await page.getByLabel('Choose a file').setInputFiles(sample('vessels.jsonl'));
  await expect(
    page.getByText('A row finds its record by Registration; where it finds one, the record is changed'),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Check every row' }).click();
  await expect(verdict(page)).toContainText('5 rows checked: 3 records to add, 2 rows to correct.');
  await expect(verdict(page)).toContainText('An earlier row of the file has the same Registration.');
  await expect(verdict(page)).toContainText('“Submarine” is not one of the choices');
  await page.getByRole('button', { name: 'Import the 3 good rows only' }).click();
  await expect(page.getByText('is imported')).toBeVisible();

  // Pasted from a spreadsheet, by keyboard.
  await page.goto('/gannet/imports/new?into=gannet_vessels');
  await page
    .getByLabel(/^or paste rows/)
    .fill('Registration\tName\tType\tLength\nGS-9001\tPetrel the second\tKetch\t10.4');
  await page.keyboard.press('Tab');
  await expect(columnRow(page, 'Registration')).toContainText('Registration');
  await page.getByRole('button', { name: 'Check every row' }).click();
  await expect(verdict(page)).toContainText('1 row checked: 1 to change.');
  await page.getByRole('button', { name: 'Import 1 row' }).click();
  await expect(page.getByText('is imported')).toBeVisible();
  await expectAccessible(page);
});

test('a file that is no table says what to do', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/imports/new');
  const give = (name: string, content: string) =>
    page.getByLabel('Choose a file').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(content) });
  await give('rows.csv', '%PDF-1.7 …');
  await expect(page.getByRole('alert')).toHaveText('This is a PDF, not a table. Save the table as CSV or XLSX.');
  await give('empty.csv', '');
  await expect(page.getByRole('alert')).toContainText('This file is empty.');
});

test('another file chosen on the same page begins anew', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/imports/new?into=gannet_vessels');
  const give = async (name: string, rows: string): Promise<void> => {
    const buffer = Buffer.from(`Registration,Name,Type,Length\n${rows}`);
    await page.getByLabel('Choose a file').setInputFiles({ name, mimeType: 'text/csv', buffer });
    await expect(page.getByText(name)).toBeVisible();
    await page.getByRole('button', { name: 'Check every row' }).click();
  };
  await give('one.csv', 'GS-9101,Auk,Ketch,9\n');
  await expect(verdict(page)).toContainText('1 row checked: 1 record to add.');
  await give('two.csv', 'GS-9102,Puffin,Ketch,9\nGS-9103,Tern,Ketch,8\n');
  await expect(verdict(page)).toContainText('2 rows checked: 2 records to add.');
});

test('a whole cabinet is exported, and fills a new one', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  const download = page.waitForEvent('download');
  await page.getByRole('link', { name: 'Export cabinet' }).click();
  const file = await (await download).path();
  await page.getByRole('button', { name: /^Cabinet/ }).click();
  await page.getByRole('menuitem', { name: 'New cabinet…' }).click();
  await page.getByLabel('Name').fill('Gannet copy');
  await page.getByRole('button', { name: 'Create cabinet' }).click();
  await expect(page.getByText('This cabinet is empty.')).toBeVisible();
  await page.getByLabel('Import a cabinet file').setInputFiles(file);
  await expect(said(page, /^Imported: /)).toBeVisible({ timeout: 60_000 });
  await divider(page, 'Tables').click();
  await expectAccessible(page);
  await page.getByRole('link', { name: 'Stays', exact: true }).click();
  await expect(page.getByRole('gridcell', { name: /^STAY-\d{4}-0/ }).first()).toBeVisible();
  await divider(page, 'Forms').click();
  await expect(page.getByRole('link', { name: 'Check-in' }).first()).toBeVisible();
});

test('an import of thousands of records is put back from the ledger: what it added goes out of use', async ({
  page,
}) => {
  test.slow();
  await signIn(page, 'harbourmaster', '/gannet/imports/new');
  const rows = Array.from({ length: 5_100 }, (_one, n) => `R-${n},${n % 9}.5`).join('\n');
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'tide gauge.csv', mimeType: 'text/csv', buffer: Buffer.from(`Reading,Depth\n${rows}`) });
  await page.getByRole('button', { name: 'Check every row' }).click();
  await expect(verdict(page)).toContainText('5,100 rows checked: 5,100 records to add.', { timeout: 60_000 });
  await page.getByRole('button', { name: 'Import 5,100 rows' }).click();
  await expect(page.getByRole('link', { name: 'See the records' })).toBeVisible({ timeout: 60_000 });
  await divider(page, 'Ledger').click();
  await page.getByRole('button', { name: 'tide gauge.csv' }).click();
  await page.getByRole('button', { name: 'Put back', exact: true }).click();
  const sheet = page.getByRole('complementary');
  await expect(sheet.getByRole('status')).toContainText('too many records to be put back at once');
  await expectAccessible(page);
  await sheet.getByRole('button', { name: 'Archive the 5,100 records that it added' }).click();
  await expect(sheet.getByText('5,100 records put back as before.')).toBeVisible({ timeout: 60_000 });
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'tide gauge' }).first().click();
  await expect(page.getByRole('status').first()).toHaveText('0 records');
});
