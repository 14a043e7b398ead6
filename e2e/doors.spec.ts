import { expect, test } from '@playwright/test';
import { choose, divider, expectAccessible, fill, signIn } from './office.ts';

test('an answer that looks like spam is held, looked at, and released with a reason', async ({ page, browser }) => {
  const respondent = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await respondent.goto('/p/report-a-fault');
  await choose(respondent, 'Harbour', 'Tern Cove');
  await choose(respondent, 'What is broken', 'Shore');
  await choose(respondent, 'Which part', 'Lighting');
  await choose(respondent, 'What is wrong with it', 'Bulb broken');
  await fill(respondent, 'What happened', 'The lamp by the slip is dark');
  // What programs do that fill in every field they find.
  await respondent.locator('#page-website').evaluate((input: HTMLInputElement) => {
    input.value = 'https://gulls.example';
  });
  await respondent.getByRole('button', { name: 'Send' }).click();
  await expect(respondent.getByText(/^H-\d+$/)).toBeVisible();
  await respondent.context().close();

  await signIn(page, 'quayclerk');
  await divider(page, 'Forms').click();
  await page
    .getByRole('row', { name: /Report a fault/ })
    .getByRole('link', { name: '1 held answer' })
    .click();
  const held = page.getByRole('listitem').filter({ hasText: 'The lamp by the slip is dark' });
  await expect(held).toContainText('A field that people do not see was filled in.');
  await expectAccessible(page);
  await held.getByRole('button', { name: 'Release' }).click();
  await expect(held.getByRole('alert')).toHaveText('Write a reason: it is kept with the answer.');
  await held.getByLabel('Reason').fill('Called back: it is real');
  await held.getByRole('button', { name: 'Release' }).click();
  await expect(page.getByText('No answer is held.')).toBeVisible();
  await expect(page.getByText(/released by quayclerk.*Called back: it is real/)).toBeVisible();
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Fault reports' }).first().click();
  await expect(page.getByText('The lamp by the slip is dark').first()).toBeVisible();
});

test('a public page is sent by a person without anybody noticing what tells people from programs', async ({ page }) => {
  await page.goto('/p/report-a-fault');
  await choose(page, 'Harbour', 'Skerry Haven');
  await choose(page, 'What is broken', 'Shore');
  await choose(page, 'Which part', 'Lighting');
  await choose(page, 'What is wrong with it', 'Bulb broken');
  await fill(page, 'What happened', 'A lamp flickers');
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByText(/^FAULT-\d{4}-\d+$/)).toBeVisible();
  await expect(page.getByText(/^H-\d+$/)).toHaveCount(0);
});
