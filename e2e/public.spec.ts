import { gzipSync } from 'node:zlib';
import { expect, type Page, test } from '@playwright/test';
import { choose, input } from './office.ts';

const KB = 1024;
/** What a public page may load in scripts, gzipped, in KB: at first, and with everything that its form needs. */
const AT_FIRST = 200;
const IN_ALL = 260;

/** The scripts that a page has loaded so far, gzipped, in KB. */
function countScripts(page: Page): () => Promise<number> {
  const bodies: Promise<number>[] = [];
  page.on('response', (response) => {
    if (/\.js$/.test(new URL(response.url()).pathname))
      bodies.push(response.body().then((body) => gzipSync(body).length));
  });
  return async () => Math.round((await Promise.all(bodies)).reduce((sum, size) => sum + size, 0) / KB);
}

/** The scripts that the page itself names, before it knows which form it is, gzipped, in KB. */
async function scriptsNamed(page: Page, address: string): Promise<number> {
  const html = await (await page.request.get(address)).text();
  const named = [...new Set(html.match(/\/assets\/[^"]+\.js/g) ?? [])];
  expect(named.length).toBeGreaterThan(0);
  const sizes = await Promise.all(
    named.map(async (one) => gzipSync(await (await page.request.get(one)).body()).length),
  );
  return Math.round(sizes.reduce((sum, size) => sum + size, 0) / KB);
}

test('a public page stays small on a phone', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const loaded = countScripts(page);
  await page.goto('/p/report-a-fault');
  await expect(input(page, 'Harbour')).toBeVisible();
  await choose(page, 'Harbour', 'Tern Cove');
  await page.getByRole('region', { name: 'Photos' }).scrollIntoViewIfNeeded();
  await expect(page.getByRole('button', { name: /^Add pictures/ })).toBeVisible();
  await page.getByRole('button', { name: 'Send' }).click();
  await expect(page.getByRole('region', { name: 'Problems' })).toBeVisible();
  const first = await scriptsNamed(page, '/p/report-a-fault');
  const all = await loaded();
  process.stdout.write(`Scripts of the public page, gzipped: ${first} KB at first, ${all} KB in all\n`);
  expect(first).toBeLessThanOrEqual(AT_FIRST);
  expect(all).toBeLessThanOrEqual(IN_ALL);
});
