import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import { card, choose, expectAccessible, fill, said, setSlot, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const OWNERS = '/gannet/tables/gannet_owners';
const grid = (page: Page) => page.getByRole('grid', { name: 'Owners' });
/** The names of the columns; the first heading is the box that selects all. */
const headings = async (page: Page) => (await grid(page).getByRole('columnheader').allInnerTexts()).filter(Boolean);
const status = (page: Page) => page.getByRole('status').filter({ hasText: /records?$/ });

test('a builder filters, chooses columns and sorting by the screen alone, and shares the view', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await page.goto(OWNERS);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('All records');
  await expect(status(page)).toHaveText(/^\d+ records$/);
  const whole = await status(page).innerText();
  // The sentence: each slot opens after the one before it.
  await page.getByRole('button', { name: '+ Filter' }).click();
  for (const typed of ['Kind', 'Firm']) {
    await page.getByRole('dialog').locator('input').fill(typed);
    await page.keyboard.press('Enter');
  }
  await expect(page.getByText('Show Owners whose')).toBeVisible();
  await expect(status(page)).not.toHaveText(whole);

  await page.getByRole('button', { name: 'Columns, groups and sorting' }).click();
  const sheet = page.getByRole('complementary', { name: 'Columns, groups and sorting' });
  for (const label of ['Address', 'Lead'])
    await sheet.getByRole('button', { name: `Remove column ${label}`, exact: true }).click();
  await sheet.getByLabel('Add a column').fill('Lead owner’s Phone');
  await page.getByRole('option', { name: 'Lead owner’s Phone', exact: true }).click();
  await sheet.getByRole('button', { name: 'Move Phone up', exact: true }).click();
  await sheet.getByRole('button', { name: 'Sort by a column' }).click();
  await sheet.getByLabel('Sorted by').selectOption('Name');
  await sheet.getByLabel('Direction').selectOption('descending');
  expect(await headings(page)).toEqual(['Name', 'Kind', 'Phone', 'E-mail', 'Lead owner', 'Lead owner’s Phone']);
  await expect(grid(page).getByRole('columnheader', { name: 'Name' })).toHaveAttribute('aria-sort', 'descending');
  await sheet.getByLabel('Summary under Name').selectOption('filled');
  await expect(grid(page)).toContainText(`filled ${(await status(page).innerText()).split(' ')[0]}`);
  await expectAccessible(page);
  await sheet.getByRole('button', { name: 'Close' }).click();

  // A look at a record loses nothing of it.
  await grid(page).getByRole('row').nth(1).click();
  await expect(card(page)).toBeVisible();
  await page.goBack();
  await expect(page.getByText('Show Owners whose')).toBeVisible();
  expect(await headings(page)).toContain('Lead owner’s Phone');

  await page.getByRole('button', { name: 'Save as a view' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Firms');
  await page.getByLabel('Share it with others in the cabinet').check();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save view' }).click();
  await expect(said(page, 'The view Firms is saved.')).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'View', exact: true })).toHaveValue(/\d+/);
  await page.reload();
  await expect(page.getByText('Show Owners whose')).toBeVisible();
  await page.getByRole('button', { name: 'View settings' }).click();
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Firms');
  // The settings follow the view that is chosen.
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Lead owners');
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Lead owners');
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Firms');
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Firms');
  await page.getByRole('complementary', { name: 'View' }).getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Watch', exact: true }).click();
  await expect(said(page, 'You watch this view')).toBeVisible();
});

test('a clerk opens the shared view, changes it for themselves, sorts by keyboard, and exports what it shows', async ({
  page,
}) => {
  await signIn(page, 'quayclerk');
  await page.goto(OWNERS);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Firms');
  await expect(page.getByText('Show Owners whose')).toBeVisible();
  const shown = async (): Promise<number> => Number((await status(page).innerText()).split(' ')[0]);
  await expect.poll(shown).toBeGreaterThan(5);
  await expect(page.getByRole('button', { name: 'View settings' })).toHaveCount(0);
  await grid(page).getByRole('button', { name: 'Name' }).focus();
  await page.keyboard.press('Enter');
  await expect(grid(page).getByRole('columnheader', { name: 'Name' })).toHaveAttribute('aria-sort', 'ascending');
  // It is shared: it can be saved as another one only.
  await expect(page.getByRole('button', { name: 'Save view' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo changes' }).click();
  await expect(grid(page).getByRole('columnheader', { name: 'Name' })).toHaveAttribute('aria-sort', 'descending');
  await setSlot(
    page,
    page.getByRole('tabpanel').or(page.getByRole('main')).first(),
    /field or value to compare with/,
    'Syndicate',
  );
  await expect(page.getByText('Show Owners whose')).toContainText('Syndicate');
  await page.getByRole('button', { name: 'Save as a view' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Syndicates');
  await page.keyboard.press('Enter');
  await expect(said(page, 'The view Syndicates is saved.')).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'View', exact: true }).locator('option:checked')).toHaveText(
    'Syndicates',
  );
  await page.getByRole('button', { name: 'Export and print' }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export as CSV' }).click(),
  ]);
  expect(download.suggestedFilename()).toBe('Syndicates.csv');
  const csv = readFileSync(await download.path(), 'utf8');
  const syndicates = Number((await status(page).innerText()).split(' ')[0]);
  expect(csv.trim().split('\r\n')).toHaveLength(syndicates + 1);
  expect(csv).toContain('Name,Kind,Phone,E-mail,Lead owner,Lead owner’s Phone');
});

test('who watches a view is told that a colleague has added to it, and comes to it', async ({ page, browser }) => {
  const clerk = await (await browser.newContext()).newPage();
  await signIn(clerk, 'quayclerk', `${OWNERS}/new`);
  await fill(clerk, 'Name', 'Curlew Chandlery');
  await choose(clerk, 'Kind', 'Firm');
  await clerk.keyboard.press('Control+s');
  await expect(said(clerk, /^Saved/)).toBeVisible();
  await clerk.context().close();
  await signIn(page, 'harbourmaster');
  const inbox = page.getByRole('button', { name: /^Inbox, \d+ new$/ });
  await expect(inbox).toBeVisible();
  await inbox.click();
  await page.getByRole('button', { name: 'quayclerk added or changed a record in Owners: Firms' }).click();
  await expect(page.getByText('Show Owners whose')).toContainText('Firm');
  await page.getByLabel('Find in Owners').fill('curlew');
  await expect(grid(page)).toContainText('Curlew Chandlery');
});

test('on a phone a view is a list of cards, and a builder deletes a view and takes that back', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await page.setViewportSize({ width: 390, height: 800 });
  await page.goto(OWNERS);
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption('Firms');
  await expect(grid(page).getByRole('row').nth(1)).toContainText('Kind');
  expect(await page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth)).toBe(false);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'View settings' }).click();
  await page.getByRole('button', { name: 'Delete view' }).click();
  await expect(said(page, 'The view Firms is deleted.')).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'View', exact: true })).toHaveValue('none');
  await said(page, 'The view Firms is deleted.').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Show Owners whose')).toBeVisible();
});
