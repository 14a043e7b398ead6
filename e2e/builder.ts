import { expect, type Locator, type Page } from '@playwright/test';
import { said } from './office.ts';

export const outline = (page: Page): Locator => page.getByRole('region', { name: 'Outline' });
export const slip = (page: Page): Locator => page.getByRole('complementary', { name: 'Slip' });
export const card = (page: Page): Locator => page.getByRole('region', { name: 'Live card' });

/** Counts what a builder does after selecting a field: each click and each choice out of a picker is one action. */
export class Builder {
  actions = 0;
  constructor(private readonly page: Page) {}

  async select(label: string): Promise<void> {
    await outline(this.page)
      .locator('.outline-field:not(.words)')
      .filter({ has: this.page.locator('.outline-label', { hasText: new RegExp(`^${label}( \\(|$)`) }) })
      .click();
    this.actions = 0;
  }

  async click(name: string | RegExp): Promise<void> {
    await slip(this.page).getByRole('button', { name }).first().click();
    this.actions++;
  }

  /** Opens a slot and chooses in its picker, by typing. */
  async set(slot: string | RegExp, value: string, nth = 0): Promise<void> {
    await slip(this.page).getByRole('button', { name: slot }).nth(nth).click();
    const picker = this.page.getByRole('dialog');
    await expect(picker).toBeVisible();
    await picker.locator('input').fill(value);
    if (await picker.getByRole('listbox').isVisible())
      await expect(picker.getByRole('option').first()).toContainText(value);
    await this.page.keyboard.press('Enter');
    await expect(picker).toBeHidden();
    this.actions += 2;
  }

  /** Writes an expression into a slot’s editor. */
  async write(slot: string | RegExp, source: string): Promise<void> {
    await slip(this.page).getByRole('button', { name: slot }).first().click();
    const editor = this.page.getByRole('dialog').locator('textarea');
    await editor.fill(source);
    await this.page.getByRole('dialog').getByRole('button', { name: 'Keep it' }).click();
    await expect(editor).toBeHidden();
    this.actions += 2;
  }

  /** Adds a field of the table by `/` and its label. */
  async add(label: string): Promise<void> {
    await outline(this.page)
      .getByRole('button', { name: /^Add to the form/ })
      .click();
    await this.page.getByLabel('What to add').fill(label);
    await this.page.keyboard.press('Enter');
    await expect(outline(this.page).locator('.outline-field.selected .outline-label')).toContainText(label);
  }

  atMostFive(): void {
    expect(this.actions).toBeGreaterThan(0);
    expect(this.actions).toBeLessThanOrEqual(5);
  }
}

/** Makes a table over the tables that are there, as its page does. */
export async function makeTable(page: Page, label: string, fields: object[]): Promise<void> {
  await page.evaluate(
    async ([name, list]) => {
      const { csrf } = await (await fetch('/api/session')).json();
      const send = async (url: string, body: object) => {
        const answer = await fetch(url, {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'x-fiche-csrf': csrf },
          body: JSON.stringify(body),
        });
        if (!answer.ok) throw new Error(await answer.text());
        return answer.json();
      };
      const table = await send('/api/cabinets/gannet/tables', { label: name });
      for (const one of list) await send(`/api/tables/${table.id}/fields`, { field: one });
    },
    [label, fields] as const,
  );
}

export async function makeForm(page: Page, table: string, label: string, fields: string): Promise<void> {
  await page.goto('/gannet/forms');
  await page.getByLabel('From the table').selectOption({ label: table });
  await page.getByLabel('called').fill(label);
  await page.getByLabel(/^with/).selectOption({ label: fields });
  await page.getByRole('button', { name: 'Make the form' }).click();
  await expect(outline(page)).toBeVisible();
}

export const publish = async (page: Page, version: number, label: string): Promise<void> => {
  await page.getByRole('button', { name: `Publish version ${version}` }).click();
  await expect(said(page, `Version ${version} of ${label} is published.`)).toBeVisible();
};
