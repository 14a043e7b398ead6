import { expect, type Page, test } from '@playwright/test';
import { addField, newTable } from './builder.ts';
import { divider, expectAccessible, said, signIn } from './office.ts';

/** Opens a role on the page of people. */
async function openRole(page: Page, name: string): Promise<void> {
  await divider(page, 'People').click();
  await page.getByRole('region', { name: 'Roles' }).getByRole('link', { name, exact: true }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
}

async function saveRole(page: Page, name: string): Promise<void> {
  await page.getByRole('button', { name: 'Save role' }).click();
  await expect(said(page, `${name} is saved.`)).toBeVisible();
}

/** Makes a role as a copy of another, on the page of people. */
async function newRole(page: Page, name: string, from: string): Promise<void> {
  await divider(page, 'People').click();
  await page.getByRole('button', { name: 'New role' }).click();
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Begins as a copy of').selectOption({ label: from });
  await page.getByRole('button', { name: 'Create role' }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
}

/** Says where records of a table may be seen, by the sentence that opens: a field that is a value. */
async function seeWhere(page: Page, table: string, field: string, value: string): Promise<void> {
  await page.getByLabel(`${table}: See`).selectOption('where');
  for (const words of [field, value]) {
    const picker = page.getByRole('dialog');
    await expect(picker).toBeVisible();
    const label = await picker.getAttribute('aria-label');
    await picker.locator('input').fill(words);
    await expect(picker.getByRole('option').first()).toContainText(words);
    await page.keyboard.press('Enter');
    await expect(page.getByRole('dialog', { name: label ?? '', exact: true })).toBeHidden();
  }
  await expect(page.getByText(`See ${table} whose`)).toContainText(value);
}

async function enter(page: Page, login: string, password: string): Promise<void> {
  await page.getByLabel('Login').fill(login);
  await page.getByLabel('Password').fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
}

test('from an empty office: an administrator, a table, a role, somebody with it, and a right that is withdrawn', async ({
  page,
  browser,
}) => {
  const welcome = process.env.FICHE_WELCOME;
  if (!welcome) throw new Error('FICHE_WELCOME is the one-time link of an empty office');
  const office = new URL(welcome).origin;
  await page.goto(welcome);
  await page.getByLabel('Login').fill('warden');
  await page.getByLabel('Display name').fill('Una Skerry');
  await page.getByLabel('Password').fill('a heron on the slipway');
  await page.getByLabel('Name of the first cabinet').fill('Tern Cove');
  await page.getByRole('button', { name: 'Make the account' }).click();
  await page.getByRole('link', { name: 'Sign in' }).click();
  await enter(page, 'warden', 'a heron on the slipway');
  await newTable(page, 'Notices');
  await addField(page, 'Heading', 'Text');
  await addField(page, 'Quay', 'Text');
  await addField(page, 'Remark', 'Text');
  await page.getByRole('tab', { name: 'Records' }).click();
  await page.getByRole('link', { name: 'New record' }).click();
  for (const [heading, quay] of [
    ['Dredging', 'North'],
    ['Regatta', 'South'],
  ] as const) {
    await page.getByLabel('Heading').fill(heading);
    await page.getByLabel('Quay').fill(quay);
    await page.getByLabel('Remark').fill(`About ${heading}`);
    await page.keyboard.press('Control+Enter');
    await expect(said(page, 'Saved as')).toBeVisible();
    await expect(page.getByLabel('Heading')).toHaveValue('');
  }

  await newRole(page, 'North porter', 'Clerk');
  await seeWhere(page, 'Notices', 'Quay', 'North');
  await page.getByRole('button', { name: 'Fields of Notices' }).click();
  await page.getByRole('list', { name: 'Fields of Notices' }).getByLabel('Remark').selectOption('hidden');
  await expectAccessible(page);
  await saveRole(page, 'North porter');
  await divider(page, 'People').click();
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  await page.getByLabel('Login').fill('porter');
  await page.getByLabel('Display name').fill('Ned Wick');
  await page.getByLabel('Role in this cabinet').selectOption({ label: 'North porter' });
  await page.getByRole('button', { name: 'Create link' }).click();
  const link = await page.getByLabel('One-time link').inputValue();

  const desk = await (await browser.newContext()).newPage();
  await desk.goto(link);
  await desk.getByLabel('Password').fill('a tern by the weir');
  await desk.getByRole('button', { name: 'Set the password' }).click();
  await desk.goto(office);
  await enter(desk, 'porter', 'a tern by the weir');
  await divider(desk, 'Tables').click();
  await desk.getByRole('link', { name: 'Notices' }).click();
  await expect(desk.getByText('Dredging')).toBeVisible();
  await expect(desk.getByText('1 record', { exact: true })).toBeVisible();
  await expect(desk.getByText('Regatta')).toHaveCount(0);
  await expect(desk.getByText('Remark')).toHaveCount(0);
  await desk.getByText('Dredging').click();
  await expect(desk.getByLabel('Heading')).toHaveValue('Dredging');
  await expect(desk.getByLabel('Remark')).toHaveCount(0);
  await desk.getByLabel('Quay').fill('South');
  await desk.keyboard.press('Control+s');
  // It has left their sight: said, and not shown.
  await expect(desk.getByText(/outside of what your role sees now/).first()).toBeVisible();
  await divider(desk, 'Tables').click();
  await desk.getByRole('link', { name: 'Notices' }).click();
  await expect(desk.getByText('0 records')).toBeVisible();

  await openRole(page, 'North porter');
  await page.getByLabel('Notices: See').selectOption('none');
  await page.getByLabel('Notices: Add').selectOption('none');
  await saveRole(page, 'North porter');
  await expect(desk.getByText('This table is not there any more.')).toBeVisible();
  await desk.context().close();

  await divider(page, 'Ledger').click();
  await expect(page.getByText('where Quay is North').first()).toBeVisible();
});

test('a builder tries a form as a role and sees the cabinet as it; the role says what it cannot fill', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster');
  await newRole(page, 'Dock hand', 'Clerk');
  await page.getByRole('button', { name: 'Fields of Stays' }).click();
  const fields = page.getByRole('list', { name: 'Fields of Stays' });
  await fields.getByLabel('Harbour').selectOption('hidden');
  await fields.getByLabel('Registration').selectOption('readOnly');
  await saveRole(page, 'Dock hand');
  await expect(page.getByText(/Dock hand may fill Check-in and cannot give Harbour/)).toBeVisible();

  await divider(page, 'Forms').click();
  await page.getByRole('link', { name: 'Edit form Check-in' }).click();
  const live = page.getByRole('region', { name: 'Live card' });
  await expect(live.getByLabel(/^Harbour/).first()).toBeVisible();
  await live.getByLabel('As which role').selectOption({ label: 'as Dock hand' });
  await expect(live.getByText('Hidden from Dock hand: Harbour.')).toBeVisible();
  await expect(live.getByLabel(/^Harbour/)).toHaveCount(0);

  await openRole(page, 'Dock hand');
  await page.getByRole('button', { name: 'See the cabinet as Dock hand' }).click();
  const banner = page.getByText('You see Gannet Sound as the role Dock hand has it. Nothing can be changed.');
  await expect(banner).toBeVisible();
  await expect(divider(page, 'Ledger')).toHaveCount(0);
  await divider(page, 'Tables').click();
  await page.getByRole('link', { name: 'Stays', exact: true }).click();
  await expect(page.getByRole('columnheader', { name: 'Pontoon' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'Harbour' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Leave' }).click();
  await expect(banner).toHaveCount(0);
  await expect(divider(page, 'Ledger')).toBeVisible();

  await openRole(page, 'Dock hand');
  await page.getByRole('button', { name: 'Delete role' }).click();
  await expect(said(page, 'The role Dock hand is deleted.')).toBeVisible();
});

test('a change of rights is tried on what the people with the role saved, before it is saved', async ({ page }) => {
  await signIn(page, 'harbourmaster', '/gannet/people/roles/clerk');
  const stays = page.getByRole('row', { name: /^Stays/ });
  await stays.getByRole('combobox').nth(1).selectOption('none');
  await page.getByRole('button', { name: 'Try on what was saved' }).click();
  const tried = page.getByRole('region', { name: 'Try on what was saved' });
  await expect(tried.getByRole('status')).toContainText(/Of the last \d+ saves, \d+ would be refused/);
  const reason = tried.getByRole('listitem').filter({ hasText: 'The role may not add records of Stays.' });
  await expect(reason.getByRole('link').first()).toHaveAttribute('href', /\/gannet\/tables\/gannet_stays\/\d+$/);
  await expectAccessible(page);
  // What is changed again is tried again.
  await stays.getByRole('combobox').nth(1).selectOption('all');
  await expect(tried.getByRole('status')).toHaveCount(0);
});
