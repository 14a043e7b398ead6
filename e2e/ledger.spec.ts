import { execFileSync } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import { resolve } from 'node:path';
import { type Download, expect, type Page, test } from '@playwright/test';
import { divider, expectAccessible, signIn } from './office.ts';

/** What a click gives to keep. */
async function taken(page: Page, act: () => Promise<void>): Promise<Download> {
  const [file] = await Promise.all([page.waitForEvent('download'), act()]);
  return file;
}

test('an auditor takes the ledger and a receipt away, and verifies both without a server', async ({ page }) => {
  await signIn(page, 'auditor');
  await divider(page, 'Ledger').click();
  await expect(page.getByRole('row').nth(5)).toBeVisible();
  const press = (name: string) => () => page.getByRole('button', { name, exact: true }).click();
  const receipt = await taken(page, press('Receipt for the newest seal'));
  expect(receipt.suggestedFilename()).toMatch(/^receipt-of-seal-\d+\.json$/);
  const ledger = await taken(page, () => page.getByRole('link', { name: 'Export to verify elsewhere' }).click());
  expect(ledger.suggestedFilename()).toMatch(/\.jsonl$/);
  const tool = resolve(import.meta.dirname, '../tools/verify.mjs');
  const said = execFileSync(process.execPath, [tool, await ledger.path(), await receipt.path()], { encoding: 'utf8' });
  expect(said).toContain('No tampering found in the ledger of Gannet Sound');
  expect(said).toMatch(/fits seal \d+/);
  await expectAccessible(page);
});

test('what is filtered stays by reload and Back, and is exported as it is shown', async ({ page }) => {
  await signIn(page, 'auditor');
  await divider(page, 'Ledger').click();
  await page.getByRole('button', { name: 'table: everything' }).click();
  await page.getByRole('option', { name: 'Vessels', exact: true }).click();
  await expect(page).toHaveURL(/\?table=gannet_vessels$/);
  await page.reload();
  await expect(page.getByRole('button', { name: 'table: Vessels' })).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'Vessels' }).first()).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'STAY-' })).toHaveCount(0);
  const csv = await taken(page, () => page.getByRole('link', { name: 'CSV', exact: true }).click());
  const text = await readFile(await csv.path(), 'utf8');
  const places = new Set(
    text
      .split('\r\n')
      .slice(1, 200)
      .map((row) => row.split(',')[4]),
  );
  expect(text).toContain(',Vessels,');
  expect(places.has('Stays')).toBe(false);
  await page.goBack();
  await expect(page.getByRole('button', { name: 'table: everything' })).toBeVisible();
});

test('the ledger is searched by a value, and what stands out leads to its lines', async ({ page }) => {
  await signIn(page, 'auditor');
  await divider(page, 'Ledger').click();
  await page.getByRole('button', { name: 'text in a value: any value' }).click();
  const picker = page.getByRole('dialog', { name: 'text in a value' });
  await picker.getByRole('textbox').fill('storm');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/value=storm/);
  await expect(page.getByRole('row').filter({ hasText: /Storm/ }).first()).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'Tide readings' })).toHaveCount(0);
  await page.goto('/gannet/ledger');
  await page.getByRole('button', { name: 'Timeline and what stands out' }).click();
  await expect(page.getByRole('img', { name: /^[\d,]+ saves from .* by day and person$/ })).toBeVisible();
  await page.getByText('As a table').click();
  await expect(page.getByRole('columnheader', { name: 'Saves' })).toBeVisible();
  await expectAccessible(page);
  const asked = page
    .getByRole('region', { name: 'What stands out' })
    .getByRole('button', { name: /that a rule asked about$/ });
  await asked.first().click();
  await expect(page.getByRole('button', { name: 'whether a rule asked: that a rule asked about' })).toBeVisible();
  await expect(page.getByRole('row').filter({ hasText: 'accepted with reason' }).first()).toBeVisible();
});
