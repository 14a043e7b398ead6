import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, type Locator, type Page, test } from '@playwright/test';
import { choose, expectAccessible, field, fill, input, offers, said, signIn } from './office.ts';

test.describe.configure({ mode: 'serial' });

const settings = (page: Page): Locator => page.getByRole('region', { name: 'Settings of the public page' });
const preview = (page: Page): Locator => page.getByRole('region', { name: 'Preview' });

/** Opens the settings of a page, changes them, and publishes. */
async function setPage(page: Page, form: string, change: () => Promise<void>): Promise<void> {
  await page.goto(`/gannet/forms/${form}/page`);
  await expect(settings(page)).toBeVisible();
  await change();
  await page.getByRole('button', { name: /^Publish version/ }).click();
  await expect(said(page, /^Version \d+ of .* is published\.$/)).toBeVisible();
}

async function reportFault(page: Page, happened: string): Promise<void> {
  await choose(page, 'What is broken', 'Shore');
  await choose(page, 'Which part', 'Lighting');
  await choose(page, 'What is wrong with it', 'Bulb broken');
  await fill(page, 'What happened', happened);
}

const PHONE = { viewport: { width: 390, height: 844 } };

test('a page is filled in by its address, sent on a phone, and corrected by its receipt', async ({ browser }) => {
  const page = await (await browser.newContext(PHONE)).newPage();
  await page.goto('/p/report-a-fault?harbour=Skerry%20Haven&pontoon=Nowhere&unknown=1');
  await expect(input(page, 'Harbour')).toHaveValue('Skerry Haven');
  // What narrowing refuses is said, and stays to be corrected.
  await expect(field(page, 'Pontoon')).toContainText('No choice is called “Nowhere”.');
  await choose(page, 'Pontoon', 'D');
  await reportFault(page, 'The lamp flickers');
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByText(/^FAULT-\d{4}-\d+$/)).toBeVisible();
  const reference = await page.getByText(/^FAULT-\d{4}-\d+$/).innerText();
  await expect(page.getByLabel('Your answers')).toContainText('The lamp flickers');
  await expectAccessible(page);
  await page.getByRole('link', { name: /#receipt=/ }).click();
  await page.reload();
  await expect(page.getByText(`This is your answer ${reference}.`)).toBeVisible();
  await expect(input(page, 'What happened')).toHaveValue('The lamp flickers');
  await fill(page, 'What happened', 'The lamp is out');
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByText('Your corrections have arrived.')).toBeVisible();
  await page.context().close();

  const clerk = await (await browser.newContext()).newPage();
  await signIn(clerk, 'quayclerk', '/gannet/forms/gannet_report_a_fault/answers');
  const row = clerk.getByRole('row').filter({ hasText: reference });
  await expect(row).toContainText('corrected once');
  await clerk.getByRole('button', { name: 'Watch', exact: true }).click();
  await expect(said(clerk, 'You watch this form')).toBeVisible();
  await clerk.getByRole('button', { name: 'As a table' }).click();
  await expect(clerk.getByRole('table', { name: 'Answers by day' })).toBeVisible();
  await expectAccessible(clerk);
  await row.getByRole('link').click();
  await expect(input(clerk, 'What happened')).toHaveValue('The lamp is out');
  await clerk.context().close();
});

test('a builder sets who, when and how many beside the page itself, and a code opens it', async ({ page, browser }) => {
  await signIn(page, 'harbourmaster');
  await setPage(page, 'gannet_report_a_fault', async () => {
    await settings(page).getByLabel('Words of the button').fill('Report it');
    await page.keyboard.press('Enter');
    await expect(preview(page).getByRole('button', { name: 'Report it' })).toBeVisible();
    await settings(page).getByLabel('Style', { exact: true }).selectOption('slate');
    await settings(page).getByLabel('Who may open it').selectOption('code');
    await settings(page).getByLabel('Code 1', { exact: true }).fill('Gull-2026');
    await page.keyboard.press('Enter');
    await settings(page).getByLabel('For whom, code 1').fill('Notice board');
    await page.keyboard.press('Enter');
    await settings(page).getByLabel('Fill in a field by the address').selectOption('Harbour');
    await settings(page).getByLabel('Harbour', { exact: true }).fill('Skerry Haven');
    await settings(page).getByLabel('Locked').check();
    await expect(settings(page).getByRole('textbox', { name: 'Address to share' })).toHaveValue(
      /\/p\/report-a-fault\?harbour=Skerry\+Haven$/,
    );
    await expect(settings(page).getByRole('link', { name: 'QR code as SVG' })).toHaveAttribute(
      'href',
      /^data:image\/svg/,
    );
    await preview(page).getByRole('button', { name: 'Desk' }).click();
    await expectAccessible(page);
  });

  const stranger = await (await browser.newContext(PHONE)).newPage();
  await stranger.goto('/p/report-a-fault?harbour=Skerry+Haven');
  await expect(stranger.getByText('This page opens with a code.')).toBeVisible();
  await expectAccessible(stranger);
  await stranger.getByLabel('Code').fill('gull');
  await stranger.keyboard.press('Enter');
  await expect(stranger.getByText('This code does not open the page.')).toBeVisible();
  await stranger.getByLabel('Code').fill('gull-2026');
  await stranger.keyboard.press('Enter');
  // The harbour is filled in and cannot be changed.
  await expect(field(stranger, 'Harbour').locator('output')).toHaveText('Skerry Haven');
  expect(await offers(stranger, 'Pontoon')).toContain('D');
  await reportFault(stranger, 'By a code');
  await expectAccessible(stranger);
  await stranger.getByRole('button', { name: 'Report it' }).click();
  await expect(stranger.getByText(/^FAULT-\d{4}-\d+$/)).toBeVisible();
  await stranger.context().close();

  await page.getByRole('link', { name: 'Answers' }).click();
  await expect(page.getByRole('row').nth(1)).toContainText('code Notice board');

  const clerk = await (await browser.newContext()).newPage();
  await signIn(clerk, 'quayclerk', '/gannet/home');
  await clerk.getByRole('button', { name: /^Inbox/ }).click();
  await clerk.getByRole('button', { name: /An answer has come to Report a fault/ }).click();
  await expect(clerk.getByRole('heading', { name: 'Report a fault: answers' })).toBeVisible();
  await clerk.getByRole('button', { name: 'Stop watching' }).click();
  await expect(said(clerk, 'You no longer watch this form.')).toBeVisible();
  await clerk.context().close();
});

test('a page that has closed says so, and what was typed before stays', async ({ page, browser }) => {
  const stranger = await (await browser.newContext()).newPage();
  await signIn(page, 'harbourmaster');
  await setPage(page, 'gannet_report_a_fault', () =>
    settings(page)
      .getByLabel('Who may open it')
      .selectOption('everybody')
      .then(() => undefined),
  );
  await stranger.goto('/p/report-a-fault');
  await choose(stranger, 'Harbour', 'Skerry Haven');
  await reportFault(stranger, 'Begun in time');
  await setPage(page, 'gannet_report_a_fault', async () => {
    await settings(page).getByLabel('Closes').fill('1 Jan 2026 08:00');
    await page.keyboard.press('Enter');
    await expect(settings(page)).toContainText('The public page has closed already.');
    await settings(page).getByLabel('After it has closed').fill('Call the office instead.');
    await page.keyboard.press('Enter');
  });
  await stranger.getByRole('button', { name: /^Report it/ }).click();
  await expect(stranger.getByRole('alert')).toContainText('Call the office instead. Your answer was not sent');
  await expect(input(stranger, 'What happened')).toHaveValue('Begun in time');
  await stranger.goto('/p/report-a-fault');
  await expect(stranger.getByText('Call the office instead.')).toBeVisible();
  await stranger.context().close();
  await setPage(page, 'gannet_report_a_fault', async () => {
    await settings(page).getByLabel('Closes').fill('');
    await page.keyboard.press('Enter');
  });
});

test('a personal link is made for each record, fills it in, and counts once', async ({ page, browser }) => {
  await signIn(page, 'harbourmaster');
  await setPage(page, 'gannet_report_a_fault', async () => {
    await settings(page).getByLabel('Who may open it').selectOption('link');
    await settings(page).getByLabel('The link fills').selectOption('Harbour');
  });
  await settings(page).getByRole('button', { name: 'Make the links' }).click();
  await expect(said(page, /links made\.$/)).toBeVisible();
  const waiting = page.waitForEvent('download');
  await settings(page).getByRole('button', { name: 'Export as CSV, with QR codes' }).click();
  const csv = await (await waiting).createReadStream();
  let text = '';
  for await (const part of csv) text += part;
  const [, forWhom = '', address = ''] = /L-\d+,([^,]+),open,,0,([^,]+),"<svg/.exec(text) ?? [];

  const stranger = await (await browser.newContext(PHONE)).newPage();
  await stranger.goto('/p/report-a-fault');
  await expect(stranger.getByText('This page opens by a personal link only.')).toBeVisible();
  await stranger.goto(address);
  await stranger.reload();
  await expect(field(stranger, 'Harbour').locator('output')).toHaveText(forWhom);
  await reportFault(stranger, 'By a personal link');
  await stranger.getByRole('button', { name: /^Report it/ }).click();
  await expect(stranger.getByText(/^FAULT-\d{4}-\d+$/)).toBeVisible();
  await stranger.reload();
  await expect(stranger.getByText('This personal link was used already')).toBeVisible();
  await stranger.context().close();

  await page.reload();
  const links = settings(page).getByRole('table', { name: 'Personal links' });
  await expect(links.getByRole('row').filter({ hasText: forWhom })).toContainText('used, 1 answer');
  const other = links.getByRole('button', { name: /^Withdraw the link for/ }).first();
  await other.click();
  await expect(said(page, /opens the page no more\.$/)).toBeVisible();
  await expectAccessible(page);
});

test('an arrival is answered in steps: a step holds its problems, the browser’s Back goes a step back', async ({
  browser,
}) => {
  const page = await (await browser.newContext({ viewport: { width: 320, height: 700 } })).newPage();
  await page.goto('/p/arrival-notice');
  await expect(page.getByText('Step 1 of 4')).toBeVisible();
  await page.getByRole('button', { name: 'Next' }).click();
  await expect(page.getByRole('region', { name: 'Problems' })).toContainText('3 problems');
  await expect(input(page, 'Your name')).toBeFocused();
  await page.keyboard.type('Runa Skog');
  await choose(page, 'You are', 'Person');
  await fill(page, 'E-mail', 'runa@skog.example');
  // What the third step offers is asked for while the second one is filled.
  const ahead = page.waitForRequest(
    (one) => one.url().endsWith('/choices') && one.postDataJSON().field === 'stay__harbour',
  );
  await page.keyboard.press('Enter');
  await expect(page.getByText('Step 2 of 4')).toBeFocused();
  await ahead;
  await expectAccessible(page);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(320);
  await page.goBack();
  await expect(input(page, 'Your name')).toHaveValue('Runa Skog');
  // What was typed is there after the tab was dropped from memory, at its step.
  await page.getByRole('button', { name: 'Next' }).click();
  await fill(page, 'Registration', 'GS-7001');
  await expect.poll(() => page.evaluate(() => JSON.stringify(sessionStorage))).toContain('GS-7001');
  await page.reload();
  await expect(page.getByText('Step 2 of 4')).toBeVisible();
  await expect(input(page, 'Registration')).toHaveValue('GS-7001');
  await page.context().close();
});

test('a page is shown within another site that its builder names, as high as it is, and in no other', async ({
  page,
  browser,
}) => {
  let html = '';
  const site = createServer((_request, reply) => reply.setHeader('content-type', 'text/html').end(html));
  await new Promise<void>((ready) => site.listen(0, '127.0.0.1', ready));
  const { port } = site.address() as AddressInfo;
  await signIn(page, 'harbourmaster');
  await setPage(page, 'gannet_report_a_fault', async () => {
    await settings(page).getByLabel('Who may open it').selectOption('everybody');
    await settings(page).getByLabel('Style', { exact: true }).selectOption('plain');
    await settings(page).getByLabel('Sites that may show it').fill('gannet');
    await page.keyboard.press('Enter');
    await expect(settings(page)).toContainText('“gannet” is no address of a site.');
    await settings(page).getByLabel('Sites that may show it').fill(`http://127.0.0.1:${port}/about`);
    await page.keyboard.press('Enter');
    html = `<h1>The harbour</h1>${await settings(page).getByRole('textbox', { name: 'Snippet for the site' }).inputValue()}`;
  });
  const foreign = await (await browser.newContext(PHONE)).newPage();
  await foreign.goto(`http://127.0.0.1:${port}/`);
  const frame = foreign.frameLocator('iframe[title="Report a fault"]');
  await expect(frame.getByRole('heading', { name: 'Report a fault' })).toBeVisible();
  const height = (): Promise<number> =>
    foreign.locator('iframe').evaluate((one: HTMLIFrameElement) => one.clientHeight);
  const inside = (): Promise<number> => frame.locator('#root').evaluate((one) => one.clientHeight);
  await expect.poll(async () => Math.abs((await height()) - (await inside()))).toBeLessThanOrEqual(1);
  const before = await height();
  await frame.getByRole('button', { name: /^Report it/ }).click();
  await expect(frame.getByRole('region', { name: 'Problems' })).toBeVisible();
  await expect.poll(height).toBeGreaterThan(before);
  expect(await foreign.context().cookies()).toEqual([]);
  // From another port it is another site.
  const other = createServer((_request, reply) => reply.setHeader('content-type', 'text/html').end(html));
  await new Promise<void>((ready) => other.listen(0, '127.0.0.1', ready));
  await foreign.goto(`http://127.0.0.1:${(other.address() as AddressInfo).port}/`);
  await expect(foreign.locator('iframe')).toBeVisible();
  await expect(frame.getByRole('heading', { name: 'Report a fault' })).toHaveCount(0);
  await foreign.context().close();
  for (const one of [site, other]) {
    one.closeAllConnections();
    one.close();
  }
  // The other tests find the page as it was.
  await setPage(page, 'gannet_report_a_fault', async () => {
    await settings(page).getByLabel('Words of the button').fill('');
    await page.keyboard.press('Enter');
    await settings(page).getByLabel('Style', { exact: true }).selectOption('card');
  });
});
