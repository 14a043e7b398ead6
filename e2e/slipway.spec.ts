import { expect, type Page, test } from '@playwright/test';
import { addField, fieldRow, makeForm, newTable, openField } from './builder.ts';
import { choose, expectAccessible, field, fill, input, offers, said, setSlot, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

/** Enters records on the table's own card, one after the other. */
async function enter(
  page: Page,
  table: string,
  records: Record<string, string>[],
  links: readonly string[] = [],
): Promise<void> {
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New record' }).click();
  for (const record of records) {
    for (const [label, value] of Object.entries(record)) {
      if (links.includes(label)) await choose(page, label, value);
      else await fill(page, label, value);
    }
    await page.keyboard.press('Control+Enter');
    await expect(said(page, 'Saved as')).toBeVisible();
    await expect(input(page, Object.keys(record)[0] ?? '')).toHaveValue('');
  }
  await page.getByRole('navigation', { name: 'Where I am' }).getByRole('link', { name: table }).click();
  await expect(page.getByRole('status').first()).toHaveText(
    `${records.length} record${records.length === 1 ? '' : 's'}`,
  );
}

test('from nothing: tables, a link, records, a form, the form editor, and live', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await page.getByRole('button', { name: /^Cabinet/ }).click();
  await page.getByRole('menuitem', { name: 'Slipway' }).click();
  await expect(page.getByText('This cabinet is empty.')).toBeVisible();
  await expectAccessible(page);

  await newTable(page, 'Sheds');
  await addField(page, 'Name', 'Text', { required: true });
  await addField(page, 'Doors', 'Whole number');
  await enter(page, 'Sheds', [
    { Name: 'North shed', Doors: '2' },
    { Name: 'South shed', Doors: '1' },
  ]);

  await newTable(page, 'Cradles');
  await addField(page, 'Label', 'Text', { required: true });
  await addField(page, 'Shed', 'Link', { table: 'Sheds' });
  await addField(page, 'Longest', 'Decimal');
  await addField(page, 'Daily rate', 'Decimal');
  await expectAccessible(page);
  await enter(
    page,
    'Cradles',
    [
      { Label: 'N1', Shed: 'North shed', Longest: '9.5', 'Daily rate': '12' },
      { Label: 'N2', Shed: 'North shed', Longest: '14', 'Daily rate': '18.5' },
      { Label: 'S1', Shed: 'South shed', Longest: '11', 'Daily rate': '14' },
    ],
    ['Shed'],
  );

  // A third table, with a field of every kind.
  await newTable(page, 'Haul-outs');
  await addField(page, 'Job', 'Sequence number', { prefix: 'HAUL-' });
  await addField(page, 'Shed', 'Link', { table: 'Sheds' });
  await addField(page, 'Cradle', 'Link', { table: 'Cradles' });
  await addField(page, 'Longest', 'Decimal');
  await addField(page, 'Daily rate', 'Decimal');
  await addField(page, 'Vessel', 'Text');
  await addField(page, 'Persons', 'Whole number');
  await addField(page, 'Work', 'Choice', { choices: 'Scrub, Paint, Repair' });
  await addField(page, 'Crane needed', 'Yes/no');
  await addField(page, 'Booked on', 'Date');
  await addField(page, 'Out of the water', 'Date and time');
  await addField(page, 'Notes', 'Long text');

  await makeForm(page, 'Haul-outs', 'Haul out');

  // In the form editor: narrow, fill, reorder, require.
  const outline = page.getByRole('region', { name: 'Outline' });
  const slip = page.getByRole('complementary', { name: 'Settings' });
  await outline.getByRole('button', { name: /^Cradle/ }).click();
  await slip.getByRole('button', { name: 'Narrow it by another field' }).click();
  await expect(slip).toContainText('Offer Cradles whose Shed is this form’s Shed, sorted by title');
  await slip.getByRole('button', { name: 'Fill other fields from the chosen record' }).click();
  await expect(slip).toContainText('this form’s Daily rate with its Daily rate, replacing what is there');
  await expect(slip).toContainText('this form’s Longest with its Longest');
  await slip.getByLabel('Required').check();
  await outline.getByRole('button', { name: /^Vessel/ }).focus();
  for (let n = 0; n < 5; n++) await page.keyboard.press('Alt+ArrowUp');
  await expect(outline.locator('[data-outline]').nth(0)).toContainText('Vessel');
  await slip.getByLabel('Required').check();

  // The mouse moves a field, too; undo takes it back.
  const [from, to] = [
    outline.getByRole('button', { name: /^Notes/ }),
    outline.getByRole('button', { name: /^Persons/ }),
  ];
  const [a, b] = [await from.boundingBox(), await to.boundingBox()];
  await page.mouse.move((a?.x ?? 0) + 150, (a?.y ?? 0) + 8);
  await page.mouse.down();
  await page.mouse.move((b?.x ?? 0) + 150, (b?.y ?? 0) + 20, { steps: 6 });
  await page.mouse.move((b?.x ?? 0) + 150, (b?.y ?? 0) + 10, { steps: 3 });
  await page.mouse.up();
  await expect(outline.locator('[data-outline]').last()).toContainText('Out of the water');
  await expect(outline.locator('[data-outline]').filter({ hasText: /^Notes/ })).toHaveCount(1);
  // A click that comes at once after a drop is taken for a part of it.
  await expect(async () => {
    const last = outline.locator('[data-outline]').last();
    if (!(await last.innerText()).includes('Notes'))
      await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await expect(last).toContainText('Notes', { timeout: 1_000 });
  }).toPass();

  // Tried where it is built, on real data.
  const card = page.getByRole('region', { name: 'Live card' });
  await expect(page.getByText('Draft, not published yet')).toBeVisible();
  await choose(page, 'Shed', 'North shed');
  expect(await offers(page, 'Cradle')).toEqual(['N1', 'N2']);
  await choose(page, 'Cradle', 'N2');
  await expect(input(page, 'Daily rate')).toHaveValue('18.50');
  await expect(input(page, 'Longest')).toHaveValue('14.00');
  await card.getByRole('button', { name: 'Try saving' }).click();
  await expect(card).toContainText('Vessel is required.');
  await fill(page, 'Vessel', 'Eider Spray');
  await card.getByRole('button', { name: 'Try saving' }).click();
  await expect(card).toContainText('This would be saved. Trying writes nothing.');
  await expectAccessible(page);

  // Open to everybody, and live.
  await page.getByRole('button', { name: 'Form settings' }).click();
  await slip.getByRole('link', { name: 'Make a public page' }).click();
  await page.getByRole('button', { name: 'Make a public page' }).click();
  const settings = page.getByRole('region', { name: 'Settings of the public page' });
  await expect(settings.getByLabel('Address', { exact: true })).toHaveValue('haul-out');
  // What strangers will be able to read has to be confirmed first.
  await expect(page.getByRole('button', { name: 'Publish version 1' })).toBeDisabled();
  await expect(settings.getByRole('region', { name: 'What strangers can read' })).toContainText(
    'Strangers can read Name of Sheds, as the choices of Shed.',
  );
  await settings.getByRole('button', { name: /^Confirm all/ }).click();
  await page.getByRole('button', { name: 'Publish version 1' }).click();
  await expect(said(page, 'Version 1 of Haul out is published.')).toBeVisible();
});

test('the proof keeps what cannot work from being published', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/slipway/forms/slipway_haul_out/edit');
  const outline = page.getByRole('region', { name: 'Outline' });
  await outline.getByRole('button', { name: /^Shed/ }).focus();
  await page.keyboard.press('Delete');
  await expect(page.getByRole('button', { name: /Check: ▲ 1 problem/ })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Publish version 2' })).toBeDisabled();
  await page.getByRole('button', { name: /Check: ▲/ }).click();
  await page.getByRole('button', { name: 'Show me Cradle' }).click();
  await expect(page.getByRole('complementary', { name: 'Settings' })).toContainText(
    'Cradle is narrowed by Shed, which is not on the form.',
  );
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Check: no problems')).toBeVisible();
});

test('the clerk fills it by keyboard alone, corrects a record and archives one', async ({ page }) => {
  await signIn(page, 'quayclerk', '/slipway/forms');
  await expect(page.getByRole('link', { name: /^Edit form/ })).toHaveCount(0);
  await page.goto('/slipway/forms/slipway_haul_out/edit');
  await expect(page.getByText('The form editor is for builders.')).toBeVisible();

  await page.keyboard.press('Control+k');
  await page.keyboard.type('Haul out');
  await page.keyboard.press('Enter');
  await expect(input(page, 'Vessel')).toBeFocused();
  await page.keyboard.type('Dunlin Wake');
  await page.keyboard.press('Tab');
  await expect(input(page, 'Shed')).toBeFocused();
  await page.keyboard.type('nor');
  await page.keyboard.press('Tab');
  await expect(input(page, 'Shed')).toHaveValue('North shed');
  await page.keyboard.type('N1');
  await page.keyboard.press('Tab');
  await expect(input(page, 'Daily rate')).toHaveValue('12.00');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Tab');
  await expect(input(page, 'Persons')).toBeFocused();
  await page.keyboard.type('3');
  await page.keyboard.press('Tab');
  await page.keyboard.type('pai');
  await page.keyboard.press('Tab');
  await page.keyboard.press('y');
  await page.keyboard.press('Tab');
  await page.keyboard.type('3/12/26');
  await page.keyboard.press('Tab');
  await page.keyboard.type('4.12.26 0930');
  await page.keyboard.press('Control+s');
  await expect(said(page, /Saved as HAUL-\d{4}-00001/)).toBeVisible();
  await expect(input(page, 'Work')).toHaveValue('Paint');
  await expect(input(page, 'Booked on')).toHaveValue('3 Dec 2026');
  await expect(input(page, 'Out of the water')).toHaveValue('4 Dec 2026, 09:30');

  // Corrected: what changes and what depends on it.
  await choose(page, 'Shed', 'South shed');
  await expect(field(page, 'Cradle')).toContainText('“N1” was cleared');
  await choose(page, 'Cradle', 'S1');
  await expect(input(page, 'Daily rate')).toHaveValue('14.00');
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved.')).toBeVisible();
  await page.keyboard.press('Alt+h');
  const history = page.getByRole('complementary', { name: 'History' });
  await expect(history).toContainText('Haul out, version 1');
  await expect(history).toContainText('Cradle: N1 → became S1'.replace('→ became', '→became'));
  await expectAccessible(page);

  await page.getByRole('button', { name: 'Archive' }).click();
  await expect(page.getByText('This record is archived')).toBeVisible();
  await page.locator('.notices_notices').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('This record is archived')).toBeHidden();
  await page.getByRole('button', { name: 'Archive' }).click();
  await expect(page.getByText('This record is archived')).toBeVisible();
});

test('the auditor reads what happened, and can change nothing', async ({ page }) => {
  await signIn(page, 'auditor', '/slipway/ledger');
  const filter = page.locator('.ledger_filter');
  await setSlot(page, filter, /^account/, 'quayclerk');
  await setSlot(page, filter, /^table/, 'Haul-outs');
  const rows = page.getByRole('row');
  await expect(rows.filter({ hasText: 'Archived' })).toHaveCount(2);
  await expect(rows.nth(1)).toContainText('Archived');
  await expect(rows.filter({ hasText: 'harbourmaster' })).toHaveCount(0);
  await expectAccessible(page);
  await rows.nth(1).getByRole('link').click();
  await expect(page.getByRole('button', { name: 'Save' })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Restore' })).toHaveCount(0);
  await expect(input(page, 'Vessel')).toBeDisabled();
  await page.getByRole('button', { name: 'History' }).click();
  const history = page.getByRole('complementary', { name: 'History' });
  await expect(history).toContainText('quayclerk');
  await expect(history).toContainText('Record added');
  await page.goto('/slipway/forms');
  await expect(page.getByRole('button', { name: 'New form' })).toHaveCount(0);
});

test('anybody fills the public page on a phone and gets a reference', async ({ page, browser }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/p/haul-out');
  await expect(page.getByRole('heading', { name: 'Haul out' })).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByRole('button', { name: 'Send, 2 answers left' })).toBeVisible();
  await expect(input(page, 'Vessel')).toBeFocused();
  await fill(page, 'Vessel', 'Petrel Song');
  await choose(page, 'Shed', 'South shed');
  expect(await offers(page, 'Cradle')).toEqual(['S1']);
  await choose(page, 'Cradle', 'S1');
  await expect(input(page, 'Longest')).toHaveValue('11.00');
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByText(/Your reference: HAUL-\d{4}-0000[23]/)).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

  const clerk = await browser.newPage();
  await signIn(clerk, 'quayclerk', '/slipway/tables/slipway_haul_outs');
  await clerk.getByRole('row').filter({ hasText: 'Petrel Song' }).click();
  await expect(clerk.getByText(/^added .* page:haul-out$/)).toBeVisible();
  await clerk.context().close();
});

test('a link that is narrowed in its table is so on its own card; an amount and an account are fields like any other', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster');
  await page.getByRole('button', { name: /^Cabinet/ }).click();
  await page.getByRole('menuitem', { name: 'Slipway' }).click();
  await newTable(page, 'Loans');
  await addField(page, 'What for', 'Text');
  await addField(page, 'Shed', 'Link', { table: 'Sheds' });
  await addField(page, 'Cradle', 'Link', { table: 'Cradles' });
  await addField(page, 'Keeper', 'Account');
  await addField(page, 'Fee', 'Amount', { currency: 'swiss' });
  await expect(fieldRow(page, 'Fee')).toContainText('Amount in CHF');

  const cradle = await openField(page, 'Cradle');
  await cradle.getByRole('button', { name: 'Narrow Cradle by another field' }).click();
  await expect(cradle).toContainText('Offer Cradles whose Shed is this record’s Shed');
  await cradle.getByRole('button', { name: 'Apply to Loans' }).click();
  await expect(fieldRow(page, 'Cradle')).toContainText('narrowed by Shed');
  await expectAccessible(page);

  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New record' }).click();
  await fill(page, 'What for', 'A short loan');
  const all = await offers(page, 'Cradle');
  await choose(page, 'Shed', 'South shed');
  const narrowed = await offers(page, 'Cradle');
  expect(narrowed.length).toBeLessThan(all.length);
  await input(page, 'Keeper').fill('bride');
  await page.keyboard.press('Enter');
  await expect(input(page, 'Keeper')).toHaveValue('nightclerk');
  await fill(page, 'Fee', '1234.5');
  await page.keyboard.press('Tab');
  await expect(input(page, 'Fee')).toHaveValue('CHF 1,234.50');
  await page.keyboard.press('Control+s');
  await expect(said(page, /^Saved/)).toBeVisible();
});
