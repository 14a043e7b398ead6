import { expect, type Locator, type Page, test } from '@playwright/test';
import { divider, expectAccessible, said, setSlot, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const fieldRow = (page: Page, label: string): Locator =>
  page.getByRole('row').filter({ has: page.getByRole('button', { name: `label: ${label}`, exact: true }) });

async function addField(
  page: Page,
  label: string,
  type: string,
  more: { backfill?: string; filling?: string; table?: string } = {},
): Promise<void> {
  const form = page.getByRole('form', { name: 'Add a field' });
  await form.getByLabel('Add a field, called').fill(label);
  await form.getByLabel('which is a').selectOption({ label: type });
  if (more.table) await form.getByLabel('to the table').selectOption({ label: more.table });
  if (more.backfill) await form.getByLabel('Records already here hold').selectOption({ label: more.backfill });
  if (more.filling) await form.getByLabel(/^namely/).fill(more.filling);
  await form.getByRole('button', { name: 'Add the field' }).click();
  await expect(fieldRow(page, label)).toBeVisible();
}

/** Pastes text as from a spreadsheet. */
const paste = (target: Locator, text: string): Promise<void> =>
  target.evaluate((element, pasted) => {
    const data = new DataTransfer();
    data.setData('text', pasted);
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, text);

test('an option list is made, pasted from a spreadsheet, mended and saved', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  await page.getByLabel('an option list').check();
  await page.getByLabel('A new option list, called').fill('Dredging');
  await page.getByLabel(/with the levels/).fill('Water, Cause');
  await page.getByRole('button', { name: 'Make the list' }).click();
  await expect(page.getByRole('tab', { name: 'Combinations' })).toHaveAttribute('aria-selected', 'true');
  await paste(page.getByLabel('Water, row 1'), 'Channel\tSilt\nChannel\tRock\nBasin\tSilt\nChannel\tSilt\nBasin\t\n');
  await expect(page.getByText('5 combinations, 2 to mend')).toBeVisible();
  await expect(page.getByText('This combination occurs twice.')).toBeVisible();
  await expect(page.getByText('Cause is empty.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Save/ })).toBeDisabled();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Take out row 4/ }).click();
  await page.getByLabel('Cause, row 4').fill('Wreck');
  await page.getByRole('button', { name: 'Save 4 changes' }).click();
  await expect(said(page, 'Saved: 4 added')).toBeVisible();
  await page.reload();
  // The blank row for new ones stands above those that are there.
  await expect(page.getByLabel('Cause, row 5')).toHaveValue('Wreck');
  await page.getByLabel('Water, row 1').pressSequentially('Channel');
  await page.getByLabel('Cause, row 1').fill('Silt');
  await expect(page.getByText('This combination occurs twice.')).toBeVisible();
  await page.getByLabel('Cause, row 1').fill('Sand');
  await page.getByLabel('Cause, row 3').fill('Clay');
  await page.getByRole('button', { name: /^Archive row 6/ }).click();
  await page.getByRole('button', { name: 'Save 3 changes' }).click();
  await expect(said(page, 'Saved: 1 added, 1 changed, 1 archived')).toBeVisible();
  await page.getByLabel('Find in Dredging').fill('wreck');
  await expect(page.getByText('0 combinations found')).toBeVisible();
  await page.getByLabel('Find in Dredging').fill('clay');
  await expect(page.getByLabel('Water, row 2')).toHaveValue('Channel');
  await expect(page.getByText('1 combination found')).toBeVisible();
});

test('a table is modelled: backfill, another type, rules, retire, title', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  await page.getByLabel('A new table, called').fill('Buoys');
  await page.getByRole('button', { name: 'Make the table' }).click();
  await addField(page, 'Mark', 'text');
  await addField(page, 'Chain', 'text');
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New record' }).click();
  for (const [mark, chain] of [
    ['N1', '12.5'],
    ['N2', 'long'],
    ['N3', '8'],
  ] as const) {
    await page.getByLabel('Mark').fill(mark);
    await page.getByLabel('Chain').fill(chain);
    await page.keyboard.press('Control+Enter');
    await expect(said(page, 'Saved as')).toBeVisible();
    await expect(page.getByLabel('Mark')).toHaveValue('');
  }
  await page.getByRole('navigation', { name: 'Where I am' }).getByRole('link', { name: 'Buoys' }).click();
  await page.getByRole('tab', { name: 'Fields' }).click();

  // What the records that are there hold, by a calculation of their columns.
  await addField(page, 'Called', 'text', { backfill: 'a calculation', filling: '"Buoy " + mark' });

  // Another type: shown beforehand, with what does not convert.
  await fieldRow(page, 'Chain')
    .getByRole('button', { name: /^type of the field/ })
    .click();
  await page.getByRole('option', { name: 'Change the type…' }).click();
  const change = fieldRow(page, 'Chain').locator('.trial');
  await change.getByLabel('New type of Chain').selectOption({ label: 'decimal' });
  await expect(change).toContainText('2 values convert, 1 do not:');
  await expect(change).toContainText('long');
  await expectAccessible(page);
  await change.getByRole('button', { name: /and blank 1 value/ }).click();
  await expect(fieldRow(page, 'Chain')).toContainText('A decimal of 2 places');

  // Required: first how many break it, and which.
  await setSlot(page, fieldRow(page, 'Chain'), /^whether it is required/, 'required');
  await expect(fieldRow(page, 'Chain')).toContainText('1 record breaks this already');
  await expect(fieldRow(page, 'Chain').getByRole('link', { name: 'N2' })).toBeVisible();
  await fieldRow(page, 'Chain').getByRole('button', { name: 'Leave it as it is' }).click();
  await setSlot(page, fieldRow(page, 'Mark'), /^whether it is required/, 'required');
  await expect(fieldRow(page, 'Mark').getByRole('button', { name: 'whether it is required: required' })).toBeVisible();
  await setSlot(page, fieldRow(page, 'Mark'), /^input mask/, 'A0');
  await expect(fieldRow(page, 'Mark').getByRole('button', { name: 'input mask: A0' })).toBeVisible();

  // Out of use and back; a title of two fields.
  await page.getByRole('button', { name: 'Retire Called' }).click();
  await expect(page.getByText('Out of use, with their values and history: Called')).toBeVisible();
  await page.getByRole('button', { name: 'Bring Called back' }).click();
  await expect(fieldRow(page, 'Called')).toBeVisible();
  await setSlot(page, page.locator('main'), /^template of the title/, '{Mark}, chain {Chain}');
  await page.getByRole('tab', { name: 'Rules' }).click();
  const rule = page.getByRole('region', { name: 'A new rule' });
  await setSlot(page, rule, /^field that must agree|^a further field/, 'Mark');
  await setSlot(page, rule, /^a further field that must agree/, 'Chain');
  await setSlot(page, rule, /^message of the rule/, 'This buoy is in the table already.');
  await rule.getByRole('button', { name: 'Hold this rule' }).click();
  await expect(page.getByText('No two records have the same Mark and Chain.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('gridcell', { name: 'N1', exact: true }).click();
  await expect(page.getByLabel('Called')).toHaveValue('Buoy N1');

  // Keyed as typed: the mask brings it into its form, and the rule holds.
  await page.getByRole('link', { name: 'New', exact: true }).click();
  await page.getByLabel(/^Mark/).fill('n1');
  await page.keyboard.press('Tab');
  await expect(page.getByLabel(/^Mark/)).toHaveValue('N1');
  await page.getByLabel('Chain').fill('12.5');
  await page.keyboard.press('Control+s');
  await expect(page.getByText('This buoy is in the table already.').first()).toBeVisible();
});

test('several choices and several links are entered by keyboard, and read from the other end', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await page.goto('/gannet/tables/gannet_buoys?fields');
  const form = page.getByRole('form', { name: 'Add a field' });
  await form.getByLabel('which is a').selectOption({ label: 'choices (several)' });
  await form.getByLabel('of these, with commas between').fill('lit, bell, radar');
  await addField(page, 'Signals', 'choices (several)');
  await addField(page, 'Seen from', 'links (several)', { table: 'Harbours' });
  await addField(page, 'Condition', 'rating');
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('gridcell', { name: 'N2', exact: true }).click();
  const signals = page.getByRole('combobox', { name: 'Signals' });
  await signals.focus();
  for (const typed of ['be', 'li']) {
    await page.keyboard.type(typed);
    await expect(page.getByRole('option')).toHaveCount(1);
    await page.keyboard.press('Enter');
  }
  await page.keyboard.press('Tab');
  const seen = page.getByRole('combobox', { name: 'Seen from' });
  await seen.focus();
  // As fast as it can be typed: what was meant is taken when its choices arrive.
  for (const typed of ['tern', 'sker']) {
    await page.keyboard.type(typed);
    await page.keyboard.press('Enter');
    await expect(page.locator('.several-item').filter({ hasText: new RegExp(typed, 'i') })).toBeVisible();
  }
  await page.getByRole('radio', { name: '4' }).check();
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved.')).toBeVisible();
  await page.reload();
  await expect(page.getByRole('button', { name: /^Take out/ })).toHaveText(['×', '×', '×', '×']);
  await expect(page.locator('.several-item')).toHaveText(['bell×', 'lit×', 'Tern Cove×', 'Skerry Haven×']);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Take out lit' }).click();
  await signals.focus();
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved.')).toBeVisible();
  await page.getByRole('button', { name: 'History' }).click();
  await expect(page.getByRole('complementary', { name: 'History' })).toContainText('bell, lit');
  await page.goto('/gannet/tables/gannet_harbours/2');
  await expect(page.getByRole('region', { name: 'What links here' })).toContainText('Buoys: 1 by Seen from');
});

test('a lead owner and its share holders are seen from either end', async ({ page }) => {
  await signIn(page, 'quayclerk');
  const holder = await page.evaluate(async () => {
    const { records } = await (await fetch('/api/tables/gannet_owners/records?limit=200&direction=down')).json();
    return records.find((one: { values: { lead_owner: number | null } }) => one.values.lead_owner !== null);
  });
  await page.goto(`/gannet/tables/gannet_owners/${holder.values.lead_owner}`);
  const linking = page.getByRole('region', { name: 'What links here' });
  await expect(linking).toContainText('by Lead owner');
  await linking.getByRole('link', { name: holder.title, exact: true }).first().click();
  await expect(page.getByLabel(/^Name/)).toHaveValue(holder.values.name);
  await page.goBack();
  await linking.getByRole('link', { name: /^Owners: / }).click();
  await expect(page.getByRole('status').first()).toContainText('that link there by Lead owner');
  await expectAccessible(page);
});

test('an archived record is erased with a reason; the ledger says so, and verifies', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await page.goto('/gannet/tables/gannet_buoys');
  await page.getByRole('gridcell', { name: 'N3', exact: true }).click();
  await page.getByRole('button', { name: 'Archive', exact: true }).click();
  await page.getByRole('button', { name: 'Erase for good…' }).click();
  const form = page.getByRole('form', { name: 'Erase for good' });
  await expect(form.getByRole('button', { name: /for good$/ })).toBeDisabled();
  await expect(form.getByText(/Held about it: the record, \d+ lines of history/)).toBeVisible();
  const exported = page.waitForEvent('download');
  await form.getByRole('button', { name: 'Export all of it as JSON' }).click();
  expect((await exported).suggestedFilename()).toMatch(/^gannet_buoys-\d+\.json$/);
  await form.getByLabel(/^Why/).fill('asked for by its owner');
  await form.getByRole('button', { name: /for good$/ }).click();
  await expect(said(page, 'is erased')).toBeVisible();
  await divider(page, 'Ledger').click();
  await setSlot(page, page.locator('.ledger-filter'), /^kind of change/, 'that erased');
  await expect(page.getByRole('row').nth(1)).toContainText('because: asked for by its owner');
  await page.getByRole('button', { name: 'Verify the ledger' }).click();
  await expect(page.getByText(/✓ No tampering found: .* lines of .* records/)).toBeVisible({ timeout: 60_000 });
  await expectAccessible(page);
});
