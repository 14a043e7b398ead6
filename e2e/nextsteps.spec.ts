import { expect, test } from '@playwright/test';
import { expectAccessible, input, said, signIn } from './office.ts';

test('a clerk starts a Check-in from a vessel: its registration is there, and fills what it fills', async ({
  page,
}) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_vessel_card/1');
  const registration = await input(page, 'Registration').inputValue();
  const name = await input(page, 'Name').inputValue();
  await page.getByRole('button', { name: 'Check in', exact: true }).click();
  await expect(page).toHaveURL(/gannet_check_in\/new$/);
  await expect(input(page, 'Registration')).toHaveValue(registration);
  await expect(
    page
      .getByText(name, { exact: true })
      .or(page.locator(`input[value="${name}"]`))
      .first(),
  ).toBeVisible();
});

test('a builder says what follows a save, and adds a button that starts another form', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_owner_card/edit');
  const settings = page.getByRole('complementary', { name: 'Settings' });
  await settings.getByLabel('After a save comes').selectOption('a blank card');
  await settings.getByLabel('Add a button that starts').selectOption('Vessel card');
  // What fits is proposed: the owner of the vessel is the record itself.
  await expect(settings.getByLabel('Owner begins with')).toHaveValue('self');
  await settings.getByLabel('The button says').fill('Add a vessel');
  await settings.getByLabel('The button says').press('Enter');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Publish version 2' }).click();
  await expect(said(page, 'Version 2 of Owner card is published.')).toBeVisible();

  await page.goto('/gannet/forms/gannet_owner_card/new');
  await input(page, 'Name').fill('Lantern and Sons');
  await page.getByRole('combobox', { name: /^Kind/ }).fill('Firm');
  await page.keyboard.press('Tab');
  await page.keyboard.press('Control+s');
  await expect(said(page, /^Saved as/)).toBeVisible();
  await expect(input(page, 'Name')).toHaveValue('');

  await page.goto('/gannet/forms/gannet_owner_card/1');
  const owner = await input(page, 'Name').inputValue();
  await page.getByRole('button', { name: 'Add a vessel' }).click();
  await expect(page.getByRole('combobox', { name: 'Owner', exact: true })).toHaveValue(owner);
});

test('search-and-go offers what was open lately first, and forms to begin', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_berths/2');
  const number = await input(page, 'Number').inputValue();
  await page.goto('/gannet/home');
  await expect(page.getByRole('link', { name: 'New: Check-in' })).toBeVisible();
  await page.keyboard.press('Control+k');
  const places = page.getByRole('listbox', { name: 'Places' });
  await expect(places.getByRole('option').first()).toHaveText(`${number}opened lately · Berths`);
  await page.keyboard.type('new: check');
  await expect(places.getByRole('option')).toHaveText(['New: Check-inaction']);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/gannet_check_in\/new$/);
});
