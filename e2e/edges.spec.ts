import { expect, test } from '@playwright/test';
import { fieldRow } from './builder.ts';
import { choose, divider, expectAccessible, field, fill, input, offers, said, signIn } from './office.ts';

test('a wrong password says so and keeps the login', async ({ page }) => {
  await page.goto('/');
  await expectAccessible(page);
  await page.getByLabel('Login').fill('auditor');
  await page.getByLabel('Password').fill('guess');
  await page.keyboard.press('Enter');
  await expect(page.getByText('The login or the password is not right.')).toBeVisible();
  await expect(page.getByLabel('Login')).toHaveValue('auditor');
  await page.getByLabel('Password').fill('gannet-sound');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('navigation', { name: 'Cabinet' })).toBeVisible();
});

test('a sample account is signed in by its button', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'quayclerk', exact: true }).click();
  await expect(page.getByRole('navigation', { name: 'Cabinet' })).toBeVisible();
});

test('labels that cannot be are refused where they are typed, and stay there', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/tables');
  await page.goto('/gannet/tables?new=table');
  const label = page.getByRole('dialog').getByLabel('Name');
  await label.fill('x'.repeat(500));
  await page.keyboard.press('Enter');
  await expect(page.getByText('This label is too long: at most 120 characters fit.')).toBeVisible();
  await expect(label).toHaveValue('x'.repeat(500));
  await label.fill(`Bêrthing "aids" & 'løs'`);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: `Bêrthing "aids" & 'løs'`, level: 1 })).toBeVisible();
  const form = page.getByRole('form', { name: 'New field' });
  for (const name of ['Depth', 'Depth?', 'depth']) {
    await form.getByLabel('Name').fill(name);
    await form.getByRole('button', { name: 'Add field' }).click();
    if (name !== 'depth') await expect(fieldRow(page, name)).toBeVisible();
  }
  await expect(page.getByText('depth_2', { exact: true })).toBeVisible();
  await expect(form.getByRole('alert')).toContainText('“depth” is there already.');
});

test('a word under two branches of an option list is kept apart, on the public page', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.emulateMedia({ colorScheme: 'dark' });
  await page.goto('/p/report-a-fault');
  await choose(page, 'Harbour', 'Tern Cove');
  await choose(page, 'What is broken', 'Shore');
  await choose(page, 'Which part', 'Lighting');
  expect(await offers(page, 'What is wrong with it')).toEqual([
    'Bulb broken',
    'Cable bare',
    'Post leans',
    'Timer wrong',
  ]);
  await choose(page, 'What is wrong with it', 'Timer wrong');
  await choose(page, 'What is broken', 'Pontoon');
  await expect(field(page, 'What is wrong with it')).toContainText('“Timer wrong” was cleared');
  await expect(input(page, 'Which part')).toHaveValue('Lighting');
  expect(await offers(page, 'What is wrong with it')).not.toContain('Timer wrong');
  await expectAccessible(page);
});

test('text that no choice answers to is kept and named', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_check_in/new');
  await input(page, 'Harbour').fill('Atlantis');
  await page.keyboard.press('Tab');
  await expect(field(page, 'Harbour')).toContainText('No choice is called “Atlantis”.');
  await expect(input(page, 'Harbour')).toHaveValue('Atlantis');
  page.once('dialog', (dialog) => void dialog.dismiss());
  await divider(page, 'Home').click();
  await expect(input(page, 'Harbour')).toHaveValue('Atlantis');
});

test('a choice far down a long list is found by its name, pasted and left', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_vessel_card/new');
  const owners = await page.evaluate(async () => {
    const reply = await fetch('/api/tables/gannet_owners/records?sort=name&direction=down&limit=3');
    return (await reply.json()).records.map((one: { title: string }) => one.title) as string[];
  });
  for (const owner of owners) {
    await input(page, 'Owner').fill(owner);
    await page.keyboard.press('Tab');
    await expect(field(page, 'Owner').locator('.text_problem')).toHaveCount(0);
    await expect(input(page, 'Owner')).toHaveValue(owner);
  }
});

/** The main screens; in the dark scheme only the colours differ, and one screen of a kind shows them. */
const SCREENS = {
  light: [
    'outbox',
    'home',
    'forms',
    'tables',
    'tables/gannet_stays',
    'tables/gannet_stays?fields',
    'tables/gannet_stays?rules',
    'tables/gannet_vessels?card',
    'tables/gannet_owners/duplicates?by=name:near',
    'tables/gannet_vessels/3',
    'imports/new',
    'forms/gannet_check_in/7',
    'forms/gannet_check_in/edit',
    'ledger',
    'people',
    'account',
    'settings',
    'settings/operation',
  ],
  dark: [
    'settings',
    'home',
    'tables/gannet_stays',
    'tables/gannet_owners/duplicates?by=name:near',
    'tables/gannet_faults',
    'tables/gannet_stays?fields',
    'forms/gannet_check_in/7',
    'forms/gannet_check_in/edit',
    'ledger',
  ],
} as const;

test('who types ahead of a slow line finds all of it where it belongs', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_check_in/new');
  await expect(input(page, 'Harbour')).toBeFocused();
  // Choices come late, and not in the order in which they were asked for.
  const held: (() => void)[] = [];
  await page.route('**/choices', async (route) => {
    await new Promise<void>((go) => held.push(go));
    await route.continue();
  });
  for (const text of ['tern', 'a', 'a-3']) {
    await page.keyboard.type(text);
    await page.keyboard.press('Enter');
  }
  await expect(input(page, 'Registration')).toBeFocused();
  await page.keyboard.type('GS-0281');
  await page.keyboard.press('Enter');
  await expect(input(page, 'Arrival')).toBeFocused();
  await expect(input(page, 'Harbour')).toHaveValue('tern');
  const release = (): Promise<void> =>
    expect
      .poll(async () => {
        for (const go of held.splice(0).reverse()) go();
        return input(page, 'Berth').inputValue();
      })
      .toBe('A-3');
  await release();
  await expect(input(page, 'Harbour')).toHaveValue('Tern Cove');
  await expect(input(page, 'Pontoon')).toHaveValue('A');
  await expect(page.getByRole('complementary', { name: 'Berth, reference card' })).toContainText('Longest vessel');
  await expect(page.getByRole('region', { name: 'Problems' })).toHaveCount(0);
  await page.unrouteAll({ behavior: 'ignoreErrors' });
});

test('what is typed while a save is on its way stays, and is saved next', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/tables/gannet_harbours/2');
  await fill(page, 'Radio channel', '21');
  let answer: () => void = () => undefined;
  const held = new Promise<void>((go) => {
    answer = go;
  });
  await page.route('**/entries', async (route) => {
    await held;
    await route.continue();
  });
  await page.keyboard.press('Control+s');
  await expect(page.getByRole('button', { name: 'Saving…' })).toBeVisible();
  await fill(page, 'Radio channel', '22');
  answer();
  await expect(said(page, 'Saved.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Reset' })).toBeEnabled();
  await expect(input(page, 'Radio channel')).toHaveValue('22');
  await page.unrouteAll({ behavior: 'ignoreErrors' });
  await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeEnabled();
  await page.keyboard.press('Control+s');
  await expect(page.getByRole('button', { name: 'Reset' })).toBeDisabled();
  await page.reload();
  await expect(input(page, 'Radio channel')).toHaveValue('22');
});

test('a page that cannot be drawn says so within the frame, and the other pages go on', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  // A draft without its sections, as no server sends it.
  await page.route('**/api/forms/gannet_check_in/draft', (route) =>
    route.fulfill({ json: { definition: { table: 'gannet_stays' }, revision: 1, findings: [] } }),
  );
  await page.goto('/gannet/forms/gannet_check_in/edit');
  await expect(page.getByRole('alert')).toContainText('This page could not be shown. What was saved is safe.');
  await expectAccessible(page);
  await divider(page, 'Tables').click();
  await expect(page.getByRole('heading', { name: 'Tables', level: 1 })).toBeVisible();
  await page.unroute('**/api/forms/gannet_check_in/draft');
  await page.goto('/gannet/forms/gannet_check_in/edit');
  await expect(page.getByRole('region', { name: 'Outline' })).toBeVisible();
});

for (const scheme of ['light', 'dark'] as const)
  test(`the main screens hold to WCAG in the ${scheme} scheme`, async ({ page }) => {
    await page.emulateMedia({ colorScheme: scheme });
    await signIn(page, 'harbourmaster');
    for (const path of SCREENS[scheme]) {
      await page.goto(`/gannet/${path}`);
      await expect(page.getByRole('main').locator('h1, h2').first()).toBeAttached();
      if (path.includes('vessels/')) await expect(page.getByRole('region', { name: 'What links here' })).toBeVisible();
      if (path.endsWith('edit')) await page.getByRole('button', { name: /^Registration/ }).click();
      await expectAccessible(page, scheme === 'dark' ? 'colours' : 'all');
      // The page scrolls within its frame, and never the frame itself.
      expect(await page.evaluate(() => document.documentElement.scrollHeight - window.innerHeight)).toBeLessThanOrEqual(
        0,
      );
    }
  });
