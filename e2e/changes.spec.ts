import { expect, type Locator, type Page, test } from '@playwright/test';
import { divider, expectAccessible, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const grid = (page: Page): Locator => page.getByRole('grid');
const rows = (page: Page): Locator => grid(page).locator('[role=row][aria-selected]');
const bar = (page: Page): Locator => page.getByRole('toolbar', { name: 'Selected records' });
const sheet = (page: Page): Locator => page.getByRole('complementary');
const verdict = (page: Page): Locator => page.getByRole('region', { name: 'What the check found' });
const status = (page: Page): Locator => page.getByRole('status').filter({ hasText: /records?$/ });

/** Marks of two kinds, 1 to 40 metres deep, in the order of a file. */
const buoys = (count: number): Buffer => {
  const lines = Array.from({ length: count }, (_, at) => `Buoy ${at + 1},${at % 2 ? 'Spar' : 'Can'},${1 + (at % 40)},`);
  return Buffer.from(`Name,Kind,Depth,Remark\n${lines.join('\n')}\n`);
};

async function openMarks(page: Page): Promise<void> {
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Marks', exact: true }).click();
  await expect(rows(page).first()).toBeVisible();
}

/** Chooses a field that changes, and writes what it becomes. */
async function setField(page: Page, label: string, value: string): Promise<void> {
  await page.getByRole('combobox', { name: /Which field changes\?|Another field/ }).fill(label);
  await page.keyboard.press('Enter');
  await page.getByRole('group', { name: label }).getByRole('textbox').fill(value);
}

test('a table of 1,200 is made from a file, walked cell by cell, and dragged to its end', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'Marks.csv', mimeType: 'text/csv', buffer: buoys(1_200) });
  await page.getByRole('button', { name: 'Check every row' }).click();
  await page.getByRole('button', { name: 'Import 1,200 rows' }).click();
  await page.getByRole('link', { name: 'See the records' }).click();
  await expect(status(page)).toHaveText('1,200 records');
  await expect(rows(page).first()).toContainText('Buoy 1200');

  // By keyboard: down, across, to the end; the cell that the keys are for is in sight, and named.
  await grid(page).focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  const active = async (): Promise<Locator> =>
    page.locator(`[id="${await grid(page).getAttribute('aria-activedescendant')}"]`);
  await expect(await active()).toHaveText('Can');
  await page.keyboard.press('Control+End');
  await expect(grid(page).getByRole('gridcell', { name: 'Buoy 1', exact: true })).toBeInViewport();
  await page.keyboard.press('Control+Home');
  await expect(await active()).toHaveText('Buoy 1200');

  // Dragged to the middle: what is there is read by its place.
  await grid(page).evaluate((element) => element.scrollTo(0, element.scrollHeight / 2));
  await expect(grid(page).getByRole('gridcell', { name: 'Buoy 600', exact: true })).toBeVisible();
  await expectAccessible(page);
});

test('columns are made wider, moved and frozen, by mouse and by keyboard', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await openMarks(page);
  const headings = async (): Promise<string[]> =>
    (await grid(page).getByRole('columnheader').allInnerTexts()).filter(Boolean);
  const heading = (name: string): Locator => grid(page).getByRole('columnheader', { name, exact: true });
  const widthOf = async (name: string): Promise<number> => Math.round((await heading(name).boundingBox())?.width ?? 0);
  const before = await widthOf('Name');
  await grid(page).focus();
  await page.keyboard.press('ArrowUp');
  await page.keyboard.press('Shift+ArrowRight');
  await expect.poll(() => widthOf('Name')).toBe(before + 16);
  await page.keyboard.press('Control+Shift+ArrowRight');
  expect(await headings()).toEqual(['Kind', 'Name', 'Depth', 'Remark']);
  // The keys went along with the column.
  await page.keyboard.press('Enter');
  await expect(heading('Name')).toHaveAttribute('aria-sort', 'ascending');

  const box = await heading('Kind').boundingBox();
  if (!box) throw new Error('There is no heading');
  await page.mouse.move(box.x + box.width - 3, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width + 57, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect.poll(() => widthOf('Kind')).toBe(Math.round(box.width) + 60);
  const from = await heading('Remark').boundingBox();
  const to = await heading('Depth').boundingBox();
  if (!from || !to) throw new Error('There is no heading');
  await page.mouse.move(from.x + 60, from.y + 12);
  await page.mouse.down();
  await page.mouse.move(to.x + 40, to.y + 12, { steps: 8 });
  await page.mouse.up();
  await expect.poll(headings).toEqual(['Kind', 'Name', 'Remark', 'Depth']);

  await page.getByRole('button', { name: 'Columns, groups and sorting' }).click();
  await sheet(page).getByLabel('While scrolling sideways').selectOption('the first 2 columns stay');
  await sheet(page).getByRole('button', { name: 'Reset the widths of columns' }).click();
  await expect(sheet(page).getByRole('button', { name: 'Reset the widths of columns' })).toHaveCount(0);
  await sheet(page).getByRole('button', { name: 'Close' }).click();
  await expect(grid(page).locator('.grid_stays[role=columnheader]')).toHaveCount(3);
  await page.getByRole('button', { name: 'Undo changes' }).click();
  expect(await headings()).toEqual(['Name', 'Kind', 'Depth', 'Remark']);
});

test('some records are selected by keyboard, changed after a look, and put back', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await openMarks(page);
  await grid(page).focus();
  await page.keyboard.press('Space');
  for (let step = 0; step < 3; step++) await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+Space');
  await expect(bar(page)).toContainText('4 records selected');
  await grid(page).getByRole('checkbox', { name: 'Select Buoy 1198' }).click();
  await expect(bar(page)).toContainText('3 records selected');
  await bar(page).getByRole('button', { name: 'Change fields' }).click();
  await setField(page, 'Remark', 'Repainted');
  await sheet(page).getByRole('button', { name: 'Check' }).click();
  await expect(verdict(page)).toContainText('3 records checked: 3 to change. Nothing is written yet.');
  await expect(verdict(page)).toContainText('becomes Repainted');
  await expectAccessible(page);
  // Something else is wanted: what was found counts no more.
  await page.getByRole('group', { name: 'Remark' }).getByRole('textbox').fill('Repainted red');
  await expect(verdict(page)).toHaveCount(0);
  await sheet(page).getByRole('button', { name: 'Check' }).click();
  await sheet(page).getByRole('button', { name: 'Change 3 records' }).click();
  await expect(sheet(page)).toContainText('3 records changed. The ledger has it as one entry.');
  await expect(grid(page).getByRole('gridcell', { name: 'Repainted red' })).toHaveCount(3);
  await expect(bar(page)).toHaveCount(0);

  await sheet(page).getByRole('button', { name: 'Put back' }).click();
  await expect(sheet(page)).toContainText('3 records put back as before.');
  await expect(grid(page).getByRole('gridcell', { name: 'Repainted red' })).toHaveCount(0);
});

test('all that a filter finds is changed by a formula; what cannot be is named and left as it is', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await openMarks(page);
  await page.getByRole('button', { name: '+ Filter' }).click();
  for (const typed of ['Kind', 'Spar']) {
    await page.getByRole('dialog').locator('input').fill(typed);
    await page.keyboard.press('Enter');
  }
  await expect(status(page)).toHaveText('600 records');
  await grid(page).getByRole('checkbox', { name: 'Select all records that are found' }).click();
  await grid(page).getByRole('checkbox', { name: 'Select Buoy 1200' }).click();
  await expect(bar(page)).toContainText('599 records selected');
  await bar(page).getByRole('button', { name: 'Change fields' }).click();
  await page.getByRole('combobox', { name: 'Which field changes?' }).fill('Depth');
  await page.keyboard.press('Enter');
  await page.getByLabel('What Depth becomes').selectOption('becomes what a formula gives');
  await page.locator('.cm-content').fill('depth + 1000');
  await page.getByRole('button', { name: 'Apply' }).click();
  await sheet(page).getByRole('button', { name: 'Check' }).click();
  await expect(verdict(page)).toContainText('599 records checked: 599 to change');
  await sheet(page).getByRole('button', { name: 'Change 599 records' }).click();
  await expect(sheet(page)).toContainText('599 records changed.');

  // One line in the ledger, which opens into its records and can be put back from there.
  await divider(page, 'Ledger').click();
  await expect(page.getByText('599 changed')).toBeVisible();
  await page.getByRole('button', { name: 'Marks', exact: true }).first().click();
  await expect(page.getByText('Only the records of one change of many.')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Put back', exact: true }).click();
  await expect(sheet(page)).toContainText('599 records put back as before.');
});

test('records are archived at once and brought back', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await openMarks(page);
  await page.getByLabel('Find in Marks').fill('Buoy 119');
  await expect(status(page)).toHaveText('12 records');
  await grid(page).focus();
  await page.keyboard.press('Control+a');
  await expect(bar(page)).toContainText('12 records selected');
  await bar(page).getByRole('button', { name: 'Archive 12' }).click();
  await expect(sheet(page)).toContainText('12 records archived.');
  await expect(page.getByText('No record of Marks has “Buoy 119”.')).toBeVisible();
  await sheet(page).getByRole('button', { name: 'Close' }).click();
  await page.getByLabel('Archived').click();
  await expect(page.getByLabel('Archived')).toBeChecked();
  await expect(status(page)).toHaveText('12 records');
  await grid(page).focus();
  await page.keyboard.press('Control+a');
  await bar(page).getByRole('button', { name: 'Restore 12' }).click();
  await expect(sheet(page)).toContainText('12 records restored.');
});

test('cells are edited in the list: typed into, saved as the row is left, refused where they belong, undone', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster');
  await openMarks(page);
  const cellOf = (buoy: string, column: number): Locator =>
    rows(page).filter({ hasText: buoy }).locator(`[aria-colindex="${column}"]`);
  await expect(cellOf('Buoy 1200', 2)).toHaveText('Spar');
  await grid(page).focus();
  // Typing begins editing; Enter saves the row and goes on with the one below.
  for (let step = 0; step < 3; step++) await page.keyboard.press('ArrowRight');
  await page.keyboard.type('New light');
  await expect(page.getByLabel('Remark')).toHaveValue('New light');
  await expectAccessible(page);
  await page.keyboard.press('Enter');
  await expect(cellOf('Buoy 1200', 4)).toHaveText('New light');
  await expect(page.getByLabel('Remark')).toHaveValue('');
  // Tab goes on in the row, which is saved as a whole.
  await page.keyboard.type('Bell');
  await page.keyboard.press('Shift+Tab');
  await page.getByLabel('Depth').fill('a lot');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Type a whole number, such as 12.')).toBeVisible();
  await page.getByLabel('Depth').fill('12');
  // The row below is slow to be read: Escape before its input is there ends editing all the same.
  let read = (): void => undefined;
  const held = new Promise<void>((resolve) => {
    read = resolve;
  });
  await page.route(/\/records\/\d+$/, async (route) => {
    await held;
    await route.continue();
  });
  const asked = page.waitForRequest(/\/records\/\d+$/);
  await page.keyboard.press('Enter');
  await expect(cellOf('Buoy 1199', 4)).toHaveText('Bell');
  await expect(cellOf('Buoy 1199', 3)).toHaveText('12');
  await expect(page.getByLabel('Depth')).toHaveCount(0);
  await page.keyboard.press('Escape');
  await asked;
  read();
  await page.unrouteAll({ behavior: 'wait' });
  await expect(grid(page)).toBeFocused();
  await expect(page.getByLabel('Depth')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(cellOf('Buoy 1199', 4)).toHaveText('');

  // By mouse, once that is switched on; a click beside the input saves.
  await page.getByRole('button', { name: 'Edit in the list' }).click();
  await cellOf('Buoy 1198', 4).click();
  await page.getByLabel('Remark').fill('Moved');
  await page.getByRole('heading', { name: 'Marks' }).click();
  await expect(cellOf('Buoy 1198', 4)).toHaveText('Moved');
  await page.getByRole('button', { name: 'Stop editing in the list' }).click();
  await cellOf('Buoy 1198', 1).click();
  await expect(page.getByText('Record 1,198 of 1,200')).toBeVisible();
});

test('a choice that is changed after the check asks for another check', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_stays');
  await grid(page)
    .getByRole('checkbox', { name: /^Select STAY/ })
    .first()
    .click();
  await bar(page).getByRole('button', { name: 'Change fields' }).click();
  await page.getByRole('combobox', { name: 'Which field changes?' }).fill('Harbour');
  await page.keyboard.press('Enter');
  const harbour = page.getByRole('group', { name: 'Harbour' }).getByRole('combobox', { name: /^Harbour/ });
  const choose = async (name: string): Promise<void> => {
    await harbour.click();
    await page.getByRole('option').filter({ hasText: name }).first().click();
  };
  await choose('Tern Cove');
  await sheet(page).getByRole('button', { name: 'Check' }).click();
  await expect(verdict(page)).toContainText('1 record checked');
  await choose('Skerry Haven');
  await expect(verdict(page)).toHaveCount(0);
});
