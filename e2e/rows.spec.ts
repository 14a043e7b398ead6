import { expect, test } from '@playwright/test';
import { card, said, signIn } from './office.ts';

test('a round over the berths, as rows: each is saved as it is left; what does not fit stays at its cell', async ({
  page,
}) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_berth_inspection_round');
  const rows = card(page).getByRole('region', { name: 'Berth inspection round' });
  const cell = (label: string, n: number) => rows.getByLabel(`${label}, line ${n}`, { exact: true });
  await expect(rows).toContainText(/\d{3} records/);
  const before = await cell('Deepest draught', 1).inputValue();
  await cell('Deepest draught', 1).fill('3,1');
  await expect(card(page)).toContainText('One row not saved yet');
  await cell('Deepest draught', 2).focus();
  await expect(card(page)).toContainText('All rows are saved');
  await expect(cell('Deepest draught', 1)).toHaveValue('3.10 m');
  await cell('Longest vessel', 2).fill('900');
  await cell('Deepest draught', 3).focus();
  await expect(rows).toContainText('At most 90.00 m.');
  await expect(card(page)).toContainText('One row not saved yet');
  await cell('Longest vessel', 2).fill('12');
  await page.keyboard.press('Control+s');
  await expect(card(page)).toContainText('All rows are saved');
  await page.reload();
  await expect(cell('Deepest draught', 1)).toHaveValue('3.10 m');
  await cell('Deepest draught', 1).fill(before);
  await page.keyboard.press('Control+s');
  await expect(card(page)).toContainText('All rows are saved');
});

test('blank rows: a list is entered without showing what was there; a new owner is added in place on a card', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_vessel_card/edit');
  const slip = page.getByRole('complementary', { name: 'Settings' });
  await slip.getByLabel('Opens on').selectOption({ label: 'blank rows' });
  await page.getByRole('button', { name: 'Publish version 2' }).click();
  await expect(said(page, 'Version 2 of Vessel card is published.')).toBeVisible();
  await page.goto('/gannet/forms/gannet_vessel_card');
  const rows = card(page).getByRole('region', { name: 'Vessel card' });
  const cell = (label: string, n: number) => rows.getByLabel(new RegExp(`^${label}, line ${n}( \\(|$)`));
  await expect(cell('Name', 1)).toBeFocused();
  for (const [n, name] of ['Teal Runner', 'Smew Lantern'].entries()) {
    await page.keyboard.type(name);
    await page.keyboard.press('Enter');
    await page.keyboard.type(`GS-990${n}`);
    await page.keyboard.press('Enter');
    await page.keyboard.type('sloop');
    await page.keyboard.press('Enter');
    await page.keyboard.type('8,2');
    await cell('Name', n + 2).focus();
  }
  await expect(card(page)).toContainText('All rows are saved');
  await expect(rows).toContainText('2 records');

  // One by one, on a card: an owner nobody knows yet is added beside it, and chosen.
  await page.getByRole('link', { name: 'As a card' }).click();
  const owner = page.getByRole('combobox', { name: 'Owner', exact: true });
  await owner.fill('Quill and Daughters');
  await page.keyboard.press('Alt+a');
  const small = page.getByRole('group', { name: 'A new one in Owners' });
  await expect(small.getByLabel(/^Name/)).toHaveValue('Quill and Daughters');
  await small.getByRole('combobox', { name: /^Kind/ }).fill('Firm');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Quill and Daughters was added, and chosen.')).toBeVisible();
  await expect(owner).toHaveValue('Quill and Daughters');
  await expect(small).toBeHidden();
});
