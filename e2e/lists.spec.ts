import { expect, test } from '@playwright/test';
import { addField, fieldRow, makeTable, newTable, openField, outline, reportActions } from './builder.ts';
import { choose, divider, expectAccessible, input, offers, said, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const PASTED =
  'Rig\tSail\tTorn\nRig\tSail\tMissing\nRig\tMast\tBent\nHull\tKeel\tBent\nHull\tKeel\tLoose\nHull\tHatch\tLeaks\n';

test('from a pasted list to a published form with a three-level cascade, in at most eight actions', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', '/gannet/tables');
  let actions = 0;
  const act = async (what: Promise<unknown>): Promise<void> => {
    await what;
    actions++;
  };
  await act(page.getByRole('button', { name: 'New option list' }).click());
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Damages');
  await dialog.getByLabel(/^Levels/).fill('Where, Piece, Damage');
  await act(dialog.getByRole('button', { name: 'Create list' }).click());
  await page.getByLabel('Where, row 1').evaluate((element, pasted) => {
    const data = new DataTransfer();
    data.setData('text', pasted);
    element.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  }, PASTED);
  await act(page.getByRole('button', { name: 'Save 6 changes' }).click());
  await expect(said(page, 'Saved: 6 added')).toBeVisible();

  await act(page.getByRole('button', { name: 'Use this list in…' }).click());
  await page.getByRole('dialog').getByLabel('Name of the new table').fill('Repairs');
  await act(page.getByRole('dialog').getByRole('button', { name: 'Add 3 fields' }).click());
  await expect(fieldRow(page, 'Piece')).toContainText('Choice › Damages › Piece');

  await page.goto('/gannet/forms?new');
  await page.getByRole('dialog').getByLabel('Table').selectOption({ label: 'Repairs' });
  await act(page.getByRole('dialog').getByRole('button', { name: 'Create form' }).click());
  await expect(outline(page)).toBeVisible();
  await act(page.getByRole('button', { name: 'Publish version 1' }).click());
  await expect(said(page, 'Version 1 of Repairs is published.')).toBeVisible();
  reportActions('pasted list to a published three-level cascade', actions, 8);

  // It cascades, and a word under two branches is told apart.
  await page.getByRole('link', { name: 'Fill version 1' }).click();
  await choose(page, 'Where', 'Hull');
  expect(await offers(page, 'Piece')).toEqual(['Hatch', 'Keel']);
  await choose(page, 'Piece', 'Keel');
  expect(await offers(page, 'Damage')).toEqual(['Bent', 'Loose']);
});

test('fields that hold the words of a list become choices from it, all levels in one step', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await makeTable(page, 'Old jobs', [
    { label: 'Where', type: 'text' },
    { label: 'Piece', type: 'text' },
    { label: 'What was wrong', type: 'text' },
  ]);
  await page.goto('/gannet/imports/new?into=gannet_old_jobs');
  await page
    .getByLabel(/^or paste rows/)
    .fill('Where\tPiece\tWhat was wrong\nRig\tSail\tTorn\nHull\tKeel\tBent\nHull\tHatch\tLeaks');
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Check every row' }).click();
  await page.getByRole('button', { name: 'Import 3 rows' }).click();
  await expect(page.getByText('is imported')).toBeVisible();
  await page.goto('/gannet/tables/gannet_old_jobs?fields');
  const proposal = page.getByRole('alert').filter({ hasText: 'hold the words of the option list Damages' });
  await expect(proposal).toContainText('Where, Piece, and What was wrong');
  await expectAccessible(page);
  await proposal.getByRole('button', { name: 'Make them choices from Damages' }).click();
  await expect(fieldRow(page, 'What was wrong')).toContainText('Choice › Damages › Damage');
  await expect(fieldRow(page, 'Where')).toContainText('Choice › Damages › Where');
  await expect(proposal).toHaveCount(0);
});

test('a text field becomes a level of a list, and another one a link; what matches nothing is listed', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster');
  await newTable(page, 'Surveys');
  await addField(page, 'Piece', 'Text');
  await addField(page, 'Harbour', 'Text');
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New record' }).click();
  for (const [piece, harbour] of [
    ['keel', 'Tern Cove'],
    ['Mast', 'tern cove'],
    ['Oar', 'Atlantis'],
  ] as const) {
    await input(page, 'Piece').fill(piece);
    await input(page, 'Harbour').fill(harbour);
    await page.keyboard.press('Control+Enter');
    await expect(input(page, 'Piece')).toHaveValue('');
  }
  await page.goto('/gannet/tables/gannet_surveys?fields');
  const piece = await openField(page, 'Piece');
  await piece.getByRole('button', { name: 'Change type…' }).click();
  await piece.getByLabel('New type').selectOption({ label: 'Choice' });
  // The answer about the list’s first level comes after that about the second, which was chosen since.
  let release = (): void => undefined;
  const held = new Promise<void>((go) => {
    release = go;
  });
  const late = page.waitForResponse((answer) => answer.request().postData()?.includes('"column":"where"') ?? false);
  await page.route('**/conversion', async (route) => {
    if (route.request().postData()?.includes('"column":"where"')) await held;
    await route.continue();
  });
  await piece.getByLabel('Choices from').selectOption({ label: 'Damages' });
  await piece.getByLabel('Level').selectOption({ label: '2. Piece' });
  await expect(piece).toContainText('2 values convert, 1 does not:');
  release();
  await late;
  await expect(piece).toContainText('2 values convert, 1 does not:');
  await expect(piece).toContainText('“Oar” is not in Damages, level Piece.');
  await piece.getByRole('button', { name: /blank 1 value/ }).click();
  await expect(fieldRow(page, 'Piece')).toContainText('Choice › Damages › Piece');

  const harbour = await openField(page, 'Harbour');
  await harbour.getByRole('button', { name: 'Change type…' }).click();
  await harbour.getByLabel('New type').selectOption({ label: 'Link' });
  await harbour.getByLabel('To the table').selectOption({ label: 'Harbours' });
  await expect(harbour).toContainText('2 values convert, 1 does not:');
  await expect(harbour).toContainText('No record of Harbours in use has the Name “Atlantis”.');
  await harbour.getByRole('button', { name: /blank 1 value/ }).click();
  await expect(fieldRow(page, 'Harbour')).toContainText('Link › Harbours');

  // What the rows show is found: a linked title, in any case.
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('searchbox').fill('tern cove');
  await expect(page.getByRole('status').first()).toHaveText('2 records');
});

test('the columns of a file that carry a list become its levels; records, tables and nothing are found by Ctrl+K', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Import', exact: true }).click();
  const rows = 'Spot,Where,Piece,Damage\neast wall,Hull,Keel,Bent\nwest wall,Rig,Sail,Torn\n';
  await page
    .getByLabel('Choose a file')
    .setInputFiles({ name: 'damage book.csv', mimeType: 'text/csv', buffer: Buffer.from(rows) });
  const column = (name: string) =>
    page
      .locator('.columns_columns')
      .getByRole('row')
      .filter({ has: page.getByText(name, { exact: true }) });
  for (const [name, level] of [
    ['Where', 'Damages › Where'],
    ['Piece', 'Damages › Piece'],
    ['Damage', 'Damages › Damage'],
  ] as const)
    await expect(column(name)).toContainText(`a choice from ${level}`);
  await page.getByRole('button', { name: 'Check every row' }).click();
  await page.getByRole('button', { name: 'Import 2 rows' }).click();
  await expect(page.getByText('is imported')).toBeVisible();

  await page.keyboard.press('Control+k');
  await page.keyboard.type('GS-0421');
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('tern cov');
  await expect(page.getByRole('option', { name: /Tern Cove.*Harbours/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Harbours', level: 1 })).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.keyboard.type('no such thing');
  await expect(page.getByText('Nothing here is called “no such thing”.')).toBeVisible();
});

test('a yes or no is one stop for Enter, and letters of the next field never change it', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/tables/gannet_pontoons/new');
  const power = page.getByRole('radiogroup', { name: /^Power/ });
  await power.getByRole('radio').first().focus();
  await page.keyboard.press('y');
  await expect(power.getByRole('radio', { name: 'yes' })).toBeChecked();
  await page.keyboard.press('Enter');
  await expect(power.getByRole('radio', { name: 'yes' })).not.toBeFocused();
  await expect(power.getByRole('radio', { name: 'no' })).not.toBeFocused();
  await page.keyboard.type('no');
  await expect(power.getByRole('radio', { name: 'yes' })).toBeChecked();
});
