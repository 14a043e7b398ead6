import { expect, test } from '@playwright/test';
import { expectAccessible, field, input, said, signIn } from './office.ts';

test('the auditor’s walk: who waived these dues, what did it say before, as it stood then', async ({ page }) => {
  await signIn(page, 'auditor', '/gannet/tables/gannet_dues_ledger');
  await expect(page.getByRole('gridcell', { name: /Waived: no → yes/ }).first()).toBeVisible();
  await page.goto('/gannet/tables/gannet_dues_ledger/1');
  await page.getByRole('button', { name: 'History' }).click();
  await expect(page.getByText('Ripple Waivers into the Dues ledger')).toBeVisible();
  const stay = page.getByRole('link', { name: /^Stays: STAY-/ });
  await stay.click();
  await expect(page).toHaveURL(/gannet_stays\/\d+$/);
  await expect(page.getByText(/^also wrote/).first()).toBeVisible();
  // The oldest save: as it stood before anything was waived.
  await page.getByRole('link', { name: 'As it stood then' }).last().click();
  const past = page.getByRole('article', { name: /as it stood$/ });
  await expect(past.getByText('version 1, saved by')).toBeVisible();
  await page.getByRole('button', { name: 'Compare with today' }).click();
  await expect(past.locator('dl > div').filter({ hasText: 'Waived' })).toContainText(/no\s*→\s*became yes/);
  await expectAccessible(page);
  // Another moment begins with the same one: nothing differs, and it is said.
  await page.getByRole('button', { name: 'Another moment' }).click();
  await expect(page.getByText('Nothing of it differs between the two moments.')).toBeVisible();
  await page.getByRole('button', { name: 'Stop comparing' }).click();
  // A moment before it was there, says so; nothing can be written here.
  await page.getByRole('textbox', { name: 'Moment', exact: true }).fill('1 Jan 2020, 10:00');
  await page.keyboard.press('Enter');
  await expect(page.getByText(/Stays was made later than that/)).toBeVisible();
  await page.getByRole('button', { name: 'Back to today' }).click();
  await expect(input(page, 'Registration')).toBeVisible();
});

test('a list stands as it stood: counted, read-only, and leads to cards of then', async ({ page }) => {
  await signIn(page, 'auditor', '/gannet/tables/gannet_stays');
  const count = page.getByRole('status').first();
  await expect(count).toHaveText(/^[1-9][\d,]* records$/);
  const today = await count.textContent();
  await page.getByRole('button', { name: 'As it stood' }).click();
  const moment = page.getByRole('textbox', { name: 'Moment', exact: true });
  const year = new Date().getFullYear() - 1;
  await moment.fill(`31 Dec ${year}, 12:00`);
  await moment.press('Enter');
  await expect(count).not.toHaveText(today ?? '');
  await expect(count).toHaveText(/^[1-9][\d,]* records$/);
  await expectAccessible(page);
  await page.reload();
  await expect(page.getByText('As it stood on')).toBeVisible();
  await page.getByRole('button', { name: 'Back to today' }).click();
  await expect(count).toHaveText(today ?? '');
});

test('while the past is looked at no view is saved: it would lose the fields that were not there then', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_stays');
  await page.getByRole('combobox', { name: 'View', exact: true }).selectOption({ label: 'Waived dues' });
  await expect(page.getByRole('button', { name: 'View settings' })).toBeVisible();
  await page.getByRole('button', { name: 'As it stood' }).click();
  await expect(page.getByRole('button', { name: 'Columns, groups and sorting' })).toBeVisible();
  await expect(
    page.getByRole('button', { name: /^(View settings|Save view|Save as a view|Put on Home)$/ }),
  ).toHaveCount(0);
  await page.getByRole('button', { name: 'Back to today' }).click();
  await expect(page.getByRole('button', { name: 'View settings' })).toBeVisible();
});

test('a save is put back with what its ripple wrote, after a look at what would become of it', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_check_in');
  await page.goto('/gannet/forms/gannet_check_in/40');
  const waived = field(page, 'Waived');
  await waived
    .getByRole('checkbox')
    .or(waived.getByRole('radio', { name: 'yes' }))
    .first()
    .click();
  await input(page, 'Reason').fill('Towed in by the lifeboat');
  // The saved card takes the place of the filled one: a click before that would be lost.
  const read = page.waitForResponse(/gannet_stays\/records\/40(\?|$)/);
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved')).toBeVisible();
  await read;
  await page.getByRole('button', { name: 'History' }).click();
  await page.getByRole('button', { name: 'Put the whole save back…' }).first().click();
  const sheet = page.getByRole('complementary', { name: 'Put this save back' });
  await expect(sheet.getByRole('status')).toHaveText('2 records would be put back.');
  await expect(sheet.getByText(/goes out of use/)).toBeVisible();
  await expectAccessible(page);
  await sheet.getByRole('button', { name: 'Put back', exact: true }).click();
  await expect(said(page, '2 records put back.')).toBeVisible();
  await expect(page.getByText(/^Put back: the save by harbourmaster/).first()).toBeVisible();
});

test('a draft is held against what was saved: the last 500 records, decided again', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_check_in/edit');
  await page.getByRole('button', { name: /^Check: / }).click();
  await page.getByRole('button', { name: 'Decide them again under this draft' }).click();
  const told = page.getByRole('region', { name: 'Decided again' }).getByRole('status');
  await expect(told).toContainText(
    /^Of 500 records, \d+ would be refused, \d+ asked about, and \d+ filled or calculated otherwise\./,
    // As long as the server gives it.
    { timeout: 60_000 },
  );
  await expectAccessible(page);
});
