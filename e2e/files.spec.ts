import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { choose, divider, expectAccessible, field, input, said, signIn } from './office.ts';

const MB = 1024 * 1024;
let folder: string;
test.beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'fiche-files-'));
});
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A picture of one colour, drawn by the browser. */
async function picture(page: Page, name: string, colour: string): Promise<string> {
  const data = await page.evaluate((fill) => {
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [320, 240];
    const context = canvas.getContext('2d');
    if (context) {
      context.fillStyle = fill;
      context.fillRect(0, 0, 320, 240);
    }
    return canvas.toDataURL('image/png');
  }, colour);
  const path = join(folder, name);
  writeFileSync(path, Buffer.from(data.split(',')[1] ?? '', 'base64'));
  return path;
}

test('a hundred files of 2 MB in one action; one that lies about its kind, in any script, empty, too large', async ({
  page,
}) => {
  await signIn(page, 'harbourmaster');
  await divider(page, 'Tables').click();
  await page.evaluate(async () => {
    const { csrf } = await (await fetch('/api/session')).json();
    const headers = { 'content-type': 'application/json', 'x-fiche-csrf': csrf };
    const post = (url: string, body: object) => fetch(url, { method: 'POST', headers, body: JSON.stringify(body) });
    const { id } = await (await post('/api/cabinets/gannet/tables', { label: 'Soundings' })).json();
    for (const one of [
      { label: 'Survey', type: 'text', required: true },
      { label: 'Papers', type: 'attachments', settings: { largest: 3, mostCount: 110 } },
    ])
      await post(`/api/tables/${id}/fields`, { field: one });
  });
  await page.goto('/gannet/tables/gannet_soundings/new');
  await input(page, 'Survey').fill('Hull, spring');
  const papers = field(page, 'Papers');
  await expect(papers).toContainText('any kind, up to 3 MB each, at most 110');

  const block = Buffer.alloc(2 * MB, 7);
  const hundred = Array.from({ length: 100 }, (_, n) => {
    const path = join(folder, `sheet ${String(n + 1).padStart(3, '0')}.dat`);
    // Each is its own content.
    block.writeUInt32LE(n, 0);
    writeFileSync(path, block);
    return path;
  });
  const lies = await picture(page, 'Łódź 泊位 πλοίο.exe', '#17595a');
  const empty = join(folder, 'empty.txt');
  writeFileSync(empty, '');
  const large = join(folder, 'large.dat');
  writeFileSync(large, Buffer.alloc(4 * MB));
  const chooser = page.waitForEvent('filechooser');
  await papers.getByRole('button', { name: 'Add files' }).click();
  await (await chooser).setFiles([...hundred, lies, empty, large]);
  await expect(papers).toContainText('empty.txt is empty: there is nothing in it.');
  await expect(papers).toContainText('large.dat has 4 MB: at most 3 MB fit.');
  await expect(page.getByRole('button', { name: /^Uploading / })).toBeVisible();
  await expect(papers.getByRole('link')).toHaveCount(101, { timeout: 120_000 });
  for (const name of ['empty.txt', 'large.dat']) await papers.getByRole('button', { name: `Remove ${name}` }).click();
  await page.keyboard.press('Control+s');
  await expect(said(page, 'Saved as')).toBeVisible();
  await expect(papers.getByRole('link')).toHaveCount(101);
  // What it is was found in it: it is shown as the picture that it is.
  const shown = papers.getByRole('link', { name: 'Łódź 泊位 πλοίο.exe' });
  const kind = await page.evaluate(
    async (url) => (await fetch(url)).headers.get('content-type'),
    (await shown.getAttribute('href')) ?? '',
  );
  expect(kind).toBe('image/png');
  await expect(papers.locator('img').first()).toBeVisible();
  // One taken out again; the line of history names it.
  await papers.getByRole('button', { name: 'Remove sheet 001.dat' }).click();
  await page.keyboard.press('Control+s');
  await expect(papers.getByRole('link')).toHaveCount(100);
  await expectAccessible(page);
});

test('a respondent on a phone sends photos with captions as lines, before anything is saved', async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
  const page = await context.newPage();
  await page.goto('/p/report-a-fault');
  await choose(page, 'Harbour', 'Tern Cove');
  await choose(page, 'What is broken', 'Shore');
  await choose(page, 'Which part', 'Lighting');
  await choose(page, 'What is wrong with it', 'Bulb broken');
  const photos = page.getByRole('region', { name: 'Photos' });
  const add = async (n: number, path: string) => {
    const chooser = page.waitForEvent('filechooser');
    await photos.getByRole('row').nth(n).getByRole('button', { name: 'Add a picture' }).click();
    await (await chooser).setFiles(path);
  };
  await add(0, await picture(page, 'lamp.png', '#b93a22'));
  await expect(photos.getByRole('row').nth(0).locator('img')).toBeVisible();
  await photos.getByLabel('Caption, line 1').fill('From the gate');
  await add(1, join(folder, 'lamp.png'));
  await expect(photos.getByRole('row')).toHaveCount(3);

  // Several at once are a line each, as many as there is room for.
  const several = page.waitForEvent('filechooser');
  await photos.getByRole('button', { name: 'Add pictures, Photo' }).click();
  const many = await Promise.all(Array.from({ length: 9 }, (_, n) => picture(page, `pole-${n}.png`, `#1757${10 + n}`)));
  await (await several).setFiles(many);
  await expect(photos.getByRole('row').locator('img')).toHaveCount(10);
  await expect(photos).toContainText('10 lines, at most 10');
  await expect(photos).toContainText('pole-8.png was left out: at most 10 of these fit here.');
  await photos.getByRole('button', { name: 'Remove pole-8.png' }).click();
  await photos.getByLabel('Caption, line 7').fill('The fifth pole');
  await expect
    .poll(() => page.evaluate(() => sessionStorage.getItem('fiche:answers:report-a-fault')))
    .toContain('The fifth pole');

  // A phone that drops the page from its memory loses nothing; whoever wants to begins anew.
  await page.reload();
  await expect(page.getByText('Your earlier answers are back.')).toBeVisible();
  await expect(input(page, 'What is wrong with it')).toHaveValue('Bulb broken');
  await expect(photos.getByLabel('Caption, line 7')).toHaveValue('The fifth pole');
  await expect(photos).toContainText('pole-7.png');
  await expectAccessible(page);
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByText(/FAULT-\d{4}-\d+/)).toBeVisible();
  await page.getByRole('button', { name: 'Fill in another' }).click();
  await expect(input(page, 'Harbour')).toHaveValue('');
  await page.reload();
  await expect(input(page, 'Harbour')).toHaveValue('');
  await expect(page.getByText('Your earlier answers are back.')).toHaveCount(0);
  await context.close();
});
