import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import readSheets from 'read-excel-file/node';
import { card, expectAccessible, fill, input, said, signIn } from './office.ts';

const OWNERS = '/gannet/tables/gannet_owners';
const sheet = (page: Page) => page.getByRole('complementary', { name: /Export/ });
const part = (page: Page, name: string) => sheet(page).getByRole('tab', { name });
/** The answer that a press on a button opens in a tab of its own: its address and its type. A PDF takes its time on a busy machine. */
async function opened(page: Page, press: () => Promise<void>): Promise<{ url: string; type: string | undefined }> {
  const [reply] = await Promise.all([
    page.context().waitForEvent('response', {
      predicate: (one) => /\/(file|print)(\?|$)/.test(one.url()) && one.status() === 200,
      timeout: 120_000,
    }),
    press(),
  ]);
  return { url: reply.url(), type: reply.headers()['content-type'] };
}
const status = async (page: Page): Promise<number> =>
  Number(
    (
      await page
        .getByRole('status')
        .filter({ hasText: /^[1-9][\d,]* records?$/ })
        .innerText()
    ).replace(/\D/g, ''),
  );

test('a list leaves as a workbook, by keyboard: numbers as such, and all of its records', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_vessels');
  const total = await status(page);
  await page.getByRole('button', { name: 'Export and print' }).focus();
  await page.keyboard.press('Enter');
  // From the heading, which takes the focus: pin, close, the parts, the format.
  await expect(sheet(page).getByRole('heading', { name: 'Export and print' })).toBeFocused();
  for (let presses = 0; presses < 4; presses++) await page.keyboard.press('Tab');
  await expect(sheet(page).getByLabel('Format')).toBeFocused();
  await page.keyboard.type('Work');
  await expect(sheet(page).getByText('Numbers and dates as such')).toBeVisible();
  await expectAccessible(page);
  for (let presses = 0; presses < 2; presses++) await page.keyboard.press('Tab');
  const [download] = await Promise.all([page.waitForEvent('download'), page.keyboard.press('Enter')]);
  expect(download.suggestedFilename()).toBe('Vessels.xlsx');
  await expect(sheet(page).getByText(`${total} records exported`)).toBeVisible();
  const [first] = (await readSheets(readFileSync(await download.path()))) as unknown as { data: unknown[][] }[];
  expect(first?.data).toHaveLength(total + 1);
  const cells = first?.data.slice(1).flat() ?? [];
  expect(cells.some((cell) => typeof cell === 'number')).toBe(true);
  expect(cells.some((cell) => cell instanceof Date)).toBe(true);
});

test('selected records are printed, and a card is', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_stays');
  await page
    .getByRole('checkbox', { name: /^Select / })
    .nth(1)
    .check();
  await page
    .getByRole('checkbox', { name: /^Select / })
    .nth(2)
    .check();
  await page.getByRole('button', { name: 'Export or print 2' }).click();
  await part(page, 'Print').click();
  await sheet(page).getByLabel('Paper').selectOption('Letter');
  await expectAccessible(page);
  const list = await opened(page, () => sheet(page).getByRole('button', { name: 'Open as PDF' }).click());
  expect(list.type).toBe('application/pdf');
  await expect(sheet(page).getByText('2 records printed')).toBeVisible();
  await page.goto('/gannet/forms/gannet_check_in/1');
  await expect(card(page)).toBeVisible();
  const one = await opened(page, () => card(page).getByRole('link', { name: 'Print' }).click());
  expect(one.type).toBe('application/pdf');
  expect((await (await page.request.get(one.url)).body()).subarray(0, 5).toString()).toBe('%PDF-');
});

test('labels: a layout of one’s own with a code, from the label that is still there, kept for others', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', OWNERS);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption({ label: 'Lead owners' });
  await page.getByRole('button', { name: 'Export and print' }).click();
  await part(page, 'Labels').click();
  const found = sheet(page).getByText(/^\d+ labels on \d+ sheets/);
  await expect(found).toBeVisible();
  const sheets = Number(/on (\d+) sheets/.exec(await found.innerText())?.[1]);
  await sheet(page).getByLabel('Saved labels').selectOption('Addresses');
  await expect(sheet(page).getByLabel('Line 2', { exact: true })).toHaveValue('{address}');
  await sheet(page).getByRole('button', { name: '+ Line' }).click();
  await sheet(page).getByRole('button', { name: 'value to put into line 3' }).click();
  await page.getByRole('option', { name: 'Phone', exact: false }).first().click();
  await expect(sheet(page).getByLabel('Line 3', { exact: true })).toHaveValue('{phone}');
  await sheet(page).getByLabel('With a code that opens the record').check();
  await sheet(page).getByLabel('Begin at label').fill('20');
  await expect(found).not.toHaveText(new RegExp(`on ${sheets} sheets`));
  await expectAccessible(page);
  // A field that is not there is told at its line, before anything is printed.
  await sheet(page).getByLabel('Line 3', { exact: true }).fill('{gone}');
  await expect(sheet(page).getByText('{gone} is not a field of Owners')).toBeVisible();
  await expect(sheet(page).getByRole('button', { name: /^Open .* as PDF$/ })).toBeDisabled();
  await sheet(page).getByLabel('Line 3', { exact: true }).fill('Tel. {phone}');
  await sheet(page).getByRole('button', { name: 'Save these labels for others' }).click();
  await sheet(page).getByLabel('Name', { exact: true }).fill('With phone');
  await sheet(page).getByRole('button', { name: 'Save', exact: true }).click();
  await expect(said(page, 'The labels With phone are saved.')).toBeVisible();
  const labels = await opened(page, () =>
    sheet(page)
      .getByRole('button', { name: /^Open .* as PDF$/ })
      .click(),
  );
  expect(labels.type).toBe('application/pdf');
  // Measures that do not fit on the paper say which ones to check.
  await sheet(page).getByLabel('Sheet', { exact: true }).selectOption('Other measures');
  await sheet(page).getByLabel('Labels across').fill('9');
  await expect(sheet(page).getByText(/wide together, and the paper is 210 mm/)).toBeVisible();
});

test('a calendar address shows the list to whoever has it, until it is revoked', async ({ page, request }) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_stays');
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption({ label: 'Arrivals this week' });
  await page.getByRole('button', { name: 'Export and print' }).click();
  await part(page, 'Calendar').click();
  await sheet(page).getByLabel('and ends on').selectOption('Departure');
  await sheet(page).getByRole('button', { name: 'Make an address' }).click();
  const address = new URL(await sheet(page).getByLabel('The address, shown this once').inputValue());
  await expectAccessible(page);
  const calendar = await request.get(address.pathname);
  expect(calendar.headers()['content-type']).toContain('text/calendar');
  expect(await calendar.text()).toContain('BEGIN:VEVENT');
  await sheet(page).getByRole('button', { name: 'Revoke the address of Arrivals this week' }).click();
  await expect(said(page, 'The address of Arrivals this week is revoked.')).toBeVisible();
  expect((await request.get(address.pathname)).status()).toBe(410);
});

test('an owner who was entered twice becomes one; what was hers follows, and it can be put back', async ({ page }) => {
  await signIn(page, 'harbourmaster', OWNERS);
  await page.getByRole('link', { name: 'Find duplicates' }).click();
  // Among fewer records first: none of them is there twice.
  const among = page.getByLabel('Only records that contain');
  await among.fill('Oar Lane Skerry');
  await page.keyboard.press('Enter');
  await expect(page.getByText('No records are alike in this.')).toBeVisible();
  await among.fill('');
  await page.getByRole('button', { name: 'Find duplicates' }).click();
  const groups = page.getByRole('navigation', { name: /Groups of records/ });
  await groups.getByRole('button').click();
  const compared = page.getByRole('table', { name: 'Records side by side' });
  await expect(compared.getByRole('link')).toHaveCount(2);
  const titles = await compared.getByRole('link').allInnerTexts();
  const stays = titles[0]?.replace(/\s+in a new tab$/, '') ?? '';
  await compared.getByRole('radio', { name: new RegExp(`^${stays} \\(`) }).check();
  await expect(page.getByText(/1 record of Vessels that links there will point to/)).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: `Merge 2 records into ${stays}` }).click();
  await expect(said(page, /2 records are one now/)).toBeVisible();
  await expect(page.getByText('No records are alike in this.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(said(page, 'The merge is put back.')).toBeVisible();
});

test('two records are compared out of the list and merged; the other one leads to the one that stays', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', '/gannet/tables');
  const { id } = await page.evaluate(async () => {
    const { csrf } = await (await fetch('/api/session')).json();
    const call = (url: string, body: object) =>
      fetch(url, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-fiche-csrf': csrf, 'idempotency-key': crypto.randomUUID() },
        body: JSON.stringify(body),
      }).then((reply) => reply.json());
    const table = await call('/api/cabinets/gannet/tables', { label: 'Leading marks' });
    await call(`/api/tables/${table.id}/fields`, { field: { label: 'Name', type: 'text' } });
    await call(`/api/tables/${table.id}/fields`, { field: { label: 'Light', type: 'text' } });
    return table;
  });
  for (const [name, light] of [
    ['North Head', ''],
    ['North Hed', 'Fl.R.4s'],
  ] as const) {
    await page.goto(`/gannet/tables/${id}/new`);
    await fill(page, 'Name', name);
    if (light) await fill(page, 'Light', light);
    await page.keyboard.press('Control+s');
    await expect(said(page, /^Saved/)).toBeVisible();
  }
  await page.goto(`/gannet/tables/${id}`);
  for (const at of [1, 2])
    await page
      .getByRole('checkbox', { name: /^Select / })
      .nth(at)
      .check();
  await page.getByRole('button', { name: 'Compare and merge' }).click();
  await expect(
    page
      .getByText('In North Head:')
      .or(page.getByText(/Light: blank/))
      .first(),
  ).toBeVisible();
  await page.getByRole('button', { name: /^Merge 2 records into/ }).click();
  await expect(said(page, /2 records are one now/)).toBeVisible();
  await page.goto(`/gannet/tables/${id}?archived=yes`);
  await page.getByRole('row').nth(1).click();
  await page.getByText('This record was merged into').getByRole('link').click();
  await expect(input(page, 'Light')).toHaveValue('Fl.R.4s');
});

test('XML is imported with the lines in it, each through the form or by the table alone', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/imports/new');
  const xml = `<?xml version="1.0"?><rounds><round><code>RD-1</code><by>Ada Finch</by>
    <find><what>Loose cleat</what></find><find><what>Worn fender</what></find></round>
    <round><code>RD-2</code><by>Odd Reef</by><find><what>Cracked plank</what></find></round></rounds>`;
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'rounds.xml', mimeType: 'application/xml', buffer: Buffer.from(xml) });
  await expect(page.getByText('It is XML; its records are')).toContainText('round (2)');
  const import_ = async (rows: string): Promise<void> => {
    await page.getByRole('button', { name: 'Check every row' }).click();
    await page.getByRole('button', { name: `Import ${rows}` }).click();
    await expect(page.getByText('rounds.xml is imported.')).toBeVisible();
  };
  await import_('2 rows');
  await page.getByRole('button', { name: 'Import round › find (3) next' }).click();
  // The lines find their round by its code.
  await expect(page.getByRole('row').filter({ hasText: 'round code' })).toContainText(/link to|Rounds/i);
  await expectAccessible(page);
});
