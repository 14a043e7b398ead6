import { expect, test } from '@playwright/test';
import { Builder, makeForm, makeTable, outline, publish, reportActions } from './builder.ts';
import { divider, field, fill, input, said, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

test('an imported file becomes a table whose columns link to records that are there', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  let actions = 0;
  const act = async (what: Promise<unknown>): Promise<void> => {
    await what;
    actions++;
  };
  await act(divider(page, 'Tables').click());
  await act(page.getByRole('link', { name: 'Import', exact: true }).click());
  const rows = 'Boat,Harbour,Hours\nGS-0003,Skerry Haven,4\nGS-0007,Tern Cove,2\nGS-0008,Skerry Haven,1\n';
  await act(
    page
      .getByLabel('Choose a file')
      .setInputFiles({ name: 'tows.csv', mimeType: 'text/csv', buffer: Buffer.from(rows) }),
  );
  await expect(page.locator('.columns_columns').getByRole('row').filter({ hasText: 'GS-0003' })).toContainText(
    'Vessels',
  );
  await act(page.getByRole('button', { name: 'Check every row' }).click());
  await act(page.getByRole('button', { name: 'Import 3 rows' }).click());
  await act(page.getByRole('link', { name: 'See the records' }).click());
  await expect(page.getByRole('gridcell', { name: 'Tern Cove' })).toBeVisible();
  await page.getByRole('gridcell', { name: 'Tern Cove' }).click();
  await page.keyboard.press('Enter');
  await expect(input(page, 'Harbour')).toHaveValue('Tern Cove');
  reportActions('imported file to a linked table', actions, 8);
});

test('lines with quantity, price, amount and a total are made in one step, and filled', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await makeTable(page, 'Works', [{ label: 'Order', type: 'text' }]);
  await makeForm(page, 'Works', 'Work order', 'all fields of the table');
  const builder = new Builder(page);
  await page.keyboard.press('/');
  builder.actions = 1;
  await builder.pick('Materials', /^Lines called/);
  await expect(outline(page).locator('.outline_label', { hasText: /^Materials total/ })).toBeVisible();
  builder.atMost(6, 'subform with amount and total');
  await expect(page.getByText('Check: no problems')).toBeVisible();

  // Any type of field is made here, too, and in the lines when one of their columns is selected.
  await page.keyboard.press('/');
  await page.getByRole('combobox', { name: 'What to add' }).fill('Quay');
  await page.getByRole('option', { name: /of another type/ }).click();
  const made = page.getByRole('form', { name: 'New field of Works' });
  await made.getByLabel('Type', { exact: true }).selectOption({ label: 'Link' });
  await made.getByLabel('To the table').selectOption({ label: 'Harbours' });
  await made.getByRole('button', { name: 'Add field' }).click();
  await expect(outline(page).locator('.outline_field.outline_selected')).toContainText('Quay');
  await builder.select('Item');
  await page.keyboard.press('/');
  await builder.pick('Supplier');
  await expect(outline(page).locator('.outline_inLines.outline_selected')).toContainText('Supplier');

  await publish(page, 1, 'Work order');
  await page.getByRole('link', { name: 'Fill version 1' }).click();
  await fill(page, 'Order', 'W-1');
  const lines = page.getByRole('region', { name: 'Materials' });
  await lines.getByLabel('Item, line 1').fill('Rope');
  await lines.getByLabel('Quantity, line 1').fill('3');
  await lines.getByLabel('Price, line 1').fill('12.50');
  await lines.getByLabel('Supplier, line 1').fill('Chandlery');
  await page.keyboard.press('Tab');
  await expect(lines.getByLabel('Amount, line 1')).toContainText('37.50');
  await expect(field(page, 'Materials total')).toContainText('37.50');
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved as')).toBeVisible();
});
