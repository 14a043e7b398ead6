import { expect, type Page, test } from '@playwright/test';
import { ahead, card, expectAccessible, input, isoAhead, said, signIn } from './office.ts';

/** Types like a clerk, and counts what is not the data itself. */
class Typist {
  data = 0;
  beyond = 0;
  constructor(private readonly page: Page) {}
  async type(text: string): Promise<void> {
    this.data += text.length;
    await this.page.keyboard.type(text);
  }
  async press(key: string): Promise<void> {
    this.beyond++;
    await this.page.keyboard.press(key);
  }
  /** A value, and on. */
  async enter(text: string): Promise<void> {
    await this.type(text);
    await this.press('Enter');
  }
}

interface Stay {
  readonly harbour: string;
  readonly pontoon: string;
  readonly berth: string;
  readonly registration: string;
  readonly arrival: string;
  readonly departure: string;
  readonly mooring: string;
  readonly services: readonly (readonly [service: string, quantity: string])[];
}

/** A day so many days from today, as it is typed in a hurry: `1.12.26`. */
const typedAhead = (days: number): string => {
  const [year = 0, month, day] = isoAhead(days).split('-').map(Number);
  return `${day}.${month}.${year % 100}`;
};

/** A printed sheet's worth: ten vessels that fit their berths, on days on which nobody lies there yet. */
async function sheet(page: Page): Promise<Stay[]> {
  const typed = Array.from({ length: 13 }, (_, n) => typedAhead(30 + n));
  return page.evaluate(
    async ([days, until]) => {
      const all = async (table: string, sort: string) =>
        (await (await fetch(`/api/tables/${table}/records?limit=200&sort=${sort}`)).json()).records;
      const berths = (await all('gannet_berths', 'longest_vessel')).filter(
        (one: { values: { in_use: boolean } }) => one.values.in_use,
      );
      const pontoons = new Map((await all('gannet_pontoons', 'letter')).map((one: { id: number }) => [one.id, one]));
      const vessels = (await all('gannet_vessels', 'draught')).filter(
        (one: { values: { insured_until: string; length: number } }) =>
          one.values.insured_until > until && one.values.length <= 8,
      );
      return vessels.slice(0, 10).map((vessel: { values: { registration: string } }, n: number) => {
        const berth = berths[n];
        // biome-ignore lint/suspicious/noExplicitAny: records as they come.
        const pontoon = pontoons.get(berth.values.pontoon) as any;
        return {
          harbour: pontoon.linked.harbour.title,
          pontoon: pontoon.values.letter,
          berth: berth.values.number,
          registration: vessel.values.registration,
          arrival: `${days[0]} 1200`,
          departure: `${days[n + 3]} 1000`,
          mooring: 'up to 10',
          services: [
            ['shore', String(n + 3)],
            ['fresh', '0.5'],
            ['pump', '1'],
          ] as const,
        };
      });
    },
    [typed, isoAhead(60)] as const,
  );
}

test('a clerk enters ten stays with three lines each from a printed sheet, by keyboard alone', async ({ page }) => {
  await signIn(page, 'quayclerk');
  const stays = await sheet(page);
  expect(stays).toHaveLength(10);
  await page.goto('/gannet/forms/gannet_check_in/new');
  const typist = new Typist(page);
  const lines = card(page).getByRole('region', { name: 'Services used' });
  for (const [n, stay] of stays.entries()) {
    await expect(input(page, 'Harbour')).toBeFocused();
    await expect(lines.getByLabel('Service, line 1')).toBeVisible();
    await typist.enter(stay.harbour);
    await expect(input(page, 'Harbour')).toHaveValue(stay.harbour);
    await typist.enter(stay.pontoon);
    await expect(input(page, 'Pontoon')).toHaveValue(stay.pontoon);
    await typist.enter(stay.berth);
    await expect(input(page, 'Berth')).toHaveValue(stay.berth);
    await typist.enter(stay.registration);
    await expect(input(page, 'Arrival')).toBeFocused();
    await typist.enter(stay.arrival);
    await typist.enter(stay.departure);
    await typist.enter(stay.mooring);
    for (const [at, [service, quantity]] of stay.services.entries()) {
      await expect(lines.getByLabel(`Service, line ${at + 1}`)).toBeFocused();
      await typist.enter(service);
      await typist.enter(quantity);
    }
    await expect(lines.getByLabel('Service, line 4')).toBeFocused();
    await expect(lines.getByLabel('Amount, line 3')).not.toHaveText('');
    if (n === 9) await expectAccessible(page);
    await typist.press('Control+Enter');
    await expect(said(page, 'Saved as')).toBeVisible();
    // Alerts are compared as well, so that a failure shows what kept the card open.
    await expect
      .poll(async () => [await input(page, 'Harbour').inputValue(), await page.getByRole('alert').allTextContents()])
      .toEqual(['', []]);
  }
  // Each is there, whole: its lines, its dues.
  const saved = await page.evaluate(async () => {
    const { records } = await (
      await fetch('/api/tables/gannet_stays/records?limit=10&sort=arrival&direction=down')
    ).json();
    return Promise.all(
      records.map(async (one: { id: number }) =>
        (await fetch(`/api/tables/gannet_stays/records/${one.id}?form=gannet_check_in`)).json(),
      ),
    );
  });
  for (const stay of saved) {
    expect(stay.values.arrival).toBe(`${isoAhead(30)}T12:00`);
    expect(stay.lines.services_used).toHaveLength(3);
    const nights = (Date.parse(stay.values.departure.slice(0, 10)) - Date.parse(isoAhead(30))) / 86_400_000;
    const services = stay.lines.services_used.reduce(
      (sum: number, one: { values: { amount: number } }) => sum + one.values.amount,
      0,
    );
    expect(stay.values.dues).toBeCloseTo(nights * stay.values.nightly_rate + services, 2);
  }
  // Seven fields, three lines of two cells: one key each, and one to save and go on.
  expect(typist.beyond / stays.length).toBe(14);
  test.info().annotations.push({ type: 'keystrokes beyond the data, a stay', description: String(14) });
});

test('lines: a pasted block with a preview of what does not fit, copy down, moved, archived, undone, put in order', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_check_in/new');
  await input(page, 'Arrival').fill(`${ahead(30)} 12:00`);
  await page.keyboard.press('Tab');
  const lines = card(page).getByRole('region', { name: 'Services used' });
  const cell = (label: string, n: number) => lines.getByLabel(`${label}, line ${n}`);
  const paste = async (text: string) => {
    await page.evaluate((copied) => navigator.clipboard.writeText(copied), text);
    await page.keyboard.press('Control+v');
  };
  await cell('Service', 1).focus();
  await paste('Crane\t2\nCranes\t1\nPump-out\tmuch\tbeside\tmore');
  const preview = lines.getByRole('alertdialog');
  await expect(preview).toContainText('3 rows pasted. 3 problems.');
  await expect(preview).toContainText('The last column of the block would be left out.');
  await expect(preview).toContainText('Services used, line 2, Service: No choice is called “Cranes”.');
  await expect(preview).toContainText('Services used, line 3, Quantity');
  await expect(cell('Service', 1)).toHaveValue('');
  await preview.getByRole('button', { name: 'Paste anyway' }).click();
  await expect(cell('Service', 1)).toHaveValue('Crane');
  await expect(cell('Quantity', 3)).toHaveValue('much');
  await lines.getByRole('button', { name: 'Undo in lines' }).click();
  await expect(cell('Service', 1)).toHaveValue('');

  await cell('Service', 1).focus();
  await paste('Crane\t2\nFresh water\t1,5');
  await expect(cell('Amount', 2)).toContainText('6.39');
  await expect(cell('Service', 3)).toBeVisible();
  // Copy down, then move up, then take out, all by keyboard.
  await cell('Quantity', 3).fill('4');
  await cell('Service', 3).focus();
  await page.keyboard.press('Control+d');
  await expect(cell('Service', 3)).toHaveValue('Fresh water');
  await page.keyboard.press('Alt+ArrowUp');
  await expect(cell('Quantity', 2)).toHaveValue('4.00');
  await expect(cell('Service', 2)).toBeFocused();
  await page.keyboard.press('Control+Delete');
  await expect(cell('Quantity', 2)).toHaveValue('1.50');
  await page.keyboard.press('Alt+z');
  await expect(cell('Quantity', 2)).toHaveValue('4.00');
});

test('500 lines stay quick to type in, and save in one request', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await signIn(page, 'quayclerk');
  const [stay] = await sheet(page);
  await page.goto('/gannet/forms/gannet_check_in/new');
  await input(page, 'Berth').fill(stay?.berth ?? '');
  await page.keyboard.press('Tab');
  await input(page, 'Registration').fill(stay?.registration ?? '');
  await input(page, 'Arrival').fill(`${ahead(33)} 12:00`);
  await input(page, 'Departure').fill(`${ahead(34)} 10:00`);
  await page.keyboard.press('Tab');
  const lines = card(page).getByRole('region', { name: 'Services used' });
  const block = Array.from({ length: 500 }, (_, n) => `${n % 2 ? 'Crane' : 'Fresh water'}\t${n + 1}`).join('\n');
  await lines.getByLabel('Service, line 1').focus();
  await page.evaluate((copied) => navigator.clipboard.writeText(copied), block);
  await page.keyboard.press('Control+v');
  await expect(lines).toContainText('500 lines');
  expect(await lines.getByRole('row').count()).toBeLessThan(140);
  const quick = await page.evaluate(() => {
    const input = document.querySelector<HTMLInputElement>('[data-column="quantity"] input');
    const before = performance.now();
    for (let n = 0; n < 20; n++) {
      const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
      set?.call(input, String(100 + n));
      input?.dispatchEvent(new Event('input', { bubbles: true }));
    }
    return (performance.now() - before) / 20;
  });
  test.info().annotations.push({ type: 'a keystroke among 500 lines, ms', description: quick.toFixed(1) });
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved as')).toBeVisible();
  await expect(lines).toContainText('500 lines');
});
