import AxeBuilder from '@axe-core/playwright';
import { expect, type Locator, type Page } from '@playwright/test';

/**
 * Signs in as one of the sample accounts and opens a page. The session is asked for as the sign-in page asks for it, so that each
 * test loads the application once; the page itself is used in `edges`, `people` and `roles`.
 */
export async function signIn(page: Page, login: string, path = '/'): Promise<void> {
  const reply = await page.request.post('/api/session', { data: { login, password: 'gannet-sound' } });
  expect(reply.status()).toBe(200);
  if (process.env.FICHE_E2E_SLOWED) await slowDown(page, Number(process.env.FICHE_E2E_SLOWED));
  await page.goto(path);
  await expect(page.getByRole('navigation', { name: 'Cabinet' })).toBeVisible();
  await page.evaluate(() => document.fonts.ready);
}

/** Lets a page run as on a computer so many times slower: what counts on speed shows, in the product and in a test. */
export async function slowDown(page: Page, times: number): Promise<void> {
  const browser = await page.context().newCDPSession(page);
  await browser.send('Emulation.setCPUThrottlingRate', { rate: times });
}

export const card = (page: Page): Locator => page.locator('[data-card]').first();

/** The same as ISO 8601 has it. */
export const isoAhead = (days: number): string => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);

/** A field of the open card by its label. */
export const field = (page: Page, label: string): Locator =>
  page.locator('.ruled_ruled').filter({
    has: page.locator('.ruled_label', {
      hasText: new RegExp(`^${label}( \\((required|obligatoire|erforderlich)\\))?$`),
    }),
  });

export const input = (page: Page, label: string): Locator =>
  field(page, label).locator('input, textarea:not([aria-hidden])').first();

/** One of the dividers on the left edge. */
export const divider = (page: Page, name: string): Locator =>
  page.getByRole('navigation', { name: 'Cabinet' }).getByRole('link', { name, exact: true });

/** The latest message with these words about what was done. */
export const said = (page: Page, words: string | RegExp): Locator =>
  page.locator('.notices_notices .MuiSnackbarContent-root').filter({ hasText: words }).last();

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** A day so many days from today (UTC), as it is written: the sample’s stays end within 25 days from the day of seeding. */
export function ahead(days: number): string {
  const day = new Date(Date.now() + days * 86_400_000);
  return `${day.getUTCDate()} ${MONTHS[day.getUTCMonth()]} ${day.getUTCFullYear()}`;
}

/** Chooses in a dropdown with the mouse. */
export async function choose(page: Page, label: string, option: string): Promise<void> {
  await input(page, label).click();
  await page
    .getByRole('option')
    .filter({ has: page.getByText(option, { exact: true }) })
    .first()
    .click();
}

/** What a dropdown offers now. */
export async function offers(page: Page, label: string): Promise<string[]> {
  await input(page, label).click();
  const list = page.getByRole('listbox');
  await expect(list.getByRole('option').first()).toBeVisible();
  await expect(list.getByText('Fetching…')).toHaveCount(0);
  const shown = await list.getByRole('option').locator('span:first-child').allInnerTexts();
  await page.keyboard.press('Escape');
  return shown;
}

export const fill = (page: Page, label: string, text: string): Promise<void> => input(page, label).fill(text);

/** Sets a slot of a sentence, by typing into its picker. */
export async function setSlot(page: Page, scope: Locator, label: string | RegExp, value: string): Promise<void> {
  await scope.getByRole('button', { name: label }).first().click();
  const picker = page.getByRole('dialog');
  await expect(picker).toBeVisible();
  await picker.locator('input').fill(value);
  await page.keyboard.press('Enter');
  await expect(picker).toBeHidden();
}

/** Holds a screen to WCAG 2.2 AA, as far as a machine can tell; in another scheme only the colours differ. */
export async function expectAccessible(page: Page, what: 'all' | 'colours' = 'all'): Promise<void> {
  // In one go: no page of these tests has frames of other sites, for which a further page would be opened each time.
  const axe = new AxeBuilder({ page }).setLegacyMode();
  const rules =
    what === 'colours'
      ? axe.withRules(['color-contrast'])
      : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']);
  const { violations } = await rules.analyze();
  const found = violations.map(
    (one) =>
      `${one.id}: ${one.nodes
        .map((node) => `${node.target.join(' ')} (${node.failureSummary?.split('\n')[1]?.trim()})`)
        .slice(0, 3)
        .join('; ')}`,
  );
  expect(found).toEqual([]);
}
