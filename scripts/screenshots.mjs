// One current picture of each main view, from the sample data, into docs/screenshots/.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startCluster } from './cluster.mjs';
import { chromium as chromiumPath, installed, installPackages, root } from './install.mjs';
import { serveSample } from './serve.mjs';

installPackages();
const executablePath = chromiumPath();
const pdftoppm = installed(
  () => ['/usr/bin/pdftoppm'].find((path) => existsSync(path)),
  'poppler-utils',
  'pdftoppm is missing: install it (Debian: apt-get install poppler-utils), then try again.',
);
const { chromium } = await import('@playwright/test');
const folder = `${root}docs/screenshots`;
mkdirSync(folder, { recursive: true });

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

  /** A card and a list as they come out of a printer, side by side: PDFs, which Poppler makes into pictures. */
  const printed = async (page, stay) => {
    const views = await (await page.request.get(`${office.url}/api/tables/gannet_stays/views`)).json();
    const { columns, filter } = views.views.find((one) => one.label === 'Leaving within a week');
    const { csrf } = await (await page.request.get(`${office.url}/api/session`)).json();
    const order = await page.request.post(`${office.url}/api/tables/gannet_stays/exports`, {
      headers: { 'x-fiche-csrf': csrf },
      data: {
        listing: { columns, filter, group: 'harbour' },
        name: 'Leaving within a week',
        print: { kind: 'list', paper: 'a4', orientation: 'portrait' },
      },
    });
    const files = [
      `/api/tables/gannet_stays/records/${stay}/print?form=gannet_check_in`,
      `/api/tables/gannet_stays/exports/${(await order.json()).id}/file`,
    ];
    const pictures = [];
    for (const [at, file] of files.entries()) {
      const name = join(tmpdir(), `fiche-printed-${process.pid}-${at}`);
      writeFileSync(`${name}.pdf`, await (await page.request.get(`${office.url}${file}`)).body());
      spawnSync(pdftoppm, ['-png', '-r', '90', '-f', '1', '-l', '1', '-singlefile', `${name}.pdf`, name]);
      pictures.push(readFileSync(`${name}.png`).toString('base64'));
      for (const ending of ['pdf', 'png']) rmSync(`${name}.${ending}`);
    }
    const sheet = await browser.newPage({ viewport: { width: 1280, height: 900 } });
    await sheet.setContent(
      `<body style="margin:0;background:#cfd4d4;display:flex;justify-content:center;gap:24px;padding:18px">${pictures
        .map((one) => `<img style="height:864px;box-shadow:0 1px 6px #0005" src="data:image/png;base64,${one}">`)
        .join('')}</body>`,
    );
    await shoot(sheet, 'printed');
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
  await manager.goto(`${office.url}/gannet/tables/gannet_owners/duplicates?by=name:near`);
  await manager
    .getByRole('navigation', { name: /^Groups/ })
    .getByRole('button')
    .click();
  await manager.getByText(/will point to/).waitFor();
  await shoot(manager, 'merge');
  await manager.goto(`${office.url}/gannet/tables/gannet_owners`);
  await manager.getByLabel('View', { exact: true }).selectOption('Lead owners');
  await manager.getByRole('button', { name: 'Export and print' }).click();
  await manager.getByRole('tab', { name: 'Labels' }).click();
  await manager.getByLabel('Saved labels').selectOption('Addresses');
  await manager.getByLabel('Begin at label').fill('4');
  await manager.getByText(/labels on \d+ sheets/).waitFor();
  await manager.getByRole('img', { name: 'The first sheet of labels' }).scrollIntoViewIfNeeded();
  await shoot(manager, 'labels');
  await printed(manager, changed);
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
  await builder.goto(`${office.url}/gannet/tables/gannet_berths`);
  await builder.getByLabel('View', { exact: true }).selectOption('Berths of one harbour');
  await builder.getByRole('columnheader', { name: 'Number of Stays' }).waitFor();
  for (const berth of ['A-2', 'A-3', 'A-5'])
    await builder
      .getByRole('checkbox', { name: `Select ${berth}`, exact: true })
      .first()
      .click();
  await builder.getByRole('button', { name: 'Change fields' }).click();
  await builder.getByLabel('Which field changes?').fill('Longest');
  await builder.keyboard.press('Enter');
  await builder.getByRole('group', { name: 'Longest vessel' }).getByRole('textbox').fill('16');
  await builder.getByRole('complementary').getByRole('button', { name: 'Check' }).click();
  await builder.getByRole('region', { name: 'What the check found' }).waitFor();
  await shoot(builder, 'change-many');
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
