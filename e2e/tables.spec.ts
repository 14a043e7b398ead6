import { expect, type Locator, test } from '@playwright/test';
import { addField, fieldRow, newTable, openField } from './builder.ts';
import { divider, expectAccessible, said, setSlot, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

/** Pastes text as from a spreadsheet. */
const paste = (target: Locator, text: string): Promise<void> =>
  target.evaluate((element, pasted) => {
    const data = new DataTransfer();
    data.setData('text', pasted);
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, text);

test('an option list is made, pasted from a spreadsheet, corrected and saved', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  await page.getByRole('button', { name: 'New option list' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Dredging');
  await page.getByLabel(/^Levels/).fill('Water, Cause');
  await page.getByRole('button', { name: 'Create list' }).click();
  await expect(page.getByRole('tab', { name: 'Combinations' })).toHaveAttribute('aria-selected', 'true');
  await paste(page.getByLabel('Water, row 1'), 'Channel\tSilt\nChannel\tRock\nBasin\tSilt\nChannel\tSilt\nBasin\t\n');
  await expect(page.getByText('5 combinations, 2 to correct')).toBeVisible();
  await expect(page.getByText('This combination occurs twice.')).toBeVisible();
  await expect(page.getByText('Cause is empty.')).toBeVisible();
  await expect(page.getByRole('button', { name: /^Save/ })).toBeDisabled();
  await expectAccessible(page);
  await page.getByRole('button', { name: /^Remove row 4/ }).click();
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
  await newTable(page, 'Buoys');
  await addField(page, 'Mark', 'Text');
  await addField(page, 'Chain', 'Text');
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
  await page.getByRole('tab', { name: /^Fields/ }).click();

  // What the records that are there hold, by a calculation of their columns.
  await addField(page, 'Called', 'Text', { backfill: 'a formula', filling: '"Buoy " + mark' });

  // Another type: shown beforehand, with what does not convert.
  const chain = await openField(page, 'Chain');
  await chain.getByRole('button', { name: 'Change type…' }).click();
  const change = chain.locator('.trial_trial');
  await change.getByLabel('New type').selectOption({ label: 'Decimal' });
  await expect(change).toContainText('2 values convert, 1 does not:');
  await expect(change).toContainText('long');
  await expectAccessible(page);
  await change.getByRole('button', { name: /and blank 1 value/ }).click();
  await expect(fieldRow(page, 'Chain')).toContainText('Decimal, 2 places');

  // Required: first how many break it, and which.
  await chain.getByLabel('Required').click();
  await expect(chain).toContainText('1 record breaks this already');
  await expect(chain.getByRole('link', { name: 'N2' })).toBeVisible();
  await chain.getByRole('button', { name: 'Cancel' }).click();
  const mark = await openField(page, 'Mark');
  await mark.getByLabel('Required').click();
  await expect(fieldRow(page, 'Mark').getByRole('img', { name: 'required' })).toBeVisible();
  await mark.getByLabel('Input mask').fill('A0');
  await page.keyboard.press('Enter');
  await expect(fieldRow(page, 'Mark')).toContainText('mask A0');

  // Archived and back; moved by keyboard; a title of two fields.
  const called = await openField(page, 'Called');
  const before = new Date().toISOString();
  await called.getByRole('button', { name: 'Archive field' }).click();
  await expect(page.getByText('Archived fields, with their values and history: Called')).toBeVisible();
  // As it stood before, the list has the column of then, and today's has not.
  const fields = page.url();
  const [list] = /^.*\/tables\/\w+/.exec(fields) ?? [];
  await page.goto(`${list}?asOf=${encodeURIComponent(before)}`);
  const column = page.getByRole('columnheader', { name: 'Called' });
  await expect(column).toBeVisible();
  await expect(page.getByRole('gridcell', { name: 'Buoy N1' })).toBeVisible();
  await page.getByRole('button', { name: 'Back to today' }).click();
  await expect(page.getByRole('columnheader', { name: 'Mark' })).toBeVisible();
  await expect(column).toHaveCount(0);
  await page.goto(fields);
  await page.getByRole('button', { name: 'Restore Called' }).click();
  await expect(fieldRow(page, 'Called')).toBeVisible();
  await fieldRow(page, 'Called').getByRole('button', { name: 'Called', exact: true }).focus();
  await page.keyboard.press('Alt+ArrowUp');
  await expect(page.getByRole('table').getByRole('row').nth(2)).toContainText('Called');
  await setSlot(page, page.locator('main'), /^template of the title/, '{Mark}, chain {Chain}');
  await page.getByRole('tab', { name: /^Rules/ }).click();
  const rule = page.getByRole('group', { name: 'New rule between records' });
  await setSlot(page, rule, /^field that must agree|^a further field/, 'Mark');
  await setSlot(page, rule, /^a further field that must agree/, 'Chain');
  await setSlot(page, rule, /^message of the rule/, 'This buoy is in the table already.');
  await rule.getByRole('button', { name: 'Add rule' }).click();
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

test('a slipway has places for so many a day: what is there is counted first, and nobody is let in beyond', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster');
  await newTable(page, 'Hauls');
  await addField(page, 'Ramp', 'Text');
  await addField(page, 'Day', 'Date');
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New record' }).click();
  const haul = async (day: string): Promise<void> => {
    await page.getByLabel('Ramp').fill('East');
    await page.getByRole('textbox', { name: 'Day' }).fill(day);
    await page.keyboard.press('Control+Enter');
  };
  for (let n = 0; n < 2; n++) {
    await haul('3 Apr 2030');
    await expect(page.getByLabel('Ramp')).toHaveValue('');
  }
  await page.getByRole('navigation', { name: 'Where I am' }).getByRole('link', { name: 'Hauls' }).click();
  await page.getByRole('tab', { name: /^Rules/ }).click();
  const rule = page.getByRole('group', { name: 'New rule between records' });
  const add = rule.getByRole('button', { name: 'Add rule' });
  await setSlot(page, rule, /^kind of rule/, 'At most so many');
  await setSlot(page, rule, /^how many records/, 'two');
  await expect(rule.getByRole('alert')).toHaveText('Say how many records may fall on one day.');
  await setSlot(page, rule, /^how many records/, '1');
  await setSlot(page, rule, /^a further field that must agree/, 'Ramp');
  await setSlot(page, rule, /^beginning/, 'Day');
  await setSlot(page, rule, /^message of the rule/, 'The ramp is full that day. Choose another day.');
  await add.click();
  await expect(rule).toContainText('1 record breaks this already. Correct them first.');
  await setSlot(page, rule, /^how many records/, '2');
  await expectAccessible(page);
  await add.click();
  await expect(page.getByText('At most 2 records with the same Ramp fall on one day, by Day.')).toBeVisible();

  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New record' }).click();
  await haul('3 Apr 2030');
  await expect(page.getByText('The ramp is full that day. Choose another day.').first()).toBeVisible();
  await haul('4 Apr 2030');
  await expect(page.getByLabel('Ramp')).toHaveValue('');
});

test('several choices and several links are entered by keyboard, and read from the other end', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_buoys?fields');
  await addField(page, 'Signals', 'Choices (several)', { choices: 'lit, bell, radar' });
  await addField(page, 'Seen from', 'Links (several)', { table: 'Harbours' });
  await addField(page, 'Condition', 'Rating');
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
    await expect(
      page.locator('[data-several] .MuiChip-root').filter({ hasText: new RegExp(typed, 'i') }),
    ).toBeVisible();
  }
  await page.getByRole('radio', { name: '4' }).check();
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved.')).toBeVisible();
  await page.reload();
  await expect(page.locator('[data-several] .MuiChip-root')).toHaveText(['bell', 'lit', 'Tern Cove', 'Skerry Haven']);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Remove lit' }).click();
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
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_buoys');
  await page.getByRole('gridcell', { name: 'N3', exact: true }).click();
  await page.getByRole('button', { name: 'Archive', exact: true }).click();
  await page.getByRole('button', { name: 'Erase for good…' }).click();
  const form = page.getByRole('form', { name: 'Erase for good' });
  await expect(form.getByRole('button', { name: /for good$/ })).toBeDisabled();
  await expect(form.getByText(/Kept about it: the record, \d+ lines of history/)).toBeVisible();
  const exported = page.waitForEvent('download');
  await form.getByRole('button', { name: 'Export all of it as JSON' }).click();
  expect((await exported).suggestedFilename()).toMatch(/^gannet_buoys-\d+\.json$/);
  await form.getByLabel('Reason').fill('asked for by its owner');
  await form.getByRole('button', { name: /for good$/ }).click();
  await expect(said(page, 'is erased')).toBeVisible();
  await divider(page, 'Ledger').click();
  await setSlot(page, page.locator('.ledger_filter'), /^kind of change/, 'that erased');
  await expect(page.getByRole('row').nth(1)).toContainText('Reason: asked for by its owner');
  await page.getByRole('button', { name: 'Verify the ledger' }).click();
  await expect(page.getByText(/✓ No tampering found: .* lines of .* records/)).toBeVisible({ timeout: 60_000 });
  await expectAccessible(page);
});

test('a table that nothing needs is archived and restored; one that is needed says by what', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_pontoons?fields');
  await page.getByRole('button', { name: 'Archive table' }).click();
  const used = page.getByRole('alertdialog', { name: 'Archive table: it is used' });
  await expect(used.getByRole('link', { name: 'Berths' }).first()).toBeVisible();
  await expect(used).toContainText('This is possible once it is not used there any more.');
  await used.getByRole('button', { name: 'Leave it' }).click();
  await expect(page.getByRole('button', { name: 'Archive table' })).toBeVisible();

  await newTable(page, 'Ramps');
  await addField(page, 'Name', 'Text');
  await page.getByRole('button', { name: 'Archive table' }).click();
  await expect(page.getByRole('alert')).toContainText('Ramps is archived: its records can be read');
  await expect(page.getByRole('link', { name: 'New record' })).toBeHidden();
  await divider(page, 'Tables').click();
  await expect(page.getByRole('link', { name: 'Tariff' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Ramps' })).toBeHidden();
  await page.getByRole('checkbox', { name: /^Archived/ }).click();
  await page.getByRole('link', { name: 'Ramps' }).click();
  await page.getByRole('button', { name: 'Restore', exact: true }).click();
  await expect(said(page, 'Ramps is back in use.')).toBeVisible();
  await expect(page.getByRole('link', { name: 'New record' })).toBeVisible();
});
