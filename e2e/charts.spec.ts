import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import { addField, newTable } from './builder.ts';
import { divider, expectAccessible, fill, input, said, signIn } from './office.ts';

const STAYS = '/gannet/tables/gannet_stays?view=none';
const show = (page: Page, as: 'List' | 'Chart' | 'Calendar' | 'Lanes') =>
  page.getByRole('group', { name: 'Show as' }).getByRole('button', { name: as }).click();
const settings = (page: Page) => page.getByRole('complementary', { name: 'Chart' });
const marks = (page: Page) => page.getByRole('group', { name: /Arrow keys go from one to the next/ }).getByRole('link');
const pick = async (page: Page, label: string, option: string): Promise<void> => {
  await settings(page).getByLabel(label).fill(option);
  await page.getByRole('option', { name: option, exact: true }).click();
};

test('stays over time, divided by harbour: a bar leads to exactly its records, by mouse and by keyboard', async ({
  page,
}) => {
  await signIn(page, 'quayclerk', STAYS);
  await show(page, 'Chart');
  await expect(page.getByText('Number of Stays a week, by Arrival')).toBeVisible();
  await expect(page.getByRole('table', { name: 'Figures of the chart' })).toBeVisible();
  await page.getByRole('button', { name: 'Chart settings' }).click();
  await settings(page).getByLabel('One bar for each').selectOption('month');
  await pick(page, 'Divide the bars by', 'Harbour');
  await expect(page.getByText('Number of Stays a month, by Arrival, divided by Harbour')).toBeVisible();
  await expectAccessible(page);
  // By keyboard: to the first mark, on to the third, and in.
  await marks(page).first().focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  const mark = marks(page).nth(2);
  await expect(mark).toBeFocused();
  const words = (await mark.getAttribute('aria-label')) ?? '';
  const count = /: (\d+) records?$/.exec(words)?.[1];
  expect(words).toMatch(/^\w+ \d{4}, \w+ \w+: \d+ records?$/);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('status').filter({ hasText: new RegExp(`^${count} records?$`) })).toBeVisible();
  await expect(page.getByText('Show Stays whose')).toBeVisible();
  // From the first of the month to the next one, and its harbour: three conditions.
  expect(JSON.parse(new URL(page.url()).searchParams.get('where') ?? '').of).toHaveLength(3);
  // What a chart led to is a list like any other: back goes to the chart, as it was.
  await page.goBack();
  await expect(page.getByText('Number of Stays a month, by Arrival, divided by Harbour')).toBeVisible();
  const clicked = marks(page).last();
  const last = /: (\d+) records?$/.exec((await clicked.getAttribute('aria-label')) ?? '')?.[1];
  await clicked.click();
  await expect(page.getByRole('status').filter({ hasText: new RegExp(`^${last} records?$`) })).toBeVisible();
});

test('a chart is saved, shared and put on everybody’s Home; a clerk takes it off and puts it back', async ({
  page,
  browser,
}) => {
  await signIn(page, 'harbourmaster', STAYS);
  await show(page, 'Chart');
  await page.getByRole('button', { name: 'Chart settings' }).click();
  await settings(page).getByLabel('What the chart shows').selectOption({ label: 'By choice or link' });
  await pick(page, 'One bar for each', 'Harbour');
  await settings(page).getByLabel('Length of the bars').selectOption({ label: 'Sum of a number' });
  await pick(page, 'Number', 'Dues');
  await expect(page.getByText('Sum of Dues by Harbour')).toBeVisible();
  await page.getByRole('button', { name: 'Save as a view' }).click();
  const sheet = page.getByRole('complementary', { name: 'Save as a view' });
  await sheet.getByLabel('Name').fill('Dues by harbour');
  await sheet.getByLabel('Share it with others in the cabinet').check();
  await sheet.getByLabel('Show it on everybody’s Home').check();
  await sheet.getByRole('button', { name: 'Save view' }).click();
  await expect(said(page, 'The view Dues by harbour is saved.')).toBeVisible();

  const clerk = await (await browser.newContext()).newPage();
  await signIn(clerk, 'nightclerk', '/gannet/home');
  const card = clerk.getByRole('article', { name: 'Dues by harbour' });
  await expect(card.getByRole('link', { name: /: Sum of Dues/ }).first()).toBeVisible();
  await expectAccessible(clerk);
  await clerk.getByRole('button', { name: 'Arrange Home' }).click();
  await clerk.getByRole('button', { name: 'Take Dues by harbour off Home' }).click();
  await expect(card).toHaveCount(0);
  await clerk.getByRole('button', { name: 'Put Dues by harbour back' }).click();
  await expect(card).toBeVisible();
  await clerk.getByRole('button', { name: 'Move Dues by harbour up' }).click();
  await clerk.getByRole('button', { name: 'Done' }).click();
  const order = async (): Promise<string[]> =>
    clerk
      .getByRole('article')
      .filter({ has: clerk.getByRole('group', { name: /Arrow keys/ }) })
      .evaluateAll((all) => all.map((one) => one.getAttribute('aria-label') ?? ''));
  const before = await order();
  await clerk.reload();
  await expect(card).toBeVisible();
  await expect.poll(order).toEqual(before);
  await clerk.context().close();

  // One's own view goes on one's own Home by its button.
  await page.goto('/gannet/tables/gannet_owners');
  await page.getByLabel('View', { exact: true }).selectOption({ label: 'Lead owners' });
  await page.getByRole('button', { name: 'Put on Home' }).click();
  await expect(said(page, 'Lead owners is on your Home.')).toBeVisible();
  await page.goto('/gannet/home');
  await expect(page.getByRole('article', { name: 'Lead owners' })).toContainText('in all');
  await page.getByRole('article', { name: 'Lead owners' }).getByRole('link', { name: 'Lead owners' }).click();
  await page.getByRole('button', { name: 'Take off Home' }).click();
  await expect(said(page, 'Lead owners is off your Home.')).toBeVisible();
});

test('a chart leaves as a picture: SVG with its words and colours, PNG in twice its size', async ({ page }) => {
  await signIn(page, 'auditor', '/gannet/tables/gannet_fault_reports');
  await page.getByLabel('View', { exact: true }).selectOption({ label: 'Faults by system' });
  await expect(page.getByText('Number of Fault reports by System')).toBeVisible();
  const save = async (name: string) => {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name }).click()]);
    return { name: download.suggestedFilename(), bytes: readFileSync(await download.path()) };
  };
  const svg = await save('Save as SVG');
  expect(svg.name).toBe('Faults by system.svg');
  const text = svg.bytes.toString();
  expect(text).toContain('>Faults by system<');
  expect(text).toMatch(/fill="#17595a"/);
  expect(text).toContain('>Pontoon<');
  expect(text).not.toContain('var(');
  const png = await save('Save as PNG');
  expect(png.name).toBe('Faults by system.png');
  const box = await page.getByRole('group', { name: /Arrow keys/ }).boundingBox();
  expect(png.bytes.subarray(1, 4).toString()).toBe('PNG');
  expect(png.bytes.readUInt32BE(16)).toBe(2 * (Math.round(box?.width ?? 0) + 24));
});

test('a chart of nothing and two numbers say what they show; at phone width nothing is wider than the page', async ({
  page,
}) => {
  await page.setViewportSize({ width: 390, height: 800 });
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_vessels?view=none');
  await show(page, 'Chart');
  await page.getByRole('button', { name: 'Chart settings' }).click();
  await settings(page).getByLabel('What the chart shows').selectOption({ label: 'Two numbers against each other' });
  await pick(page, 'Horizontal axis', 'Length');
  await pick(page, 'Vertical axis', 'Draught');
  await page.getByRole('button', { name: 'Close' }).click();
  await expect(page.getByText('Draught against Length')).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await expectAccessible(page);
  await page.getByLabel('Find in Vessels').fill('no such vessel');
  await expect(page.getByText('There are no Vessels to show here.')).toBeVisible();
});

test('from nothing: a table’s records in lanes by what they link to, a chart of them, and that on Home', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster');
  await page.getByRole('button', { name: /^Cabinet/ }).click();
  await page.getByRole('menuitem', { name: 'New cabinet…' }).click();
  // Its name comes after that of the sample’s cabinet, which others of these tests begin in.
  await page.getByLabel('Name').fill('Launching ramps');
  await page.getByRole('button', { name: 'Create cabinet' }).click();
  await expect(page.getByText('This cabinet is empty.')).toBeVisible();
  await newTable(page, 'Ramps');
  await addField(page, 'Name', 'Text', { required: true });
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New record' }).click();
  await fill(page, 'Name', 'N1');
  await page.keyboard.press('Control+s');
  await expect(said(page, /^Saved/)).toBeVisible();
  await newTable(page, 'Bookings');
  await addField(page, 'Vessel', 'Text', { required: true });
  await addField(page, 'Ramp', 'Link', { table: 'Ramps' });
  await addField(page, 'From', 'Date');
  await addField(page, 'Until', 'Date');
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('button', { name: 'Lanes', exact: true }).click();
  const grid = page.getByRole('grid', { name: 'Bookings by Ramp' });
  // Drawn over three days of a lane, and entered on the card that opens.
  const track = await grid.getByRole('row', { name: /^N1/ }).getByRole('gridcell').boundingBox();
  if (!track) throw new Error('N1 has no lane');
  const at = (days: number): number => track.x + (track.width * days) / 14;
  await page.mouse.move(at(5.2), track.y + 10);
  await page.mouse.down();
  await page.mouse.move(at(6.5), track.y + 10, { steps: 3 });
  await page.mouse.move(at(7.8), track.y + 10, { steps: 3 });
  await page.mouse.up();
  await expect(input(page, 'Ramp')).toHaveValue('N1');
  await fill(page, 'Vessel', 'Petrel Song');
  // Whoever goes on while it is being saved is not called back to its card.
  let answer = (): void => undefined;
  const held = new Promise<void>((resolve) => {
    answer = resolve;
  });
  await page.route('**/entries', async (route) => {
    await held;
    await route.continue();
  });
  // What was said of the ramp is gone by then.
  await expect(said(page, /^Saved/)).toHaveCount(0);
  await page.keyboard.press('Control+s');
  await page.getByRole('navigation', { name: 'Where I am' }).getByRole('link', { name: 'Bookings' }).click();
  await expect(page).toHaveURL(/launching_ramps_bookings$/);
  answer();
  await expect(said(page, /^Saved as/)).toBeVisible();
  await expect(page).toHaveURL(/launching_ramps_bookings$/);
  await page.reload();
  await page.getByRole('button', { name: 'Lanes', exact: true }).click();
  const booking = grid
    .getByRole('row', { name: /^N1/ })
    .getByRole('gridcell')
    .getByRole('button', { name: /Petrel Song/ });
  await expect(booking).toBeVisible();

  // A chart of the same table, shared and on everybody’s Home.
  await page.getByRole('button', { name: 'Chart', exact: true }).click();
  await page.getByRole('button', { name: 'Chart settings' }).click();
  await page.getByLabel('What the chart shows').selectOption({ label: 'By choice or link' });
  await expect(page.getByText('Number of Bookings by Ramp')).toBeVisible();
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Save as a view' }).click();
  await page.getByLabel('Name').fill('Bookings by ramp');
  await page.getByLabel('Share it with others in the cabinet').check();
  await page.getByLabel('Show it on everybody’s Home').check();
  await page.getByRole('button', { name: 'Save view' }).click();
  await expect(said(page, 'The view Bookings by ramp is saved.')).toBeVisible();
  await divider(page, 'Home').click();
  const chart = page.getByRole('article', { name: 'Bookings by ramp' });
  await chart.getByRole('link', { name: 'N1: 1 record' }).click();
  await expect(page.getByRole('status').filter({ hasText: '1 record' })).toBeVisible();
});
