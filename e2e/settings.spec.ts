import { expect, test } from '@playwright/test';
import { card, divider, expectAccessible, field, fill, input, said, signIn } from './office.ts';

test('the office says where it is, and numbers and dates follow at once, typed ones too', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Settings').click();
  await expectAccessible(page);
  const pick = async (label: string, typed: string, option: string): Promise<void> => {
    await page.getByRole('combobox', { name: label }).fill(typed);
    await page.getByRole('option', { name: option, exact: true }).click();
  };
  await pick('Numbers and dates as in', 'germany', 'German (Germany)');
  await expect(field(page, 'Numbers and dates as in')).toContainText('Such as 12.345,60 and 17. Aug. 2026.');
  await page.getByRole('button', { name: 'Save office' }).click();
  await expect(said(page, 'Saved. It holds for everybody from now on.')).toBeVisible();

  await page.goto('/gannet/tables/gannet_vessels/new');
  await fill(page, 'Length', '7,5');
  await page.keyboard.press('Tab');
  await expect(input(page, 'Length')).toHaveValue('7,50 m');
  await fill(page, 'Length', '1.234,5');
  await page.keyboard.press('Tab');
  await expect(field(page, 'Length')).toContainText('At most 90,00 m.');
  await fill(page, 'Insured until', '17.8.2026');
  await page.keyboard.press('Tab');
  await expect(input(page, 'Insured until')).toHaveValue('17. Aug. 2026');

  await page.goto('/gannet/settings');
  await pick('Numbers and dates as in', 'united kingdom', 'English (United Kingdom)');
  await pick('Time zone', 'utc', 'UTC');
  await page.getByRole('button', { name: 'Save office' }).click();
  await expect(said(page, 'Saved. It holds for everybody from now on.')).toBeVisible();
  await divider(page, 'Ledger').click();
  await expect(page.getByText('Locale').first()).toBeVisible();
});

test('who is named in a record is told at once, and comes to it', async ({ page, browser }) => {
  const clerk = await (await browser.newContext()).newPage();
  await signIn(clerk, 'quayclerk');
  const listening = clerk.waitForResponse((answer) => answer.url().endsWith('/api/events'));
  await clerk.reload();
  await listening;

  await signIn(page, 'harbourmaster');
  const report = await page.evaluate(async () => {
    const { records } = await (await fetch('/api/tables/gannet_fault_reports/records?limit=1')).json();
    return records[0] as { id: number; title: string };
  });
  await page.goto(`/gannet/tables/gannet_fault_reports/${report.id}`);
  await input(page, 'Assigned to').fill('tam');
  await expect(page.getByRole('option')).toHaveText([/quayclerk.*Tam Orsay/]);
  await page.keyboard.press('Enter');
  await page.keyboard.press('Control+s');
  await expect(said(page, /^Saved/)).toBeVisible();

  await expect(said(clerk, 'harbourmaster assigned a record of Fault reports to you.')).toBeVisible();
  await clerk.getByRole('button', { name: 'Open it' }).click();
  await expect(card(clerk)).toContainText(report.title);
  await expect(input(clerk, 'Assigned to')).toHaveValue('quayclerk');
  await clerk.context().close();
});

test('a builder sees how the installation does, by keyboard too and on a phone; a clerk does not', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/home');
  await expect(page.getByRole('button', { name: 'Arrange Home' })).toBeVisible();
  await page.keyboard.press('Control+k');
  await expect(page.getByLabel('Find a record, form, table or page')).toBeFocused();
  await page.keyboard.type('operation');
  await expect(page.getByRole('option', { name: /^Operation/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Operation' })).toBeVisible();
  await expect(page.getByText('No backup has been taken yet.')).toBeVisible();
  await expect(page.getByText(/^Seal \d+ was made/)).toBeVisible();
  await page
    .getByRole('table', { name: 'The largest tables' })
    .getByRole('link', { name: 'Stays', exact: true })
    .click();
  await expect(page.getByRole('heading', { name: 'Stays' })).toBeVisible();
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/gannet/settings/operation');
  await expect(page.getByRole('table', { name: 'The ledger by month' })).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await expectAccessible(page);
  await signIn(page, 'quayclerk', '/gannet/settings/operation');
  await expect(page.getByText('Who may build forms can see how the installation does.')).toBeVisible();
});
