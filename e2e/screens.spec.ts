import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { expectAccessible, signIn } from './office.ts';

// The office has a made-up language of its screens, `eo`: English in brackets.

const texts = JSON.parse(readFileSync(join(import.meta.dirname, '../languages/en.json'), 'utf8')) as Record<
  string,
  string
>;
/** Texts of several words without places: what is shown exactly so was said past the catalogues. */
const plain = new Set(Object.values(texts).filter((text) => / /.test(text) && !/[{}]/.test(text)));

/** What stands on the page, or is read aloud, that the catalogues know, but that is not said in its language. */
const notSaid = async (page: Page): Promise<string[]> => {
  const shown = await page.evaluate(() => {
    const found: string[] = [];
    const nodes = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    for (let node = nodes.nextNode(); node; node = nodes.nextNode()) found.push(node.textContent?.trim() ?? '');
    for (const element of document.querySelectorAll('[aria-label], [placeholder], [title]'))
      for (const name of ['aria-label', 'placeholder', 'title']) found.push(element.getAttribute(name) ?? '');
    return found;
  });
  return [...new Set(shown)].filter((text) => plain.has(text));
};

test('a language that has a catalogue is chosen by whoever works here: all screens, and refusals, are in it', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', '/gannet/account');
  await page.getByLabel('Language of the screens').selectOption('eo');
  await expect(page.getByRole('heading', { name: '⟦Your account⟧' })).toBeVisible();
  await expect(page.locator('html')).toHaveAttribute('lang', 'eo');
  await expectAccessible(page);

  await page.getByLabel('⟦Present password⟧').fill('not the password');
  await page.getByLabel('⟦New password⟧').fill('a heron on the slipway');
  await page.getByRole('button', { name: '⟦Change password⟧' }).click();
  await expect(page.getByText('⟦This is not your present password.⟧')).toBeVisible();

  for (const [path, shown] of [
    ['/gannet/home', '⟦Home⟧'],
    ['/gannet/tables', '⟦Tables⟧'],
    ['/gannet/tables/gannet_stays', '⟦New record⟧'],
    ['/gannet/tables/gannet_stays?fields', '⟦several fields together⟧'],
    ['/gannet/tables/gannet_stays?rules', '⟦Between records⟧'],
    ['/gannet/tables/gannet_stays/2', '⟦History⟧'],
    ['/gannet/forms', '⟦New form⟧'],
    ['/gannet/forms/gannet_check_in/new', '⟦Save⟧'],
    ['/gannet/forms/gannet_check_in/edit', '⟦Form settings⟧'],
    ['/gannet/people', '⟦Invite somebody⟧'],
    ['/gannet/people/roles/clerk', '⟦Save role⟧'],
    ['/gannet/ledger', '⟦Ledger⟧'],
    ['/gannet/settings', '⟦Save cabinet⟧'],
    ['/gannet/outbox', '⟦Outbox⟧'],
    ['/gannet/imports/new', '⟦Import⟧'],
    ['/gannet/settings/operation', '⟦Operation⟧'],
    ['/gannet/tables/gannet_owners/duplicates', '⟦Find duplicates⟧'],
    ['/gannet/forms/gannet_arrival_notice/page', '⟦Words and style⟧'],
    ['/gannet/forms/gannet_arrival_notice/answers', '⟦Watch⟧'],
  ] as const) {
    await page.goto(path);
    await expect(page.getByText(shown, { exact: true }).filter({ visible: true }).first()).toBeVisible();
    expect(await notSaid(page), path).toEqual([]);
  }

  await page.goto('/gannet/account');
  await page.getByLabel('⟦Language of the screens⟧').selectOption('en');
  await expect(page.getByRole('heading', { name: 'Your account' })).toBeVisible();
});

test('who comes with a browser in that language signs in in it', async ({ browser }) => {
  const context = await browser.newContext({ locale: 'eo' });
  const page = await context.newPage();
  await page.goto('/');
  await expect(page.getByRole('button', { name: '⟦Sign in⟧' })).toBeVisible();
  await page.getByLabel('⟦Login⟧').fill('quayclerk');
  await page.getByLabel('⟦Password⟧').fill('wrong');
  await page.getByRole('button', { name: '⟦Sign in⟧' }).click();
  await expect(page.getByText('⟦The login or the password is not right. Check both and try again.⟧')).toBeVisible();
  await context.close();
});
