import { expect, type Page, test } from '@playwright/test';
import { makeForm, makeTable, publish, reportActions, slip } from './builder.ts';
import { ahead, choose, expectAccessible, fill, input, isoAhead, said, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const MOST_ACTIONS = 12;
/** Fills the Arrival notice as Ida Sandvik; moments as the page takes them. */
async function fillNotice(
  page: Page,
  [registration, name]: readonly [string, string],
  [arrival, departure]: readonly [string, string],
  inSteps = false,
): Promise<void> {
  await fill(page, 'Your name', 'Ida Sandvik');
  await choose(page, 'You are', 'Person');
  await fill(page, 'E-mail', 'ida@tern.example');
  // The public page is filled in steps.
  const next = async (): Promise<void> => {
    if (inSteps) await page.getByRole('button', { name: 'Next' }).click();
  };
  await next();
  await fill(page, 'Registration', registration);
  await fill(page, 'Name of the vessel', name);
  await choose(page, 'Type', 'Tender');
  await fill(page, 'Length', '5.5');
  await next();
  await choose(page, 'Harbour', 'Skerry Haven');
  await choose(page, 'Pontoon', 'D');
  await input(page, 'Berth').click();
  await page.getByRole('option').first().click();
  await fill(page, 'Arrival', arrival);
  await fill(page, 'Departure', departure);
  if (!inSteps) return;
  await next();
  await page.getByLabel('I agree').check();
}
const HOPE = ['GS-9911', 'Curlew Hope'] as const;
const WISH = ['GS-9912', 'Curlew Wish'] as const;
const records = async (page: Page, table: string): Promise<number> =>
  page.evaluate(async (of) => (await (await fetch(`/api/tables/${of}/records?limit=1`)).json()).total, table);

test('a form into three tables is built from nothing, tried, published and filled', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await makeTable(page, 'Keepers', [
    { label: 'Name', type: 'text', required: true },
    { label: 'E-mail', type: 'email' },
  ]);
  await makeTable(page, 'Skiffs', [
    { label: 'Mark', type: 'text', required: true, unique: true },
    { label: 'Keeper', type: 'link', settings: { table: 'gannet_keepers' } },
  ]);
  await makeTable(page, 'Outings', [
    { label: 'Skiff', type: 'link', settings: { table: 'gannet_skiffs' }, required: true },
    { label: 'Persons', type: 'wholeNumber' },
  ]);
  await page.goto('/gannet/forms');
  let actions = 0;
  const act = async (work: () => Promise<unknown>): Promise<void> => {
    actions++;
    await work();
  };
  // New form, its table, its name, create.
  actions += 4;
  await makeForm(page, 'Outings', 'Outing');
  await act(() => page.getByRole('button', { name: 'Form settings' }).click());
  const writes = slip(page).getByRole('region', { name: 'Also writes to' });
  await act(() => writes.getByLabel('Write to another table').selectOption('Keepers'));
  await act(() => writes.getByLabel('Write to another table').selectOption('Skiffs'));
  await expect(writes).toContainText('Skiff of Outings points at the record of Skiffs');
  await expect(writes).toContainText('Keeper of Skiffs points at the record of Keepers');
  await act(() => writes.getByRole('button', { name: 'Put its 2 fields on the form' }).click());
  await act(() => writes.getByRole('button', { name: 'Put its field on the form' }).click());
  await expect(page.getByText('Check: no problems')).toBeVisible();
  await act(() => publish(page, 1, 'Outing'));
  reportActions('One form into three tables', actions, MOST_ACTIONS);

  await page.getByRole('button', { name: 'Form settings' }).click();
  await expect(slip(page).getByRole('region', { name: 'What goes where' })).toContainText(
    'E-mail goes to Keepers › E-mail, which finds the record',
  );
  await expectAccessible(page);

  // Tried where it is built: the records that would be written.
  const live = page.getByRole('region', { name: 'Live card' });
  await live.getByLabel(/^Name/).fill('Bram');
  await live.getByLabel(/^E-mail/).fill('bram@tern.example');
  await live.getByLabel(/^Mark/).fill('S-1');
  await live.getByRole('button', { name: 'Try saving' }).click();
  const would = page.getByRole('region', { name: 'Records that would be written' });
  await expect(would).toContainText('A record would be added to Keepers');
  await expect(would).toContainText('Skiff the record of Skiffs');
  expect(await records(page, 'gannet_keepers')).toBe(0);

  for (const [mark, made] of [
    ['S-1', 1],
    ['S-2', 2],
  ] as const) {
    await page.goto('/gannet/forms/gannet_outing');
    await fill(page, 'Name', 'Bram');
    await fill(page, 'E-mail', 'bram@tern.example');
    await fill(page, 'Mark', mark);
    await page.keyboard.press('Control+s');
    await expect(said(page, /^Saved as/)).toBeVisible();
    // The keeper is found the second time.
    await expect.poll(() => records(page, 'gannet_skiffs')).toBe(made);
    expect(await records(page, 'gannet_keepers')).toBe(1);
  }
  // A record that is there is opened by its own fields, and its history leads to what was written with it.
  await page.goto('/gannet/tables/gannet_outings');
  await page.getByRole('gridcell', { name: 'S-1' }).click();
  await expect(input(page, 'Skiff')).toHaveValue('S-1');
});

test('an arrival is noticed by the public on a phone: known by e-mail and registration the next time', async ({
  browser,
}) => {
  const page = await (
    await browser.newContext({ viewport: { width: 390, height: 800 }, hasTouch: true, isMobile: true })
  ).newPage();
  const send = async (from: number): Promise<void> => {
    await page.goto('/p/arrival-notice');
    await fillNotice(page, HOPE, [`${isoAhead(from)}T12:00`, `${isoAhead(from + 2)}T10:00`], true);
    await page.getByRole('button', { name: 'Send' }).click();
  };
  await send(60);
  await expect(page.getByText(/ARR-\d{4}-0001/)).toBeVisible();
  await expectAccessible(page);
  await send(70);
  await expect(page.getByText(/ARR-\d{4}-0002/)).toBeVisible();
  await page.context().close();
});

test('the office sees what an arrival made, and a clerk fills the same form', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_arrivals');
  await page.getByRole('gridcell', { name: /^ARR-\d{4}-0002$/ }).click();
  await expect(input(page, 'Owner')).toHaveValue('Ida Sandvik');
  await expect(input(page, 'Vessel')).toHaveValue('Curlew Hope');
  await expect(input(page, 'Stay')).toHaveValue(/STAY-/);
  const found = await page.evaluate(async () => {
    const of = async (table: string, words: string) =>
      (await (await fetch(`/api/tables/${table}/records?search=${words}`)).json()).total;
    return [
      await of('gannet_owners', 'Sandvik'),
      await of('gannet_vessels', 'GS-9911'),
      await of('gannet_stays', 'GS-9911'),
    ];
  });
  expect(found).toEqual([1, 1, 2]);

  await page.goto('/gannet/forms/gannet_arrival_notice');
  await fillNotice(page, HOPE, [`${ahead(71)} 12:00`, `${ahead(70)} 10:00`]);
  await page.keyboard.press('Control+s');
  // A rule of Stays stands at the field that went there, and nothing is written.
  await expect(page.getByText('Departure must be after arrival.').first()).toBeVisible();
  expect(await records(page, 'gannet_arrivals')).toBe(2);
});

test('of several owners with one address, a clerk chooses by keyboard, and a public answer waits for the choice', async ({
  page,
  browser,
}) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_owners/new');
  await fill(page, 'Name', 'Ida Sandvik the Younger');
  await choose(page, 'Kind', 'Person');
  await fill(page, 'E-mail', 'ida@tern.example');
  await page.keyboard.press('Control+s');
  await expect(said(page, /^Saved as/)).toBeVisible();

  const answer = async (on: Page, from: number, inSteps = false): Promise<void> => {
    await fillNotice(on, WISH, [`${isoAhead(from)} 12:00`, `${isoAhead(from + 2)} 10:00`], inSteps);
  };
  await page.goto('/gannet/forms/gannet_arrival_notice');
  await answer(page, 80);
  await page.keyboard.press('Control+s');
  const which = page.getByRole('region', { name: /^2 records of Owners are found/ });
  const younger = which.getByRole('radio', { name: /^Ida Sandvik the Younger/ });
  await expect(younger).toBeFocused();
  await expectAccessible(page);
  await page.keyboard.press('ArrowDown');
  await expect(which.getByRole('radio', { name: /^Ida Sandvik No\./ })).toBeChecked();
  await page.keyboard.press('ArrowUp');
  await expect(younger).toBeChecked();
  await page.keyboard.press('Control+s');
  await expect(said(page, /^Saved as ARR-\d{4}-0003/)).toBeVisible();
  const ownerOf = async (arrival: string): Promise<string> => {
    await page.goto('/gannet/tables/gannet_arrivals');
    await page.getByRole('gridcell', { name: new RegExp(`^ARR-\\d{4}-${arrival}$`) }).click();
    return input(page, 'Owner').inputValue();
  };
  expect(await ownerOf('0003')).toBe('Ida Sandvik the Younger');

  const stranger = await (await browser.newContext()).newPage();
  await stranger.goto('/p/arrival-notice');
  await answer(stranger, 90, true);
  await stranger.getByRole('button', { name: 'Send' }).click();
  await expect(stranger.getByRole('status')).toContainText('The office looks at your answer first');
  await expect(stranger.getByText(/H-\d+/)).toBeVisible();
  await stranger.context().close();

  await page.goto('/gannet/forms/gannet_arrival_notice/held');
  const waits = page.getByRole('listitem').filter({ hasText: 'E-mail of Owners: several records have it.' });
  await expect(waits).toContainText('Curlew Wish');
  await waits.getByLabel('Reason').fill('she called');
  await waits.getByRole('button', { name: 'Release', exact: true }).click();
  await waits.getByRole('radio', { name: /^Ida Sandvik No\./ }).check();
  await waits.getByRole('button', { name: 'Release', exact: true }).click();
  await expect(page.getByText('No answer is held.')).toBeVisible();
  // What was tried before it was held took a number.
  expect(await ownerOf('000[45]')).toBe('Ida Sandvik');
});
