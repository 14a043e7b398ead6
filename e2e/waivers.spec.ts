import { expect, test } from '@playwright/test';
import { addField, newTable } from './builder.ts';
import { divider, expectAccessible, fill, input, said, signIn } from './office.ts';

test('from an empty cabinet: a ripple is built, tried, set off by a save, and leads back to it', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/slipway/tables');
  await newTable(page, 'Hoists');
  await addField(page, 'Boat', 'Text', { required: true });
  await addField(page, 'Cause', 'Text');
  await newTable(page, 'Hoist log');
  await addField(page, 'Hoist', 'Link', { table: 'Hoists', required: true });
  await addField(page, 'Cause', 'Text');
  await addField(page, 'Written by', 'Text', { required: true });

  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Hoists', exact: true }).first().click();
  await page.getByRole('tab', { name: 'Ripples' }).click();
  await expect(page.getByText('Nothing else is written yet.')).toBeVisible();
  await page.getByRole('button', { name: 'New ripple' }).click();
  const ripple = page.getByRole('region', { name: 'Ripple Ripple 1' });
  await expect(ripple.getByText('Say what it does.')).toBeVisible();
  await ripple.getByRole('button', { name: /^table that gets a line/ }).click();
  await page.getByRole('option', { name: /^Hoist log/ }).click();
  // What a line most likely holds is proposed.
  await expect(ripple.getByRole('button', { name: 'what Hoist gets: this record of Hoists' })).toBeVisible();
  await expect(ripple.getByRole('button', { name: 'what Written by gets: who saved' })).toBeVisible();
  await ripple.getByRole('button', { name: 'what Cause gets: Cause' }).click();
  await page.getByRole('option', { name: 'what changed, in words' }).click();
  await ripple.getByRole('button', { name: 'Only if…' }).click();
  await page.getByRole('dialog').getByRole('option', { name: 'Cause', exact: false }).first().click();
  await page.keyboard.press('Escape');
  await ripple.getByRole('button', { name: /^comparison/ }).click();
  await page.getByRole('option', { name: 'is not blank' }).click();
  await expectAccessible(page);
  await ripple.getByRole('button', { name: 'Switch it on' }).click();
  await expect(page.getByRole('tab', { name: 'Ripples 1' })).toBeVisible();

  await page.getByRole('link', { name: 'New record' }).click();
  await fill(page, 'Boat', 'Guillemot');
  await fill(page, 'Cause', 'Survey');
  await page.keyboard.press('Control+Enter');
  await expect(said(page, 'Saved as')).toBeVisible();
  await expect(input(page, 'Boat')).toHaveValue('');
  await fill(page, 'Boat', 'Razorbill');
  await page.keyboard.press('Control+Enter');
  await expect(said(page, 'Saved as No. 2')).toBeVisible();

  // The second boat had no cause: one line was written, and its history leads to the save that set it off.
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Hoist log', exact: true }).first().click();
  await expect(
    page.getByRole('gridcell', { name: 'Guillemot added. Boat: Guillemot; Cause: Survey', exact: true }),
  ).toBeVisible();
  await expect(page.getByRole('status').first()).toHaveText('1 record');
  await page.goto('/slipway/tables/slipway_hoist_log/1');
  await page.getByRole('button', { name: 'History' }).click();
  await expect(page.getByText('Ripple Ripple 1')).toBeVisible();
  await page.getByRole('link', { name: 'Hoists: Guillemot' }).click();
  await expect(input(page, 'Boat')).toHaveValue('Guillemot');

  // What it would do is tried on a record, and a ripple that would come back to it is refused.
  await page.goto('/slipway/tables/slipway_hoists?ripples');
  const saved = page.getByRole('region', { name: 'Ripple Ripple 1' });
  await saved.getByRole('button', { name: /^record to try it on/ }).click();
  await page.getByRole('option', { name: /Razorbill/ }).click();
  await expect(saved.getByText(/^It does not follow the last save of Razorbill/)).toBeVisible();
  await page.goto('/slipway/tables/slipway_hoist_log?ripples');
  await page.getByRole('button', { name: 'New ripple' }).click();
  const back = page.getByRole('region', { name: 'Ripple Ripple 1' });
  await back.getByRole('button', { name: /^table that gets a line/ }).click();
  await page.getByRole('option', { name: /^Hoists/ }).click();
  await expect(back.getByRole('button', { name: /^what Boat gets/ })).toBeVisible();
  await back.getByRole('button', { name: 'Switch it on' }).click();
  await expect(said(page, 'would set off one another without end')).toBeVisible();
});

test('who waived these dues is in the Dues ledger: written by the save, and by nobody', async ({ page }) => {
  await signIn(page, 'auditor', '/gannet/tables/gannet_dues_ledger');
  await expect(page.getByRole('gridcell', { name: /STAY-\d+-\d+ changed\. Waived: no → yes/ }).first()).toBeVisible();
  await expect(page.getByRole('link', { name: 'New record' })).toHaveCount(0);
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_dues_ledger');
  await expect(page.getByRole('gridcell', { name: /Waived: no → yes/ }).first()).toBeVisible();
  await expect(page.getByRole('link', { name: 'New record' })).toHaveCount(0);
});
