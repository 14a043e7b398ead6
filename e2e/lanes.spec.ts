import { expect, type Locator, type Page, test } from '@playwright/test';
import { ahead, expectAccessible, fill, input, isoAhead, said, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const STAYS = '/gannet/tables/gannet_stays';
/** The lanes are looked at from this day on, when no stay of the sample lasts any more. */
const FROM = isoAhead(60);
const SEEN = 14;
const grid = (page: Page) => page.getByRole('grid', { name: 'Stays by Berth' });
const lane = (page: Page, berth: string) => grid(page).getByRole('row', { name: new RegExp(`^${berth} Gannet Quay`) });
const bar = (page: Page, berth: string) => lane(page, berth).getByRole('gridcell').getByRole('button');
const wordsOf = async (of: Locator): Promise<string> => (await of.getAttribute('aria-label')) ?? '';

async function openLanes(page: Page, login: string): Promise<void> {
  await page.request.post('/api/session', { data: { login, password: 'gannet-sound' } });
  const { views } = await (await page.request.get('/api/tables/gannet_stays/views')).json();
  const { id } = views.find((one: { label: string }) => one.label === 'Berths and stays');
  await signIn(page, login, `${STAYS}?view=${id}&at=${FROM}&span=fortnight`);
  await expect(lane(page, 'A-2')).toBeVisible();
}

/** A point in a lane, so many days from the first one that is seen. */
async function pointAt(page: Page, berth: string, days: number): Promise<{ x: number; y: number }> {
  const box = await lane(page, berth).getByRole('gridcell').boundingBox();
  if (!box) throw new Error(`${berth} is not in sight`);
  return { x: box.x + (box.width * days) / SEEN, y: box.y + box.height / 2 };
}

/** Drags with the mouse from one point of the lanes to another; it is still held. */
async function dragTo(page: Page, from: readonly [string, number], to: readonly [string, number]): Promise<void> {
  const [begin, end] = [await pointAt(page, ...from), await pointAt(page, ...to)];
  await page.mouse.move(begin.x, begin.y);
  await page.mouse.down();
  await page.mouse.move((begin.x + end.x) / 2, (begin.y + end.y) / 2, { steps: 3 });
  await page.mouse.move(end.x, end.y, { steps: 3 });
}

test('two stays are drawn over free berths: their cards begin with berth, pontoon, harbour and days', async ({
  page,
}) => {
  await openLanes(page, 'quayclerk');
  // A vessel that fits any berth, insured for long enough.
  const known = await page.evaluate(async (until) => {
    const { records } = await (await fetch('/api/tables/gannet_vessels/records?sort=length&limit=80')).json();
    const values = records.map((one: { values: object }) => one.values) as {
      registration: string;
      insured_until: string;
    }[];
    return values.find((one) => one.insured_until > until)?.registration;
  }, isoAhead(90));
  for (const [berth, first, last] of [
    ['A-1', 2.1, 4.9],
    ['A-2', 6.1, 8.9],
  ] as const) {
    await dragTo(page, [berth, first], [berth, last]);
    await page.mouse.up();
    await expect(input(page, 'Berth')).toHaveValue(berth);
    await expect(input(page, 'Harbour')).toHaveValue('Gannet Quay');
    await expect(input(page, 'Pontoon')).toHaveValue('A');
    await expect(input(page, 'Arrival')).not.toHaveValue('');
    await expect(input(page, 'Departure')).not.toHaveValue('');
    await fill(page, 'Registration', known ?? '');
    await page.keyboard.press('Tab');
    await expect(input(page, 'Length')).not.toHaveValue('');
    await page.keyboard.press('Control+s');
    await expect(said(page, /^Saved as STAY-/)).toBeVisible();
    await openLanes(page, 'quayclerk');
    await expect(bar(page, berth)).toBeVisible();
  }
});

test('a stay is dragged to another berth and day, stretched at its end, and taken back; its history says what moved', async ({
  page,
}) => {
  await openLanes(page, 'quayclerk');
  await dragTo(page, ['A-1', 3.5], ['A-3', 4.5]);
  await page.mouse.up();
  await expect(said(page, /is moved: A-3, /)).toBeVisible();
  await expect(bar(page, 'A-1')).toHaveCount(0);
  const moved = await wordsOf(bar(page, 'A-3'));
  // By its end, which lies at the beginning of the sixth day.
  await dragTo(page, ['A-3', 5.97], ['A-3', 8]);
  await page.mouse.up();
  await expect(bar(page, 'A-3')).not.toHaveAttribute('aria-label', moved);
  const stretched = await wordsOf(bar(page, 'A-3'));
  await said(page, stretched.slice(stretched.indexOf(', ') + 2))
    .getByRole('button', { name: 'Undo' })
    .click();
  await expect(bar(page, 'A-3')).toHaveAttribute('aria-label', moved);
  await expect(said(page, /is back where it was/)).toBeVisible();
  await bar(page, 'A-3').click();
  await page
    .getByRole('dialog')
    .getByRole('link', { name: /^Open STAY-/ })
    .click();
  await expect(input(page, 'Berth')).toHaveValue('A-3');
  await page.keyboard.press('Alt+h');
  await expect(
    page
      .getByRole('complementary', { name: /History/ })
      .getByText(/A-1/)
      .first(),
  ).toBeVisible();
});

test('what would lie over another stay is said while it is dragged, goes back and says why', async ({ page }) => {
  await openLanes(page, 'quayclerk');
  const before = await wordsOf(bar(page, 'A-3'));
  await dragTo(page, ['A-3', 4.5], ['A-2', 7.5]);
  await expect(lane(page, 'A-2').getByText(/: taken by .* until /)).toBeVisible();
  await page.mouse.up();
  await expect(said(page, /stays where it was: .*Another vessel lies on this berth then/)).toBeVisible();
  await expect(bar(page, 'A-3')).toHaveAttribute('aria-label', before);
  await expect(bar(page, 'A-2')).toHaveCount(1);
  // Escape gives a drag up.
  await dragTo(page, ['A-3', 4.5], ['A-4', 9]);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(bar(page, 'A-3')).toHaveAttribute('aria-label', before);
});

test('by keyboard: from stay to stay, taken up with Space, moved, put down and left; the panel does the same by buttons', async ({
  page,
}) => {
  await openLanes(page, 'nightclerk');
  await expectAccessible(page);
  const stay = bar(page, 'A-3');
  const words = await wordsOf(stay);
  await stay.focus();
  await page.keyboard.press('Space');
  await expect(page.getByText('Arrow keys move it, Shift and arrow keys its end.')).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Escape');
  await expect(stay).toHaveAttribute('aria-label', words);
  await expect(stay).toBeFocused();
  await page.keyboard.press('Space');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(said(page, /is moved: A-4, /)).toBeVisible();
  await expect(bar(page, 'A-4')).toBeFocused();
  const longer = await wordsOf(bar(page, 'A-4'));
  await page.keyboard.press('Enter');
  const panel = page.getByRole('dialog');
  await expect(panel.getByRole('link', { name: /^Open STAY-/ })).toBeFocused();
  await expectAccessible(page);
  await panel.getByRole('button', { name: 'A day shorter' }).click();
  await panel.getByRole('button', { name: 'Move it' }).click();
  await expect(bar(page, 'A-4')).not.toHaveAttribute('aria-label', longer);
  await bar(page, 'A-4').focus();
  await page.keyboard.press('ArrowUp');
  await expect(bar(page, 'A-2')).toBeFocused();
});

test('a free berth of at least 12 m is found, and a new stay begins in it', async ({ page }) => {
  await openLanes(page, 'quayclerk');
  await page.getByRole('button', { name: 'Find free Berths' }).click();
  const free = page.getByRole('region', { name: 'Free Berths' });
  const found = free.getByText(/^\d+ free$/);
  await expect(found).toBeVisible();
  const today = await found.innerText();
  await free.getByLabel('To', { exact: true }).fill(isoAhead(70));
  await free.getByLabel('To', { exact: true }).press('Enter');
  await free.getByLabel('From', { exact: true }).fill(isoAhead(61));
  await free.getByLabel('From', { exact: true }).press('Enter');
  await expect(found).not.toHaveText(today);
  const later = await found.innerText();
  await expect(lane(page, 'A-1').locator('[data-free]')).toHaveCount(1);
  await expect(lane(page, 'A-2').locator('[data-free]')).toHaveCount(0);
  await free.getByRole('button', { name: '+ Only Berths whose …' }).click();
  for (const typed of ['Longest vessel', '12']) {
    await page.getByRole('dialog').locator('input').fill(typed);
    await page.keyboard.press('Enter');
  }
  await expect(found).not.toHaveText(later);
  await expectAccessible(page);
  const chip = free.locator('.MuiChip-root').first();
  const [berth] = (await chip.innerText()).split(',');
  await chip.click();
  await expect(input(page, 'Berth')).toHaveValue(berth ?? '');
  await expect(input(page, 'Harbour')).not.toHaveValue('');
  await expect(input(page, 'Arrival')).not.toHaveValue('');
});

test('who may not change records drags nothing; zoomed to a year and a day, lanes keep their place', async ({
  page,
}) => {
  await openLanes(page, 'auditor');
  const words = await wordsOf(bar(page, 'A-2'));
  await dragTo(page, ['A-2', 7], ['A-4', 9]);
  await page.mouse.up();
  await expect(bar(page, 'A-2')).toHaveAttribute('aria-label', words);
  for (const span of ['Year', 'Day', 'Season', 'Week', 'Fortnight']) {
    await page.getByRole('group', { name: 'How much is seen' }).getByRole('button', { name: span }).click();
    await expect(page.getByRole('button', { name: span, pressed: true })).toBeVisible();
  }
  await bar(page, 'A-2').focus();
  await page.getByRole('button', { name: 'Today' }).click();
  await expect(grid(page).getByRole('gridcell').getByRole('button').first()).toBeVisible();
  // What had the focus is out of sight now: Tab stops at another one.
  await expect(grid(page).locator('[data-period][tabindex="0"]')).toHaveCount(1);
  await expectAccessible(page);
});

test('a calendar: a stay is moved by a day in the month, others of a day are listed, the list reads by days', async ({
  page,
}) => {
  await signIn(page, 'quayclerk', `${STAYS}?view=none`);
  await page.getByRole('group', { name: 'Show as' }).getByRole('button', { name: 'Calendar' }).click();
  const month = page.getByRole('region', { name: 'Stays by Arrival' });
  await expect(month.getByRole('button').first()).toBeVisible();
  await expectAccessible(page);
  // In the month of the stays that were drawn before: one is dragged to another day.
  await page.goto(`${STAYS}?view=none&at=${isoAhead(66)}&span=month`);
  const number = await month.locator('[data-period]').first().getAttribute('data-period');
  const stay = month.locator(`[data-period="${number}"]`).first();
  const words = await wordsOf(stay);
  const box = await stay.boundingBox();
  if (!box) throw new Error('The stay is not in sight');
  const frame = await month.boundingBox();
  const dayWidth = (frame?.width ?? 0) / 7;
  // To the day before, or from a Monday to the next day.
  const by = box.x - (frame?.x ?? 0) > dayWidth ? -dayWidth : dayWidth;
  await page.mouse.move(box.x + 12, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 12 + by / 2, box.y + 8, { steps: 3 });
  await page.mouse.move(box.x + 12 + by, box.y + 8, { steps: 3 });
  await page.mouse.up();
  await expect(said(page, /is moved: /)).toBeVisible();
  await expect(stay).not.toHaveAttribute('aria-label', words);
  // By keys: taken up, a day on, put down.
  const moved = await wordsOf(stay);
  await stay.focus();
  for (const key of ['Space', 'ArrowDown']) await page.keyboard.press(key);
  // In another week it is drawn anew, and keeps the focus.
  await expect(stay).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(stay).not.toHaveAttribute('aria-label', moved);
  await expect(stay).toBeFocused();
  // A drag that Escape gives up leaves it where it is.
  const weekOn = await wordsOf(stay);
  const there = await stay.boundingBox();
  if (!there) throw new Error('The stay is not in sight');
  await page.mouse.move(there.x + 12, there.y + 8);
  await page.mouse.down();
  // A week or two down, or up from the lower half.
  const down = there.y < (frame?.y ?? 0) + (frame?.height ?? 0) / 2 ? 150 : -150;
  await page.mouse.move(there.x + 12, there.y + down, { steps: 4 });
  await expect(stay).not.toHaveAttribute('aria-label', weekOn);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(stay).toHaveAttribute('aria-label', weekOn);
  await page.goto(`${STAYS}?view=none`);
  await page.getByRole('group', { name: 'How much is seen' }).getByRole('button', { name: 'Week' }).click();
  const first = month.getByRole('button').first();
  await expect(first).toBeVisible();
  await month
    .getByRole('link', { name: /more on/ })
    .first()
    .click();
  await expect(page.getByRole('status').filter({ hasText: /records?$/ })).toBeVisible();
  await expect(page.getByText(/Show Stays whose/)).toContainText('Arrival');
  await page.goBack();
  await page.getByRole('group', { name: 'How much is seen' }).getByRole('button', { name: 'List' }).click();
  await expect(page.getByRole('list', { name: 'Stays' }).getByRole('link').first()).toBeVisible();
  await expectAccessible(page);
});

test('a move that a rule asks about is saved with a reason, and stays where it was without one', async ({ page }) => {
  await openLanes(page, 'quayclerk');
  const lanes = page.url().split('&')[0];
  // A stay of now of some days; its vessel is not insured any more.
  const found = await page.evaluate(async () => {
    const read = async (address: string) => (await fetch(`/api/tables/gannet_stays/${address}`)).json();
    const { views } = await read('views');
    const { id } = views.find((one: { label: string }) => one.label === 'In harbour now');
    const { records } = await read(`views/${id}/records?limit=100`);
    const days = ({ arrival, departure }: Record<string, string>): number =>
      (Date.parse(departure ?? '') - Date.parse(arrival ?? '')) / 86_400_000;
    const { title, values } = records.find((one: { values: Record<string, string> }) => days(one.values) > 4);
    return { title: title as string, vessel: values.vessel as number };
  });
  const insure = async (until: string): Promise<void> => {
    await page.goto(`/gannet/tables/gannet_vessels/${found.vessel}`);
    await fill(page, 'Insured until', until);
    await page.keyboard.press('Control+s');
    await expect(said(page, /^Saved/)).toBeVisible();
  };
  await insure(ahead(-40));
  await page.goto(`${lanes}&find=${found.title}&span=season&at=${isoAhead(-30)}`);
  const stay = grid(page).locator('[data-period]');
  await expect(stay).toHaveCount(1);
  const words = await wordsOf(stay);
  await stay.focus();
  for (const key of ['Space', 'Shift+ArrowLeft', 'Enter']) await page.keyboard.press(key);
  const asked = page.getByRole('dialog', { name: /^Give a reason to move/ });
  await expect(asked.getByRole('textbox')).toBeFocused();
  await expectAccessible(page);
  await asked.getByRole('button', { name: 'Leave it where it was' }).click();
  await expect(stay).toHaveAttribute('aria-label', words);
  await stay.focus();
  for (const key of ['Space', 'Shift+ArrowLeft', 'Enter']) await page.keyboard.press(key);
  await asked.getByRole('textbox').fill('The owner has shown a new policy.');
  await page.keyboard.press('Enter');
  await expect(said(page, /is moved: /)).toBeVisible();
  await expect(stay).not.toHaveAttribute('aria-label', words);
  // For the tests that come after this one.
  await insure(ahead(300));
});
