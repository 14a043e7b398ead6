import { expect, type Page, test } from '@playwright/test';
import { Secret, TOTP } from 'otpauth';
import { divider, said, signIn } from './office.ts';

const account = (page: Page, login: string) => page.getByRole('button', { name: login, exact: true });
/** Signs in with a password, as somebody who is no sample account. */
async function enter(page: Page, login: string, password: string): Promise<void> {
  await page.goto('/');
  await page.getByLabel('Login').fill(login);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
}

/** Invites a clerk on the People page; the one-time link. */
async function invite(page: Page, login: string, displayName: string): Promise<string> {
  await divider(page, 'People').click();
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  await page.getByLabel('Login').fill(login);
  await page.getByLabel('Display name').fill(displayName);
  await page.getByLabel('Role in this cabinet').selectOption({ label: 'Clerk' });
  await page.getByRole('button', { name: 'Create link' }).click();
  return page.getByLabel('One-time link').inputValue();
}

test('somebody is invited, comes by the link, and gets another role and leaves while their page is open', async ({
  page,
  browser,
}) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'People').click();
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  await page.getByLabel('Login').fill('nightclerk');
  await page.getByLabel('Display name').fill('Ebba Rush');
  await page.getByRole('button', { name: 'Create link' }).click();
  await expect(page.getByText('A role is required.')).toBeVisible();
  await expect(page.getByLabel('Role in this cabinet')).toBeFocused();
  await page.getByLabel('Role in this cabinet').selectOption({ label: 'Clerk' });
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Create link' }).click();
  await expect(page.getByText('A login is never used again')).toBeVisible();
  await expect(page.getByLabel('Login')).toBeFocused();
  await page.getByLabel('Login').fill('ebba.rush');
  await page.keyboard.press('Enter');
  const link = await page.getByLabel('One-time link').inputValue();
  await expect(page.getByRole('row', { name: /ebba\.rush/ })).toContainText('invited');

  const desk = await (await browser.newContext()).newPage();
  await desk.goto(link);
  await expect(desk.getByText('Welcome, Ebba Rush')).toBeVisible();
  await desk.getByLabel('Password').fill('password123');
  await desk.keyboard.press('Enter');
  await expect(desk.getByText('on the lists of common ones')).toBeVisible();
  await desk.getByLabel('Password').fill('a heron on the slipway');
  await desk.keyboard.press('Enter');
  await desk.getByRole('link', { name: 'Sign in' }).click();
  await enter(desk, 'ebba.rush', 'a heron on the slipway');
  await expect(divider(desk, 'Forms')).toBeVisible();
  await expect(divider(desk, 'Ledger')).toHaveCount(0);
  await divider(desk, 'People').click();
  await expect(desk.getByRole('button', { name: 'Invite somebody' })).toHaveCount(0);

  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await account(page, 'ebba.rush').click();
  await page.getByLabel('Role in this cabinet').selectOption({ label: 'Auditor' });
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(said(page, 'Saved.')).toBeVisible();
  await expect(divider(desk, 'Ledger')).toBeVisible();

  await page.getByRole('button', { name: 'Close account' }).click();
  await expect(page.getByRole('row', { name: /ebba\.rush/ })).toContainText('closed');
  await expect(desk.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await enter(desk, 'ebba.rush', 'a heron on the slipway');
  await expect(desk.getByText('The login or the password is not right.')).toBeVisible();
  await desk.context().close();

  await divider(page, 'Ledger').click();
  await expect(page.getByText('ebba.rush').first()).toBeVisible();
});

test('one’s own account: sessions are seen and ended, the password is changed, a second factor added', async ({
  page,
  browser,
}) => {
  await signIn(page, 'harbourmaster');
  const link = await invite(page, 'tidehand', 'Tide hand');

  const desk = await (await browser.newContext()).newPage();
  await desk.goto(link);
  await desk.getByLabel('Password').fill('a heron on the slipway');
  await desk.getByRole('button', { name: 'Set the password' }).click();
  await expect(desk.getByText('Your password is set')).toBeVisible();
  await enter(desk, 'tidehand', 'a heron on the slipway');
  const phone = await (await browser.newContext({ viewport: { width: 390, height: 800 } })).newPage();
  await enter(phone, 'tidehand', 'a heron on the slipway');
  await expect(phone.getByRole('button', { name: 'Account tidehand' })).toBeVisible();

  await desk.getByRole('button', { name: 'Account tidehand' }).click();
  await desk.getByRole('menuitem', { name: 'Your account' }).click();
  const sessions = desk.getByRole('list', { name: 'Where you are signed in' });
  await expect(sessions.getByRole('listitem')).toHaveCount(2);
  await sessions.getByRole('button', { name: 'Sign out there' }).click();
  await expect(sessions.getByRole('listitem')).toHaveCount(1);
  await expect(phone.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await phone.context().close();

  await desk.getByLabel('Display name').fill('Tilda Hand');
  await desk.getByRole('button', { name: 'Save name' }).click();
  await expect(said(desk, 'Saved.')).toBeVisible();
  await desk.getByLabel('Present password').fill('wrong words here');
  await desk.getByLabel('New password').fill('a heron by the weir');
  await desk.keyboard.press('Enter');
  await expect(desk.getByText('This is not your present password.')).toBeVisible();
  await desk.getByLabel('Present password').fill('a heron on the slipway');
  await desk.keyboard.press('Enter');
  await expect(said(desk, 'The password is changed.')).toBeVisible();
  await desk.getByRole('button', { name: 'Add second factor' }).click();
  await desk.getByLabel('Present password').last().fill('a heron by the weir');
  await desk.getByRole('button', { name: 'Continue' }).click();
  await expect(desk.getByAltText('The secret as a QR code')).toBeVisible();
  const secret = (await desk.getByText(/^([A-Z2-7]{4} ){7}[A-Z2-7]{4}$/).innerText()).replaceAll(' ', '');
  await desk.getByLabel('Code that is shown now').fill('000000');
  await desk.getByRole('button', { name: 'Confirm' }).click();
  await expect(desk.getByText('This code is not right.')).toBeVisible();
  await desk.getByLabel('Code that is shown now').fill(new TOTP({ secret: Secret.fromBase32(secret) }).generate());
  await desk.getByRole('button', { name: 'Confirm' }).click();
  const codes = desk.getByRole('list', { name: 'Recovery codes' }).getByRole('listitem');
  await expect(codes).toHaveCount(10);
  const recovery = await codes.first().innerText();
  await desk.getByRole('button', { name: 'Done' }).click();
  await expect(desk.getByText('10 recovery codes are left.')).toBeVisible();

  await desk.getByRole('button', { name: 'Account tidehand' }).click();
  await expect(desk.getByText('Tilda Hand')).toBeVisible();
  await desk.getByRole('menuitem', { name: 'Sign out' }).click();
  await expect(desk.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await enter(desk, 'tidehand', 'a heron by the weir');
  await expect(desk.getByLabel('Code')).toBeFocused();
  await desk.getByLabel('Code').fill('000000');
  await desk.keyboard.press('Enter');
  await expect(desk.getByText('This code is not right')).toBeVisible();
  await desk.getByLabel('Code').fill(recovery.toLowerCase());
  await desk.keyboard.press('Enter');
  await expect(divider(desk, 'Forms')).toBeVisible();
  await desk.context().close();
});

test('a role that works with a second factor only leads there first, then opens the cabinet', async ({
  page,
  browser,
}) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'People').click();
  await page.getByRole('button', { name: 'New role' }).click();
  await page.getByLabel('Name').fill('Cash desk');
  await page.getByRole('button', { name: 'Create role' }).click();
  await page.getByLabel('Works with a second factor only').click();
  await page.getByRole('button', { name: 'Save role' }).click();
  await expect(said(page, 'Cash desk is saved.')).toBeVisible();
  await divider(page, 'People').click();
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  await page.getByLabel('Login').fill('cashier');
  await page.getByLabel('Display name').fill('Cai Penny');
  await page.getByLabel('Role in this cabinet').selectOption({ label: 'Cash desk' });
  await page.getByRole('button', { name: 'Create link' }).click();
  const desk = await (await browser.newContext()).newPage();
  await desk.goto(await page.getByLabel('One-time link').inputValue());
  await desk.getByLabel('Password').fill('a heron on the slipway');
  await desk.getByRole('button', { name: 'Set the password' }).click();
  await expect(desk.getByText('Your password is set')).toBeVisible();
  await enter(desk, 'cashier', 'a heron on the slipway');
  await expect(desk.getByText('works with a second factor only')).toBeVisible();
  await desk.getByRole('button', { name: 'Add second factor' }).click();
  await desk.getByLabel('Present password').first().fill('a heron on the slipway');
  await desk.getByRole('button', { name: 'Continue' }).click();
  const secret = (await desk.getByText(/^([A-Z2-7]{4} ){7}[A-Z2-7]{4}$/).innerText()).replaceAll(' ', '');
  await desk.getByLabel('Code that is shown now').fill(new TOTP({ secret: Secret.fromBase32(secret) }).generate());
  await desk.getByRole('button', { name: 'Confirm' }).click();
  await desk.getByRole('button', { name: 'Done' }).click();
  await expect(divider(desk, 'Forms')).toBeVisible();
  await desk.context().close();
});

test('a program gets a token that is shown once, is seen at work, and is revoked', async ({
  page,
  playwright,
  baseURL,
}) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'People').click();
  await page.getByRole('button', { name: 'New token' }).click();
  await page.getByLabel('Name of the program').fill('Tide gauge');
  await page.getByLabel('Role in this cabinet').selectOption({ label: 'Clerk' });
  await page.getByRole('checkbox', { name: 'All tables' }).click();
  await page.getByRole('button', { name: 'Create token' }).click();
  await expect(page.getByText('A name has 2 to 40 letters')).toBeVisible();
  await page.getByLabel('Name of the program').fill('tide-gauge');
  // Enter sends the form from any of its controls.
  await page.getByRole('checkbox', { name: 'Harbours' }).click();
  await page.keyboard.press('Enter');
  const token = await page.getByLabel('Token', { exact: true }).inputValue();
  const row = page.getByRole('row', { name: /tide-gauge/ });
  await expect(row).toContainText(/Clerk.*Harbours.*never yet/);

  const program = await playwright.request.newContext({
    baseURL,
    extraHTTPHeaders: { authorization: `Bearer ${token}` },
  });
  const status = async (table: string) => (await program.get(`/api/tables/${table}/records`)).status();
  expect([await status('gannet_harbours'), await status('gannet_stays')]).toEqual([200, 403]);
  await page.reload();
  await expect(row).toContainText(/last \d+ \w+ \d+/);
  await page.getByRole('button', { name: 'Revoke tide-gauge' }).click();
  await expect(row).toContainText('revoked');
  expect(await status('gannet_harbours')).toBe(401);
  await program.dispose();
});

test('somebody who is removed from their only cabinet sees what to do, and comes back by Undo', async ({
  page,
  browser,
}) => {
  await signIn(page, 'harbourmaster');
  const desk = await (await browser.newContext()).newPage();
  await desk.goto(await invite(page, 'lochside', 'Loch Side'));
  await desk.getByLabel('Password').fill('a heron on the slipway');
  await desk.getByRole('button', { name: 'Set the password' }).click();
  await expect(desk.getByText('Your password is set')).toBeVisible();
  await enter(desk, 'lochside', 'a heron on the slipway');
  await expect(divider(desk, 'Forms')).toBeVisible();

  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await account(page, 'lochside').click();
  await page.getByRole('button', { name: 'Remove from Gannet Sound' }).click();
  await expect(account(page, 'lochside')).toHaveCount(0);
  await expect(desk.getByText('is in no cabinet.')).toBeVisible();
  await expect(desk.getByRole('button', { name: 'Sign out' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(account(page, 'lochside')).toBeVisible();
  await desk.reload();
  await expect(divider(desk, 'Forms')).toBeVisible();
  await desk.context().close();
});
