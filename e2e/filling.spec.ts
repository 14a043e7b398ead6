import { expect, test } from '@playwright/test';
import { ahead, card, choose, expectAccessible, field, fill, input, said, signIn } from './office.ts';

test('two people on one record: what changed comes in live, the same field asks, an archived record says so', async ({
  browser,
}) => {
  const [one, other] = [await browser.newPage(), await browser.newPage()];
  await signIn(one, 'quayclerk');
  await signIn(other, 'harbourmaster');
  for (const page of [one, other]) {
    await page.goto('/gannet/forms/gannet_owner_card/12');
    await expect(input(page, 'Phone')).toHaveValue(/0555/);
  }
  // Nothing entered here: the other’s change is simply there, and said.
  await fill(one, 'Phone', '0555 111 111');
  await one.keyboard.press('Control+s');
  await expect(said(other, 'Changed just now by quayclerk.')).toBeVisible();
  await expect(input(other, 'Phone')).toHaveValue('0555 111 111');

  // Different fields merge; the same field shows both values, and a person decides.
  await fill(one, 'Phone', '0555 222 222');
  await fill(one, 'E-mail', 'office@perrin.example');
  await fill(other, 'Phone', '0555 333 333');
  await fill(other, 'Name', 'Perrin Boatyard');
  await one.keyboard.press('Control+s');
  await expect(field(other, 'Phone')).toContainText('quayclerk wrote 0555 222 222; here stands 0555 333 333.');
  await expect(input(other, 'E-mail')).toHaveValue('office@perrin.example');
  await expect(input(other, 'Name')).toHaveValue('Perrin Boatyard');
  await other.keyboard.press('Control+s');
  await expect(other.getByRole('region', { name: 'Problems' })).toContainText('Decide which value to keep.');
  await field(other, 'Phone').getByRole('button', { name: 'Keep 0555 333 333' }).click();
  await other.keyboard.press('Control+s');
  await expect(said(other, 'Saved.')).toBeVisible();
  await expect(input(one, 'Name')).toHaveValue('Perrin Boatyard');
  await expect(input(one, 'Phone')).toHaveValue('0555 333 333');

  // Archived meanwhile: said, nothing lost, and brought back to be saved.
  await fill(one, 'Address', '1 Stone Quay');
  await other.getByRole('button', { name: 'Archive', exact: true }).click();
  await expect(card(one)).toContainText('harbourmaster has archived this record meanwhile.');
  await expect(input(one, 'Address')).toHaveValue('1 Stone Quay');
  await one.getByRole('button', { name: 'Restore' }).click();
  await expect(said(one, 'is back in use.')).toBeVisible();
  await one.keyboard.press('Control+s');
  await expect(said(one, 'Saved.')).toBeVisible();
  await Promise.all([one.context().close(), other.context().close()]);
});

test('unsaved work comes back after a reload and in a new tab, lines and all; thrown away, it is gone', async ({
  page,
  context,
}) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_check_in/new');
  await choose(page, 'Harbour', 'Tern Cove');
  await fill(page, 'Arrival', `${ahead(30)} 12:00`);
  const lines = card(page).getByRole('region', { name: 'Services used' });
  await lines.getByLabel('Service, line 1').fill('Crane');
  await page.keyboard.press('Enter');
  await lines.getByLabel('Quantity, line 1').fill('2,5');
  await page.keyboard.press('Tab');
  await expect(lines.getByLabel('Amount, line 1')).toContainText(/\d{3}\.\d\d/);
  const kept = () =>
    page.evaluate(() => Object.keys(localStorage).filter((key) => key.startsWith('fiche:work')).length);
  await expect.poll(kept).toBe(1);
  page.on('dialog', (dialog) => void dialog.accept());
  await page.reload();
  await expect(card(page).locator('.unsaved_unsaved')).toContainText('Your unsaved entry of');
  await expect(input(page, 'Harbour')).toHaveValue('Tern Cove');
  await expect(lines.getByLabel('Amount, line 1')).toContainText(/\d{3}\.\d\d/);
  await page.close({ runBeforeUnload: false });

  const next = await context.newPage();
  next.on('dialog', (dialog) => void dialog.accept());
  // What the closed tab says as it goes arrives a moment later in another one.
  await next.goto('/gannet/home');
  const isClosed = () =>
    next.evaluate(() =>
      Object.entries(localStorage).some(([key, work]) => key.startsWith('fiche:work') && JSON.parse(work).closed),
    );
  await expect.poll(isClosed).toBe(true);
  await next.goto('/gannet/forms/gannet_check_in/new');
  await expect(input(next, 'Arrival')).toHaveValue(`${ahead(30)}, 12:00`);
  await next.getByRole('button', { name: 'Discard' }).click();
  await expect(input(next, 'Arrival')).toHaveValue('');
  await next.reload();
  await expect(input(next, 'Harbour')).toHaveValue('');
  await expect(next.getByRole('button', { name: 'Discard' })).toHaveCount(0);
});

test('records are found by number and by words, copied, kept for the next, and put back from the history', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster', '/gannet/forms/gannet_owner_card/12');
  await expect(card(page)).toContainText('Record 12 of');
  await page.keyboard.press('Alt+g');
  await page.getByLabel('A number to jump to, or words to find').fill('40');
  await page.keyboard.press('Enter');
  await expect(card(page)).toContainText('Record 40 of');
  const name = await input(page, 'Name').inputValue();
  await page.getByRole('link', { name: 'First record' }).click();
  await expect(card(page)).toContainText('Record 1 of');
  await page.keyboard.press('Alt+g');
  await page.getByLabel('A number to jump to, or words to find').fill(name);
  await page.getByRole('dialog').getByRole('button', { name }).first().click();
  await expect(input(page, 'Name')).toHaveValue(name);

  // A change, put back by one field: filled in on the card, and saved as a change of its own.
  const phone = await input(page, 'Phone').inputValue();
  await fill(page, 'Phone', '0555 999 999');
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved.')).toBeVisible();
  await page.keyboard.press('Alt+h');
  const history = page.getByRole('complementary', { name: 'History' });
  await history.getByRole('button', { name: 'By field' }).click();
  await history
    .getByRole('button', { name: `Put back ${phone}` })
    .first()
    .click();
  await expect(input(page, 'Phone')).toHaveValue(phone);
  // The card is read anew once it is saved.
  const read = page.waitForResponse(
    (reply) =>
      reply.request().method() === 'GET' && /\/records\/40\b/.test(reply.url()) && !reply.url().includes('/history'),
  );
  await page.keyboard.press('Control+s');
  await read;
  await expect(history).toContainText('0555 999 999');
  await page.keyboard.press('Alt+h');

  // A copy is a new card with its values.
  await page.keyboard.press('Alt+d');
  await expect(page).toHaveURL(/\/new$/);
  await expect(input(page, 'Name')).toHaveValue(name);
  await fill(page, 'Name', 'Lorne Quayworks');
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved as')).toBeVisible();

  await expect(page).toHaveURL(/\/\d+$/);

  // Kept for the next: what does not change from card to card.
  await page.keyboard.press('Alt+n');
  await expect(input(page, 'Name')).toHaveValue('');
  await fill(page, 'Name', 'Ines Halvard');
  await choose(page, 'Kind', 'Person');
  await page.keyboard.press('Alt+k');
  await expect(card(page)).toContainText('Keep Kind for the next card.');
  await page.keyboard.press('Control+Enter');
  await expect(said(page, 'Saved as')).toBeVisible();
  await expect(input(page, 'Name')).toHaveValue('');
  await expect(input(page, 'Kind')).toHaveValue('Person');

  await page.keyboard.press('F1');
  await expect(page.getByRole('complementary', { name: 'What the keyboard does here' })).toContainText(
    'save, then the next card',
  );
});

test('the guide opens on the page of one’s own work', async ({ page }) => {
  await signIn(page, 'quayclerk', '/gannet/forms/gannet_owner_card/new');
  await expect(input(page, 'Name')).toBeVisible();
  await page.keyboard.press('F1');
  // The guide lies beside the keys: the page of one’s own work, its pictures, and back to the card by Esc.
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Help' }).click();
  const guide = page.getByRole('complementary', { name: 'Guide' });
  await expect(guide.getByRole('heading', { name: 'Filling forms' })).toBeVisible();
  const picture = guide.getByRole('img', { name: 'Why these choices' });
  await picture.scrollIntoViewIfNeeded();
  await expect.poll(() => picture.evaluate((one: HTMLImageElement) => one.naturalWidth)).toBeGreaterThan(0);
  await guide.getByRole('tab', { name: 'Filling' }).press('ArrowRight');
  await page.keyboard.press('Enter');
  await expect(guide.getByRole('heading', { name: 'Building tables and forms' })).toBeVisible();
  await expectAccessible(page);
  await page.keyboard.press('Escape');
  await expect(guide).toBeHidden();
  await expect(page.getByRole('button', { name: 'Help' })).toBeFocused();
});

test('a long history comes page by page, down to the line that added the record', async ({ page }) => {
  await signIn(page, 'quayclerk');
  const id = await page.evaluate(async () => {
    const { csrf } = await (await fetch('/api/session')).json();
    const save = async (body: object) => {
      const answer = await fetch('/api/tables/gannet_owners/entries', {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-fiche-csrf': csrf, 'idempotency-key': crypto.randomUUID() },
        body: JSON.stringify(body),
      });
      return (await answer.json()).record as { id: number; version: number };
    };
    let record = await save({ values: { name: 'Morwen Fetch', kind: 'Person' } });
    for (let n = 1; n <= 201; n++)
      record = await save({
        record: record.id,
        version: record.version,
        values: { name: `Morwen Fetch ${n}`, kind: 'Person' },
      });
    return record.id;
  });
  await page.goto(`/gannet/tables/gannet_owners/${id}`);
  await expect(card(page)).toContainText('Morwen Fetch 201');
  await page.keyboard.press('Alt+h');
  const history = page.getByRole('complementary', { name: /History/ });
  await expect(history.getByText('Morwen Fetch 201').first()).toBeVisible();
  await expect(history.getByText('Morwen Fetch 2', { exact: true }).first()).toBeAttached();
  await expect(history.getByText('Morwen Fetch 1', { exact: true })).toHaveCount(1);
  await history.getByRole('button', { name: 'Show older changes' }).click();
  await expect(history.getByRole('button', { name: 'Show older changes' })).toHaveCount(0);
  await expect(history.getByText('Morwen Fetch', { exact: true }).first()).toBeAttached();
});
