import { expect, type Page, test } from '@playwright/test';
import { card, divider, expectAccessible, fill, input, said, signIn } from './office.ts';

/** The address and title of the last vessel of the sample: no other test changes it. */
const lastVessel = (page: Page) =>
  page.evaluate(async () => {
    const { records } = await (await fetch('/api/tables/gannet_vessels/records?limit=200')).json();
    const { id, title } = records.at(-1) as { id: number; title: string };
    return { at: `/gannet/tables/gannet_vessels/${id}`, title };
  });

test('who watches a record is told of a change while they work elsewhere, by keyboard too, and stops on their account’s page', async ({
  page,
  browser,
}) => {
  await signIn(page, 'harbourmaster');
  const vessel = await lastVessel(page);
  await page.goto(vessel.at);
  await page.getByRole('button', { name: 'Watch', exact: true }).click();
  await expect(said(page, 'You watch this record')).toBeVisible();
  await divider(page, 'Tables').click();

  const clerk = await (await browser.newContext()).newPage();
  await signIn(clerk, 'quayclerk');
  await clerk.goto(vessel.at);
  for (const length of ['4', '5']) {
    await fill(clerk, 'Length', length);
    // After a save the card is read again.
    const read = clerk.waitForResponse((answer) => answer.url().endsWith(vessel.at.split('/').at(-1) ?? ''));
    await clerk.keyboard.press('Control+s');
    await read;
    await expect(input(clerk, 'Length')).toHaveValue(`${length}.00 m`);
  }
  await clerk.context().close();

  const inbox = page.getByRole('button', { name: 'Inbox, 1 new' });
  await expect(inbox).toBeVisible();
  await inbox.focus();
  await page.keyboard.press('Enter');
  const notice = page.getByRole('dialog', { name: 'Inbox' }).getByRole('listitem').first();
  await expect(notice).toContainText(`New: quayclerk changed Vessels: ${vessel.title} (2 changes)`);
  await expectAccessible(page);
  await notice.getByRole('button').focus();
  await page.keyboard.press('Enter');
  await expect(card(page)).toContainText(vessel.title);
  await expect(page.getByRole('button', { name: 'Inbox', exact: true })).toBeVisible();

  await page.getByRole('button', { name: 'Inbox', exact: true }).click();
  await page.getByRole('link', { name: 'Choose what comes by mail' }).click();
  const watched = page.getByRole('region', { name: 'What you watch' });
  await expect(watched.getByRole('link', { name: vessel.title })).toBeVisible();
  await watched.getByRole('button', { name: `Stop watching ${vessel.title}` }).click();
  await expect(watched.getByRole('link', { name: vessel.title })).toHaveCount(0);
  await page.goto(vessel.at);
  await expect(page.getByRole('button', { name: 'Watch', exact: true })).toBeVisible();
});

test('what comes by mail is chosen once the account has an address', async ({ page }) => {
  await signIn(page, 'auditor', '/gannet/account');
  const assigned = page.getByRole('checkbox', { name: 'A record is assigned to me' });
  await expect(assigned).toBeDisabled();
  await page.getByLabel('E-mail').fill('rhona.vane@gannet.example');
  await page.getByRole('button', { name: 'Save name' }).click();
  await assigned.click();
  await expect(assigned).toBeChecked();
  await page.reload();
  await expect(page.getByRole('checkbox', { name: 'A record is assigned to me' })).toBeChecked();
  await expect(page.getByRole('checkbox', { name: 'A record that I watch is changed' })).not.toBeChecked();
  await expect(page.getByText('They go to rhona.vane@gannet.example')).toBeVisible();
  await expectAccessible(page);
});

test('an invitation with an address stands in the outbox, without its link, on a phone too', async ({ page }) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'People').click();
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  await page.getByLabel('Login').fill('innes.rennie');
  await page.getByLabel('Display name').fill('Innes Rennie');
  await page.getByLabel('E-mail (optional)').fill('innes.rennie@gannet.example');
  await page.getByLabel('Role in this cabinet').selectOption({ label: 'Clerk' });
  await page.getByRole('button', { name: 'Create link' }).click();
  const link = await page.getByLabel('One-time link').inputValue();
  await expect(page.getByText('A message to innes.rennie@gannet.example is in the outbox')).toBeVisible();
  await page.getByRole('link', { name: 'Outbox' }).click();
  await expect(page.getByText('No mail server is set up')).toBeVisible();
  const row = page.getByRole('row', { name: /innes\.rennie@gannet\.example/ });
  await expect(row).toContainText('Not sent: no mail server was set up');
  await row.getByRole('button').click();
  const message = page.getByRole('complementary', { name: 'Message' });
  await expect(message).toContainText('Your login is innes.rennie.');
  await expect(message).toContainText('[one-time link: only its receiver gets it]');
  expect(await page.content()).not.toContain(link.split('#')[1]);
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Failed' }).click();
  await expect(page.getByText('No message is in this state.')).toBeVisible();

  await page.setViewportSize({ width: 390, height: 800 });
  await page.goto('/gannet/outbox');
  await expect(page.getByText('innes.rennie@gannet.example')).toBeVisible();
  const wide = await page.evaluate(() => document.documentElement.scrollWidth > window.innerWidth);
  expect(wide).toBe(false);
  await page.getByRole('button', { name: 'Inbox', exact: true }).click();
  await expect(page.getByRole('dialog', { name: 'Inbox' })).toBeVisible();
});

test('a role without the right does not get the outbox', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/outbox');
  await expect(page.getByText('Your role may not read the outbox.')).toBeVisible();
  await divider(page, 'Settings').click();
  await expect(page.getByRole('link', { name: 'Open the outbox' })).toHaveCount(0);
});
