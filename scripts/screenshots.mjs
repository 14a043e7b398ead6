// One current picture of each main view, from the sample data, into docs/screenshots/.
import { mkdirSync } from 'node:fs';
import { ensureDatabase, startCluster } from './cluster.mjs';
import { chromium as chromiumPath, installPackages, root } from './install.mjs';
import { query } from './query.mjs';
import { serveSample } from './serve.mjs';

installPackages();
const executablePath = chromiumPath();
const { chromium } = await import('@playwright/test');
const folder = `${root}docs/screenshots`;
mkdirSync(folder, { recursive: true });

/** What the page of operation shows of backups: as `npm run backup` notes them. */
const SHOWN_BACKUPS = `INSERT INTO fiche.backup (begun_at, ended_at, kind, state, place, bytes, encrypted, verified_at)
  SELECT at, at + interval '2 minutes', 'base', 'done', '/var/backups/fiche/' || to_char(at, 'YYYY-MM-DD"T"HH24.MI.SS"Z"') || '-base', 15900000 + n * 90000, true, CASE WHEN n = 3 THEN at + interval '4 minutes' END
  FROM generate_series(1, 3) n, LATERAL (SELECT date_trunc('day', now()) - (3 - n) * interval '1 day' + interval '2 hours 30 minutes' AS at) moment`;

const cluster = await startCluster({ throwaway: true });
let office;
let browser;
try {
  office = await serveSample(cluster, 'office');
  browser = await chromium.launch({
    executablePath,
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
  });

  /** Opens the application as `login`, or as nobody. */
  const open = async (login, { width = 1280, height = 800, colorScheme = 'light' } = {}) => {
    const hand = width < 500;
    const page = await browser.newPage({ viewport: { width, height }, colorScheme, hasTouch: hand, isMobile: hand });
    await page.goto(office.url);
    if (login) {
      await page.getByRole('button', { name: login, exact: true }).click();
      await page.getByRole('navigation', { name: 'Cabinet' }).waitFor();
    }
    return page;
  };
  const shoot = async (page, name) => {
    // An open card listens as long as it is open: the network is never idle.
    await page.evaluate(() => document.fonts.ready);
    await page.waitForTimeout(700);
    await page.screenshot({ path: `${folder}/${name}.png` });
    process.stdout.write(`${name}.png\n`);
  };
  const choose = async (page, label, option) => {
    await page.getByRole('combobox', { name: label }).click();
    await page
      .getByRole('option')
      .filter({ has: page.getByText(option, { exact: true }) })
      .first()
      .click();
  };

  /** Four charts of the sample, each as it stands on its page, beside one another. */
  const charts = async (page) => {
    const settings = page.getByRole('complementary', { name: 'Chart' });
    const pick = async (label, option) => {
      await settings.getByLabel(label, { exact: true }).fill(option);
      await page.getByRole('option', { name: option, exact: true }).click();
    };
    const pictures = [];
    const take = async (words) => {
      const chart = page.getByRole('region', { name: words });
      await chart.getByText(words).waitFor();
      await page.waitForTimeout(500);
      const { x, y, width } = await chart.boundingBox();
      const clip = { x, y, width, height: 376 };
      pictures.push((await page.screenshot({ clip })).toString('base64'));
    };
    const show = async (path) => {
      await page.goto(`${office.url}${path}?view=none`);
      await page.getByRole('button', { name: 'Chart', exact: true }).click();
      await page.getByRole('button', { name: 'Chart settings' }).click();
    };
    await show('/gannet/tables/gannet_stays');
    await settings.getByLabel('One bar for each').selectOption('month');
    await pick('Divide the bars by', 'Harbour');
    await take('Number of Stays a month, by Arrival, divided by Harbour');
    await settings.getByLabel('What the chart shows').selectOption('categories');
    await pick('One bar for each', 'Harbour');
    await pick('Divide the bars by', 'Waived');
    await settings.getByLabel('Length of the bars').selectOption('sum');
    await pick('Number', 'Dues');
    await take('Sum of Dues by Harbour, divided by Waived');
    await show('/gannet/tables/gannet_fault_reports');
    await settings.getByLabel('What the chart shows').selectOption('categories');
    await pick('One bar for each', 'Part');
    await take('Number of Fault reports by Part');
    await show('/gannet/tables/gannet_vessels');
    await settings.getByLabel('What the chart shows').selectOption('points');
    await pick('Horizontal axis', 'Length');
    await pick('Vertical axis', 'Draught');
    await take('Draught against Length');
    const sheet = await browser.newPage({ viewport: { width: 1280, height: 640 } });
    await sheet.setContent(
      `<body style="margin:0;background:#f4f2ec;display:grid;grid-template-columns:1fr 1fr;gap:16px;padding:16px;align-items:start">${pictures
        .map((one) => `<img style="width:100%" src="data:image/png;base64,${one}">`)
        .join('')}</body>`,
    );
    await shoot(sheet, 'charts');
  };

  const clerk = await open('quayclerk');
  await clerk.getByRole('link', { name: 'New: Check-in' }).waitFor();
  await shoot(clerk, 'home');
  const changed = await clerk.evaluate(async () => {
    const { records } = await (await fetch('/api/tables/gannet_stays/records?search=Storm&limit=1')).json();
    return records[0].id;
  });
  // A clerk reads the histories of their own records only.
  const manager = await open('harbourmaster');
  await manager.goto(`${office.url}/gannet/forms/gannet_check_in/${changed}`);
  await manager.getByRole('region', { name: 'Services used' }).waitFor();
  await manager.keyboard.press('Alt+h');
  await manager.getByText('Record added').first().waitFor();
  await shoot(manager, 'check-in-history');
  await manager.getByRole('link', { name: 'As it stood then' }).last().click();
  await manager.getByRole('button', { name: 'Compare with today' }).click();
  await manager.getByText('became').first().waitFor({ state: 'attached' });
  await shoot(manager, 'past');
  await manager.goto(`${office.url}/gannet/tables/gannet_stays?ripples`);
  await manager.getByText('add a line to').first().waitFor();
  await shoot(manager, 'ripple');
  await query(ensureDatabase(cluster, 'office'), SHOWN_BACKUPS);
  await manager.goto(`${office.url}/gannet/settings/operation`);
  await manager.getByRole('table', { name: 'The last backups' }).waitFor();
  await shoot(manager, 'operation');
  await charts(manager);
  await manager.goto(`${office.url}/gannet/tables/gannet_stays?view=none`);
  await manager.getByLabel('View', { exact: true }).selectOption('Berths and stays');
  await manager.getByRole('grid').waitFor();
  await manager.getByRole('button', { name: 'Month', exact: true }).click();
  await manager.getByRole('button', { name: 'Earlier', exact: true }).click();
  await manager.getByRole('button', { name: 'Find free Berths' }).click();
  await manager.getByText(/^\d+ free$/).waitFor();
  await shoot(manager, 'lanes');
  await manager.goto(`${office.url}/gannet/tables/gannet_stays?view=none`);
  await manager.getByLabel('View', { exact: true }).selectOption('Arrivals by day');
  await manager.getByRole('region', { name: 'Stays by Arrival' }).waitFor();
  await shoot(manager, 'calendar');
  await clerk.goto(`${office.url}/gannet/forms/gannet_check_in/new`);
  await choose(clerk, /^Harbour/, 'Tern Cove');
  await choose(clerk, /^Pontoon/, 'B');
  await clerk.getByLabel(/^Registration/).fill('GS-0548');
  await clerk.keyboard.press('Tab');
  await clerk
    .getByRole('img', { name: /^Filled by Registration/ })
    .first()
    .waitFor();
  await clerk.getByRole('combobox', { name: /^Berth/ }).click();
  await clerk.getByRole('option').first().waitFor();
  await shoot(clerk, 'check-in');
  await clerk.keyboard.press('Enter');
  await clerk.getByLabel(/^Arrival/).fill('17 Nov 2030 15:30');
  await clerk.getByLabel(/^Departure/).fill('19 Nov 2030 10:00');
  await clerk.getByRole('region', { name: 'Reasons' }).waitFor();
  await clerk.getByRole('combobox', { name: /^Berth/ }).focus();
  await clerk.keyboard.press('Alt+w');
  await clerk.getByText('this form’s Pontoon:').waitFor();
  await shoot(clerk, 'why');
  await clerk.goto(`${office.url}/gannet/tables/gannet_stays`);
  await clerk.getByLabel('View', { exact: true }).selectOption('Leaving within a week');
  await clerk.getByText('Show Stays whose').waitFor();
  await clerk.getByRole('gridcell', { name: /^sum / }).waitFor();
  await clerk.getByRole('button', { name: 'Columns, groups and sorting' }).click();
  await clerk.getByLabel('Records with the same value stand together').selectOption('by Harbour');
  await clerk.getByRole('complementary').getByRole('button', { name: 'Close' }).click();
  await clerk.getByText(/^Gannet Quay · /).waitFor();
  await shoot(clerk, 'records');

  const builder = await open('harbourmaster');
  await builder.goto(`${office.url}/gannet/forms/gannet_check_in/edit`);
  await builder
    .getByRole('button', { name: /^Berth/ })
    .first()
    .click();
  await shoot(builder, 'form-editor');
  await builder.goto(`${office.url}/gannet/forms/gannet_arrival_notice/edit`);
  await builder.getByRole('button', { name: 'Form settings' }).click();
  await builder.getByRole('region', { name: 'Also writes to' }).evaluate((one) => one.scrollIntoView());
  await shoot(builder, 'destinations');
  await builder.goto(`${office.url}/gannet/tables/gannet_stays?fields`);
  await builder.getByRole('button', { name: 'Add field' }).first().waitFor();
  await shoot(builder, 'fields');
  await builder.goto(`${office.url}/gannet/forms/gannet_report_a_fault/page`);
  await builder.getByLabel('Style', { exact: true }).selectOption('slate');
  await builder.getByRole('region', { name: 'Preview' }).getByRole('button', { name: 'Send' }).waitFor();
  await builder.getByLabel('Who may open it').selectOption('code');
  await builder.getByRole('region', { name: 'Who, when, how many' }).evaluate((one) => one.scrollIntoView());
  await shoot(builder, 'page-settings');
  await builder.goto(`${office.url}/gannet/imports/new`);
  await builder.getByLabel('Choose a file').setInputFiles(`${root}demo/files/winter-berths.csv`);
  await builder.getByRole('button', { name: 'Check every row' }).click();
  await builder.getByText('rows checked').waitFor();
  await shoot(builder, 'import');
  await builder.goto(`${office.url}/gannet/people/roles/night_clerk`);
  await builder.getByText('See Stays whose').waitFor();
  await shoot(builder, 'role');

  const auditor = await open('auditor', { colorScheme: 'dark' });
  await auditor.getByRole('link', { name: 'Ledger' }).click();
  await auditor.getByRole('row').nth(9).waitFor();
  await auditor.getByRole('button', { name: 'Verify the ledger' }).click();
  await auditor.getByText(/No tampering found/).waitFor();
  await auditor.getByRole('button', { name: 'Timeline and what stands out' }).click();
  await auditor.getByRole('heading', { name: 'What stands out' }).waitFor();
  await shoot(auditor, 'ledger-dark');

  const nobody = await open(undefined, { width: 390, height: 844 });
  await nobody.goto(`${office.url}/p/arrival-notice`);
  await nobody.getByLabel(/^Your name/).fill('Runa Skog');
  await choose(nobody, /^You are/, 'Person');
  await nobody.getByLabel(/^E-mail/).fill('runa@skog.example');
  await nobody.getByRole('button', { name: 'Next' }).click();
  await nobody.getByText('Step 2 of 4').waitFor();
  await nobody.getByLabel(/^Registration/).fill('GS-7001');
  await shoot(nobody, 'public-steps');
} finally {
  await browser?.close();
  await office?.stop();
  cluster.stop();
}
