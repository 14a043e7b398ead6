import { readFile } from 'node:fs/promises';
import { expect, type Locator, type Page, test } from '@playwright/test';
import { choose, expectAccessible, field, fill, input, said, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const settings = (page: Page): Locator => page.getByRole('region', { name: 'Settings of the public page' });
const PHONE = { viewport: { width: 390, height: 844 } };

async function publish(page: Page): Promise<void> {
  await page.getByRole('button', { name: /^Publish version/ }).click();
  await expect(said(page, /^Version \d+ of .* is published\.$/)).toBeVisible();
}

test('a visitor whose browser speaks French reads, searches, is corrected and thanked in French', async ({
  browser,
}) => {
  const page = await (await browser.newContext({ ...PHONE, locale: 'fr-FR' })).newPage();
  await page.goto('/p/report-a-fault');
  await expect(page.getByRole('heading', { name: 'Signaler une panne' })).toBeVisible();
  await expect(page.locator('html')).toHaveAttribute('lang', 'fr');
  await choose(page, 'Port', 'Skerry Haven');
  // A word that is the label of a field as well is said in French once it is chosen, too.
  await choose(page, 'Ce qui est en panne', 'Ponton');
  await expect(input(page, 'Ce qui est en panne')).toHaveValue('Ponton');
  // A word of the option list is found by what it is called in French.
  await input(page, 'Ce qui est en panne').fill('à ter');
  await page.keyboard.press('Enter');
  await expect(input(page, 'Ce qui est en panne')).toHaveValue('À terre');
  await choose(page, 'Quelle partie', 'Éclairage');
  await choose(page, 'Ce qui ne va pas', 'Ampoule cassée');
  await fill(page, 'Votre e-mail', 'nulle part');
  await page.getByRole('button', { name: /^Envoyer/ }).click();
  await expect(field(page, 'Votre e-mail')).toContainText('Saisissez une adresse e-mail');
  await expect(page.getByRole('button', { name: 'Envoyer, 1 réponse manque' })).toBeVisible();
  await expectAccessible(page);

  // In the other language of the page everything that was entered is there; the address names it.
  await page.getByRole('button', { name: 'English' }).click();
  await expect(page.getByRole('heading', { name: 'Report a fault' })).toBeVisible();
  await expect(page).toHaveURL(/\?lang=en$/);
  await expect(input(page, 'What is wrong with it')).toHaveValue('Bulb broken');
  await expect(input(page, 'Your e-mail')).toHaveValue('nulle part');
  await page.getByRole('button', { name: 'français' }).click();
  await fill(page, 'Votre e-mail', 'ada@skerry.example');
  await fill(page, 'Ce qui s’est passé', 'Sombre depuis hier');
  await page.getByRole('button', { name: 'Envoyer' }).click();
  await expect(page.getByText('Merci. Le bateau de service a votre signalement.')).toBeVisible();
  await expect(page.getByLabel('Vos réponses')).toContainText('Ampoule cassée');
  const reference = await page.getByText(/^FAULT-\d{4}-\d+$/).innerText();
  await page.getByRole('link', { name: /\?lang=fr#receipt=/ }).click();
  await page.reload();
  await expect(page.getByText(`Voici votre réponse ${reference}.`)).toBeVisible();
  await page.context().close();

  // What is kept is the word of the list: the office reads its own language.
  const clerk = await (await browser.newContext()).newPage();
  await signIn(clerk, 'quayclerk', '/gannet/forms/gannet_report_a_fault/answers');
  await clerk.getByRole('row').filter({ hasText: reference }).getByRole('link').click();
  await expect(input(clerk, 'Defect')).toHaveValue('Bulb broken');
  await clerk.context().close();
});

test('a builder adds a language, gives its texts on the screen and by a file, and sees the page in it', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_arrival_notice/page');
  await settings(page).getByLabel('It can also be read in').selectOption('German');
  const texts = page.getByRole('region', { name: 'Texts', exact: true });
  await expect(texts.getByRole('heading', { name: 'Texts in German' })).toBeVisible();
  await texts.getByLabel('Your name in German').fill('Ihr Name');
  await page.keyboard.press('Enter');
  await expect(texts).toContainText(/1 of \d+;/);
  await expectAccessible(page);

  // A translator gets a file, and sends it back with the second column filled.
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    texts.getByRole('button', { name: 'Take away as CSV' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('arrival-notice-de.csv');
  const csv = await readFile(await file.path(), 'utf8');
  expect(csv).toContain('Your name,Ihr Name\r\n');
  const filled = csv
    .replace('Arrival notice,\r\n', 'Arrival notice,Ankunft melden\r\n')
    .replace('E-mail,\r\n', 'E-mail,Ihre E-Mail\r\n');
  await texts.getByLabel('Bring in a CSV').setInputFiles({
    name: 'zurück.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`${filled}Not on the page,Anderswo\r\n`),
  });
  await expect(said(page, /^3 texts taken from zurück\.csv\. 1 lines? /)).toBeVisible();
  await texts.getByLabel('Only those that are missing').check();
  await expect(texts.getByLabel('E-mail in German')).toHaveCount(0);
  await texts.getByRole('button', { name: 'Back to the preview' }).click();
  const preview = page.getByRole('region', { name: 'Preview' });
  await preview.getByRole('button', { name: 'Deutsch' }).click();
  await expect(preview.getByRole('heading', { name: 'Ankunft melden' })).toBeVisible();
  await expect(preview.getByRole('button', { name: 'Weiter' })).toBeVisible();
  // What is missing is worth a look before it is published.
  await expect(settings(page)).toContainText(/\d+ texts are not given in German\./);
  await settings(page).getByLabel('It can also be read in').selectOption('Arabic');
  await page.getByLabel('Your name in Arabic').fill('اسمك');
  await page.keyboard.press('Enter');
  await publish(page);
});

test('in a language written from the right the page turns, and the step and its answers stay', async ({ browser }) => {
  const page = await (await browser.newContext({ ...PHONE, locale: 'de-AT' })).newPage();
  await page.goto('/p/arrival-notice');
  await fill(page, 'Ihr Name', 'Runa Skog');
  await choose(page, 'You are', 'Person');
  await fill(page, 'Ihre E-Mail', 'runa@skog.example');
  await page.getByRole('button', { name: 'Weiter' }).click();
  await expect(page.getByText('Schritt 2 von 4')).toBeVisible();
  await fill(page, 'Registration', 'GS-7001');
  await page.getByRole('button', { name: 'العربية' }).click();
  await expect(page.locator('html')).toHaveAttribute('dir', 'rtl');
  await expect(page.getByText('Step 2 of 4')).toBeVisible();
  await expect(input(page, 'Registration')).toHaveValue('GS-7001');
  await expectAccessible(page);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.goBack();
  await expect(input(page, 'اسمك')).toHaveValue('Runa Skog');
  await page.context().close();
});

test('a language that is taken away can be brought back at once', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_arrival_notice/page');
  const remove = (name: string): Promise<void> =>
    settings(page)
      .getByRole('button', { name: `Remove ${name}` })
      .click();
  await remove('Arabic');
  await said(page, 'The page can no longer be read in Arabic.').getByRole('button', { name: 'Undo' }).click();
  await expect(settings(page).getByRole('button', { name: 'Texts in Arabic' })).toBeVisible();
  await remove('Arabic');
  await remove('German');
  await publish(page);
});
