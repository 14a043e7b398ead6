import { expect, test } from '@playwright/test';
import { field, input, signIn, slowDown } from './office.ts';

test('tabs: arrows go between them, and the page follows', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_berths');
  const tab = (name: string) => page.getByRole('tab', { name: new RegExp(`^${name}`) });
  await tab('Records').focus();
  await page.keyboard.press('ArrowRight');
  await expect(tab('Fields')).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(tab('Fields')).toHaveAttribute('aria-selected', 'true');
  await expect(page.getByRole('table', { name: 'Fields of Berths' })).toBeVisible();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('grid')).toBeVisible();
});

test('the grid: arrows, pages and ends go through records, and Enter opens one', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_berths');
  const grid = page.getByRole('grid');
  await expect(page.getByRole('gridcell').first()).toBeVisible();
  await grid.focus();
  const active = async (): Promise<string> => (await grid.getAttribute('aria-activedescendant')) ?? '';
  const first = await active();
  await expect(page.locator(`#${first}`)).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await expect(grid).not.toHaveAttribute('aria-activedescendant', first);
  await page.keyboard.press('ArrowUp');
  await expect(grid).toHaveAttribute('aria-activedescendant', first);
  // Cell by cell: the end of the row, and back to its beginning.
  await page.keyboard.press('End');
  await expect(page.locator(`#${await active()}`)).toHaveAttribute('aria-colindex', '5');
  await page.keyboard.press('Home');
  await expect(grid).toHaveAttribute('aria-activedescendant', first);
  await page.keyboard.press('PageDown');
  const row = page.locator('[role=row]').filter({ has: page.locator(`#${await active()}`) });
  expect(Number(await row.getAttribute('aria-rowindex'))).toBeGreaterThan(12);
  await page.keyboard.press('Control+Home');
  await expect(grid).toHaveAttribute('aria-activedescendant', first);
  await page.keyboard.press('ArrowDown');
  const number = await page.locator(`#${await active()}`).innerText();
  await page.keyboard.press('Enter');
  await expect(input(page, 'Number')).toHaveValue(number);
});

test('a sheet takes the focus, Esc closes it, and the focus goes back to where it was', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_vessels/1');
  await input(page, 'Name').focus();
  await page.keyboard.press('Alt+h');
  const sheet = page.getByRole('complementary', { name: 'History' });
  await expect(sheet).toBeVisible();
  await expect(sheet.locator(':focus')).toHaveCount(1);
  await page.keyboard.press('Escape');
  await expect(sheet).toBeHidden();
  await expect(input(page, 'Name')).toBeFocused();
});

test('what is typed right after a key that leads elsewhere is never typed into the card before', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_vessels/1');
  const name = await input(page, 'Name').inputValue();
  await slowDown(page, 20);
  await page.keyboard.press('Alt+n');
  await page.keyboard.type('Sandpiper');
  await expect(input(page, 'Name')).toHaveValue('Sandpiper');
  await expect(page).toHaveURL(/\/new$/);
  await slowDown(page, 1);
  await page.goto('/gannet/tables/gannet_vessels/1');
  await expect(input(page, 'Name')).toHaveValue(name);
});

test('a menu opens by Enter, arrows go through it, and Esc leaves it', async ({ page }) => {
  await signIn(page, 'quayclerk');
  const button = page.getByRole('button', { name: /quayclerk/ });
  await button.focus();
  await page.keyboard.press('Enter');
  const menu = page.getByRole('menu');
  await expect(menu.locator(':focus')).toHaveCount(1);
  const first = await menu.locator(':focus').innerText();
  await page.keyboard.press('ArrowDown');
  await expect(menu.locator(':focus')).not.toHaveText(first, { useInnerText: true });
  await page.keyboard.press('Escape');
  await expect(menu).toBeHidden();
  await expect(button).toBeFocused();
});

test('a dialog holds the focus until it is left', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/forms');
  const button = page.getByRole('button', { name: 'New form' }).first();
  await button.focus();
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog', { name: 'New form' });
  await expect(dialog.locator(':focus')).toHaveCount(1);
  for (let n = 0; n < 12; n++) {
    await page.keyboard.press('Tab');
    await expect(dialog.locator(':focus')).toHaveCount(1);
  }
  await page.keyboard.press('Escape');
  await expect(dialog).toBeHidden();
  await expect(button).toBeFocused();
});

test('a date is picked by keyboard, and the picker gives the focus back', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_vessels/1');
  const insured = input(page, 'Insured until');
  await insured.fill('15 Mar 2027');
  await page.keyboard.press('Alt+ArrowDown');
  const picker = page.getByRole('dialog');
  await expect(picker.getByRole('gridcell', { name: '15', exact: true })).toBeFocused();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(picker).toBeHidden();
  await expect(insured).toHaveValue('16 Mar 2027');
  await expect(insured).toBeFocused();
});

test('a slot of a sentence opens by Enter, takes what is typed, and keeps the focus', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_check_in/edit');
  const slot = page
    .getByRole('complementary', { name: 'Settings' })
    .getByRole('button', { name: /^comparison/ })
    .first();
  await slot.focus();
  await page.keyboard.press('Enter');
  const picker = page.getByRole('dialog');
  await expect(picker.getByRole('combobox')).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Escape');
  await expect(picker).toBeHidden();
  await expect(slot).toBeFocused();
});

test('a dropdown: typing finds, arrows choose, Esc closes the list and keeps the field', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_check_in');
  const harbour = input(page, 'Harbour');
  await harbour.focus();
  await page.keyboard.press('ArrowDown');
  const list = page.getByRole('listbox');
  await expect(list.getByRole('option').first()).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(list).toBeHidden();
  await expect(harbour).toBeFocused();
  await page.keyboard.type('tern');
  await expect(list.getByRole('option', { name: 'Tern Cove' })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(harbour).toHaveValue('Tern Cove');
  await expect(field(page, 'Pontoon').locator('input')).toBeFocused();
});
