import { expect, type Locator, type Page, test } from '@playwright/test';
import { makeForm } from './builder.ts';
import { divider, expectAccessible, said, setSlot, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const grid = (page: Page): Locator => page.getByRole('grid', { name: 'Moorings' });
const rows = (page: Page): Locator => grid(page).locator('[role=row][aria-selected]');
const cellOf = (page: Page, name: string): Locator => grid(page).getByRole('gridcell', { name, exact: true });
const row = (page: Page, name: string): Locator =>
  rows(page).filter({ has: page.getByRole('gridcell', { name, exact: true }) });
const status = (page: Page): Locator => page.getByRole('status').filter({ hasText: /records?$/ });
const pane = (page: Page): Locator => page.getByRole('complementary', { name: 'Card beside the list' });
const verdict = (page: Page): Locator => page.getByRole('region', { name: 'What the check found' });

const moorings = (): Buffer => {
  const lines = Array.from(
    { length: 60 },
    (_, at) => `Ring ${at + 1},${at % 3 ? 'Chain' : 'Rope'},${2 + (at % 10)},${1 + (at % 4)}`,
  );
  return Buffer.from(`Name,Kind,Depth,Weight\n${lines.join('\n')}\n`);
};

async function open(page: Page): Promise<void> {
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Moorings', exact: true }).click();
  await expect(rows(page).first()).toBeVisible();
}

/** Puts a block on the clipboard’s way to the list, as a paste does. */
const paste = (page: Page, text: string): Promise<void> =>
  grid(page).evaluate((element, block) => {
    const clipboardData = new DataTransfer();
    clipboardData.setData('text/plain', block);
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true }));
  }, text);

test('a view asks for a value each time, calculates a column, and is shared', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'Moorings.csv', mimeType: 'text/csv', buffer: moorings() });
  await page.getByRole('button', { name: 'Check every row' }).click();
  await page.getByRole('button', { name: 'Import 60 rows' }).click();
  await page.getByRole('link', { name: 'See the records' }).click();
  await expect(status(page)).toHaveText('60 records');

  await page.getByRole('button', { name: '+ Filter' }).click();
  for (const typed of ['Kind', 'asked each time']) {
    await page.getByRole('dialog').locator('input').fill(typed);
    await page.keyboard.press('Enter');
  }
  await expect(page.getByText('Choose which Moorings to show')).toBeVisible();
  // Nothing is answered yet: nothing is left out.
  await expect(status(page)).toHaveText('60 records');

  await page.getByRole('button', { name: 'Columns, groups and sorting' }).click();
  const sheet = page.getByRole('complementary', { name: 'Columns, groups and sorting' });
  await sheet
    .getByLabel('Sort by a column')
    .or(sheet.getByRole('button', { name: 'Sort by a column' }))
    .click();
  await sheet.getByLabel('Sorted by').selectOption('Name');
  await sheet.getByRole('button', { name: 'Add a calculated column' }).click();
  await sheet.getByLabel('Heading').fill('Load');
  await sheet.getByLabel('Decimals').selectOption('1');
  await sheet.getByRole('textbox', { name: 'Formula for Load' }).click();
  await page.keyboard.type('Weight * 1.5 ');
  await sheet.getByRole('button', { name: 'Apply' }).click();
  await expect(row(page, 'Ring 2')).toContainText('3.0');
  await expectAccessible(page);
  await sheet.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Save as a view' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Of one kind');
  await page.getByLabel('Share it with others in the cabinet').check();
  await page.getByRole('button', { name: 'Save view' }).click();
  await expect(said(page, 'The view Of one kind is saved.')).toBeVisible();
});

test('who opens the view answers it by keyboard, and its cards go on through what was found', async ({ page }) => {
  await signIn(page, 'quayclerk');
  await open(page);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Of one kind');
  await setSlot(page, page.getByRole('main'), 'Kind to show', 'Rope');
  await expect(status(page)).toHaveText('20 records');
  await grid(page).focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: /^Record 1 of 20/ })).toBeVisible();
  await page.getByRole('link', { name: 'Next record' }).click();
  await expect(page.getByRole('button', { name: /^Record 2 of 20/ })).toBeVisible();
  await page.goBack();
  await page.goBack();
  await expect(status(page)).toHaveText('20 records');
});

test('the card stands beside the list, follows its rows, and is saved there', async ({ page }) => {
  await signIn(page, 'quayclerk');
  await open(page);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Of one kind');
  await page.getByRole('button', { name: 'Card beside the list' }).click();
  await expect(pane(page)).toContainText('Choose a row');
  await cellOf(page, 'Ring 4').click();
  await expect(pane(page).getByLabel('Name')).toHaveValue('Ring 4');
  await page.keyboard.press('ArrowDown');
  await expect(pane(page).getByLabel('Name')).toHaveValue('Ring 5');
  await page.keyboard.press('Enter');
  await expect(pane(page).getByLabel('Name')).toBeFocused();
  await pane(page).getByLabel('Weight').fill('9');
  await page.keyboard.press('Control+s');
  await expect(row(page, 'Ring 5')).toContainText('13.5');
  await expect(row(page, 'Ring 5')).toHaveAttribute('aria-current', 'true');
  await expectAccessible(page);
  // Unsaved work is asked about, and the card stays.
  await expect(pane(page).getByLabel('Weight')).toHaveValue('9');
  await pane(page).getByLabel('Weight').fill('8');
  page.once('dialog', (dialog) => void dialog.dismiss());
  await cellOf(page, 'Ring 6').click();
  await expect(pane(page).getByLabel('Weight')).toHaveValue('8');
  await pane(page).getByRole('button', { name: 'Reset' }).click();
  await page.getByRole('button', { name: 'Close the card beside the list' }).click();
  await expect(pane(page)).toHaveCount(0);
});

test('a block is pasted over the list after a look, what does not fit stays out, and it is put back', async ({
  page,
}) => {
  await signIn(page, 'quayclerk');
  await open(page);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Of one kind');
  await cellOf(page, 'Ring 10').waitFor();
  await page.getByRole('button', { name: 'Edit in the list' }).click();
  await cellOf(page, 'Ring 10').click();
  await page.keyboard.press('Escape');
  await page.keyboard.press('ArrowRight');
  await paste(page, 'Rope\t5\t7\t1\nRope\tdeep\t7\t1\nRope\t6\t8\t1\n');
  await expect(page.getByRole('complementary')).toContainText('Load is not written in the list.');
  await expect(verdict(page).getByRole('status')).toContainText('3 records checked: 2 to change, 1 cannot be changed');
  await expect(verdict(page)).toContainText('Depth:');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Change the 2 records that can be' }).click();
  await expect(row(page, 'Ring 10')).toContainText('10.5');
  await expect(row(page, 'Ring 12')).toContainText('12.0');
  await page.getByRole('complementary').getByRole('button', { name: 'Put back' }).click();
  await expect(page.getByText('2 records put back as before.')).toBeVisible();
  await expect(row(page, 'Ring 10')).not.toContainText('10.5');
});

test('Ctrl+D fills down, and the rows that were saved are undone and done again', async ({ page }) => {
  await signIn(page, 'quayclerk');
  await open(page);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Of one kind');
  const weight = (name: string): Locator => row(page, name).getByRole('gridcell').nth(4);
  await expect(weight('Ring 20')).toHaveText('4');
  await expect(weight('Ring 21')).toHaveText('1');
  await cellOf(page, 'Ring 20').click();
  await page.goBack();
  await grid(page).focus();
  await expect(weight('Ring 20')).toHaveText('4');
  await page.keyboard.press('Control+Home');
  for (let at = 0; at < 20; at++) await page.keyboard.press('ArrowDown');
  for (let at = 0; at < 3; at++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Control+d');
  await expect(said(page, 'Saved.')).toBeVisible();
  await expect(weight('Ring 21')).toHaveText('4');
  await page.keyboard.press('Control+z');
  await expect(said(page, 'Undone.')).toBeVisible();
  await expect(weight('Ring 21')).toHaveText('1');
  await page.keyboard.press('Control+Shift+z');
  await expect(weight('Ring 21')).toHaveText('4');
  // Into all that are selected: shown first.
  for (const name of ['Ring 22', 'Ring 23', 'Ring 24']) await row(page, name).getByRole('checkbox').click();
  await page.keyboard.press('Control+d');
  await expect(verdict(page).getByRole('status')).toContainText('3 records checked');
  await expect(verdict(page)).toContainText('Weight');
});

test('what a colleague saves comes into the rows in sight, after a server that was being restarted, too', async ({
  page,
  browser,
}) => {
  await signIn(page, 'harbourmaster');
  const restarting = { status: 503, contentType: 'application/problem+json', body: '{"status":503,"detail":"Busy"}' };
  let refused = 0;
  for (const part of ['rows', 'events'])
    await page.route(
      `**/api/tables/*/${part}`,
      (one) => {
        refused += 1;
        return one.fulfill(restarting);
      },
      { times: 1 },
    );
  await open(page);
  await expect.poll(() => refused).toBe(2);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Of one kind');
  await expect(row(page, 'Ring 30')).toBeVisible();
  const clerk = await (await browser.newContext()).newPage();
  await signIn(clerk, 'quayclerk');
  await open(clerk);
  await clerk.getByLabel('Find in Moorings').fill('Ring 30');
  await expect(status(clerk)).toHaveText('1 record');
  await cellOf(clerk, 'Ring 30').click();
  await clerk.getByLabel('Weight').fill('77');
  await clerk.keyboard.press('Control+s');
  await expect(said(clerk, 'Saved.')).toBeVisible();
  await clerk.context().close();
  await expect(row(page, 'Ring 30')).toContainText('77');
});

test('a view feeds a dropdown: the live card offers what the view finds, and says why', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await makeForm(page, 'Vessels', 'Quick vessel');
  await page.getByRole('region', { name: 'Outline' }).getByText('Owner', { exact: true }).first().click();
  const settings = page.getByRole('complementary', { name: 'Settings' });
  await setSlot(page, settings, 'view of Owners that says what is offered', 'Lead owners');
  await expect(settings).toContainText('Offer out of the records of the view Lead owners.');
  const live = page.getByRole('region', { name: 'Live card' });
  await live
    .getByRole('combobox', { name: /^Owner/ })
    .first()
    .click();
  await expect(page.getByRole('listbox').getByRole('option').first()).toBeVisible();
  await page.keyboard.press('Escape');
});

test('a field, an option and a view tell where they are used, and an option that goes is replaced in its records', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_owners?fields');
  await page.getByRole('row').filter({ hasText: 'Kind' }).first().click();
  const sheet = page.getByRole('complementary', { name: 'Field Kind' });
  await expect(sheet.getByRole('region', { name: 'Where used' })).toContainText('Owner card');
  await expectAccessible(page);
  await sheet.getByRole('button', { name: 'Archive field' }).click();
  await expect(sheet.getByRole('alertdialog')).toContainText('It is used in');
  await sheet.getByRole('button', { name: 'Leave it' }).click();

  // An option that records hold.
  await sheet.getByLabel('Choices', { exact: true }).fill('Person, Firm');
  await page.keyboard.press('Tab');
  const replace = sheet.getByRole('region', { name: 'Replace Syndicate' });
  await expect(replace).toContainText('hold “Syndicate”.');
  await replace.getByLabel('Records that hold “Syndicate” get').selectOption('Firm');
  await replace.getByRole('button', { name: 'Replace it in the records' }).click();
  await expect(replace).toContainText(/\d+ records replaced/);
  await sheet.getByRole('button', { name: 'Use it for records saved from now on' }).click();
  await expect(sheet.getByLabel('Choices', { exact: true })).toHaveValue(/^Person, Firm$/);
  await sheet.getByLabel('Choices', { exact: true }).fill('Person, Firm, Syndicate');
  await page.keyboard.press('Tab');
});

test('on a phone records are selected by a tap, and changed together', async ({ browser }) => {
  const page = await (
    await browser.newContext({ viewport: { width: 390, height: 800 }, hasTouch: true, isMobile: true })
  ).newPage();
  await signIn(page, 'quayclerk');
  await open(page);
  await row(page, 'Ring 60').getByRole('checkbox').tap();
  await row(page, 'Ring 59').getByRole('checkbox').tap();
  const bar = page.getByRole('toolbar', { name: 'Selected records' });
  await expect(bar).toContainText('2 records selected');
  await bar.getByRole('button', { name: 'Change fields' }).tap();
  await expect(page.getByRole('complementary')).toContainText('Change 2 records');
  await page.context().close();
});
