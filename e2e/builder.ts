import { expect, type Locator, type Page } from '@playwright/test';
import { divider, said } from './office.ts';

export const outline = (page: Page): Locator => page.getByRole('region', { name: 'Outline' });
export const slip = (page: Page): Locator => page.getByRole('complementary', { name: 'Settings' });
export const card = (page: Page): Locator => page.getByRole('region', { name: 'Live card' });

/** Holds a path of a builder to a number of actions; the figure stands in the report. */
export function reportActions(what: string, actions: number, most: number): void {
  process.stdout.write(`      ${what}: ${actions} actions (at most ${most})\n`);
  expect(actions, what).toBeLessThanOrEqual(most);
}

/** Counts what a builder does after selecting a field: each click and each choice out of a picker is one action. */
export class Builder {
  actions = 0;
  constructor(private readonly page: Page) {}

  async select(label: string): Promise<void> {
    await outline(this.page)
      .locator('.outline_field:not(.outline_words)')
      .filter({ has: this.page.locator('.outline_label', { hasText: new RegExp(`^${label}( \\(|$)`) }) })
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
    this.actions++;
    await this.pick(value);
  }

  /** Chooses in the picker that is open: that of the next slot to fill opens by itself. Without `option`, the first. */
  async pick(value: string, option?: RegExp): Promise<void> {
    const picker = this.page.getByRole('dialog');
    await expect(picker).toBeVisible();
    const label = await picker.getAttribute('aria-label');
    await picker.locator('input').fill(value);
    if (option) await picker.getByRole('option').filter({ hasText: option }).first().click();
    else {
      if ((await picker.getByRole('combobox').count()) > 0)
        await expect(picker.getByRole('option').first()).toContainText(value);
      await this.page.keyboard.press('Enter');
    }
    await expect(this.page.getByRole('dialog', { name: label ?? '', exact: true })).toBeHidden();
    this.actions++;
  }

  /** Writes into an ordinary control, and leaves it. */
  async write(label: string, text: string): Promise<void> {
    const control = slip(this.page).getByLabel(label, { exact: true });
    await control.fill(text);
    await control.press('Enter');
    this.actions++;
  }

  async choose(label: string, option: string): Promise<void> {
    await slip(this.page).getByLabel(label, { exact: true }).selectOption({ label: option });
    this.actions++;
  }

  async check(label: string): Promise<void> {
    await slip(this.page).getByLabel(label, { exact: true }).check();
    this.actions++;
  }

  /** Writes a formula with the button that adds it. */
  async formula(button: string, source: string): Promise<void> {
    await slip(this.page).getByRole('button', { name: button }).first().click();
    const dialog = this.page.getByRole('dialog');
    await writeFormula(this.page, source);
    await dialog.getByRole('button', { name: 'Apply' }).click();
    await expect(dialog).toBeHidden();
    this.actions += 2;
  }

  /** Adds a field of the table by `/` and its label. */
  async add(label: string): Promise<void> {
    await outline(this.page)
      .getByRole('button', { name: /^Add to the form/ })
      .click();
    await this.page.getByRole('combobox', { name: 'What to add' }).fill(label);
    await this.page.keyboard.press('Enter');
    await expect(outline(this.page).locator('.outline_field.outline_selected .outline_label')).toContainText(label);
  }

  /** Holds what was done since a field was selected to a number of actions, and reports the figure. */
  atMost(most: number, what: string): void {
    expect(this.actions).toBeGreaterThan(0);
    reportActions(what, this.actions, most);
  }
}

/** Types into the formula editor that is open, without taking what it completes. */
export async function writeFormula(page: Page, source: string): Promise<void> {
  const editor = page.getByRole('dialog').locator('.cm-content');
  await editor.fill(source);
}

/** Adds a field on the page of a table’s fields. */
export async function addField(
  page: Page,
  label: string,
  type: string,
  more: {
    table?: string;
    choices?: string;
    list?: string;
    level?: string;
    prefix?: string;
    required?: boolean;
    backfill?: string;
    filling?: string;
    currency?: string;
  } = {},
): Promise<void> {
  const form = page.getByRole('form', { name: 'New field' });
  if (!(await form.isVisible())) await page.getByRole('button', { name: 'Add field' }).first().click();
  await form.getByLabel('Name').fill(label);
  await form.getByLabel('Type').selectOption({ label: type });
  if (more.table) await form.getByLabel('To the table').selectOption({ label: more.table });
  if (more.list) await form.getByLabel('Choices from').selectOption({ label: more.list });
  if (more.level) await form.getByLabel('Level').selectOption({ label: more.level });
  if (more.choices) await form.getByLabel('Choices', { exact: true }).fill(more.choices);
  if (more.prefix) await form.getByLabel('Prefix').fill(more.prefix);
  if (more.currency) {
    await form.getByLabel('Currency').fill(more.currency);
    await page.keyboard.press('Enter');
  }
  if (more.required) await form.getByLabel('Required').check();
  if (more.backfill) await form.getByLabel('For existing records').selectOption({ label: more.backfill });
  if (more.filling) await form.getByLabel(/^(Value|Formula)$/).fill(more.filling);
  await form.getByRole('button', { name: 'Add field' }).click();
  await expect(fieldRow(page, label)).toBeVisible();
}

/** The row of a field on the page of a table’s fields. */
export const fieldRow = (page: Page, label: string): Locator =>
  page.getByRole('row').filter({ has: page.getByRole('button', { name: label, exact: true }) });

/** Opens the settings of a field. */
export async function openField(page: Page, label: string): Promise<Locator> {
  await fieldRow(page, label).getByRole('button', { name: label, exact: true }).click();
  const sheet = page.getByRole('complementary', { name: `Field ${label}` });
  await expect(sheet).toBeVisible();
  return sheet;
}

/** Makes a table by its dialog; it opens where its fields are added. */
export async function newTable(page: Page, label: string): Promise<void> {
  await divider(page, 'Tables').click();
  await page.getByRole('button', { name: 'New table' }).first().click();
  await page.getByRole('dialog').getByLabel('Name').fill(label);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: label, level: 1 })).toBeVisible();
  await expect(page.getByRole('form', { name: 'New field' })).toBeVisible();
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
  // The page learns of the table as it opens.
  await page.reload();
}

/** Makes a form from a table by its dialog; it opens in the form editor. */
export async function makeForm(page: Page, table: string, label: string, fields?: string): Promise<void> {
  await divider(page, 'Forms').click();
  await page.getByRole('button', { name: 'New form' }).first().click();
  const dialog = page.getByRole('dialog', { name: 'New form' });
  await dialog.getByLabel('Table').selectOption({ label: table });
  await dialog.getByLabel('Name').fill(label);
  if (fields) await dialog.getByLabel('Fields').selectOption({ label: fields });
  await dialog.getByRole('button', { name: 'Create form' }).click();
  await expect(outline(page)).toBeVisible();
}

export const publish = async (page: Page, version: number, label: string): Promise<void> => {
  await page.getByRole('button', { name: `Publish version ${version}` }).click();
  await expect(said(page, `Version ${version} of ${label} is published.`)).toBeVisible();
};
