import { spawnSync } from 'node:child_process';
import { viewDefinitionSchema } from '@fiche/core/views';
import { asActor } from '@fiche/server/database/index';
import { addView } from '@fiche/server/views/index';
import { type CDPSession, chromium, type Page } from '@playwright/test';
import { fillBerths, openBenchOffice, p95, type Ratio } from './office.ts';
import { portOf, startServer, stopServer } from './serving.ts';

const BERTHS = 420;
const STAYS_A_BERTH = 12;
const FRAMES = 150;
/** A turn of the wheel for each frame, in px: about two lanes. */
const WHEEL = 60;
const SCRIPT_MS = 8;
const TASK_MS = 50;

const actor = { name: 'harbourmaster', through: { kind: 'seed', label: 'bench' } } as const;

/** The scripting that a page has done so far, in ms. */
async function scripted(devtools: CDPSession): Promise<number> {
  const { metrics } = await devtools.send('Performance.getMetrics');
  return (metrics.find((one) => one.name === 'ScriptDuration')?.value ?? 0) * 1_000;
}

/** Scrolls the lanes down and up again, a frame at a time; gives the scripting of each frame and the longest task. */
async function scroll(page: Page): Promise<{ scripts: number[]; longest: number }> {
  const devtools = await page.context().newCDPSession(page);
  await devtools.send('Performance.enable');
  await page.evaluate(() => {
    const seen = window as unknown as { longest: number };
    seen.longest = 0;
    new PerformanceObserver((list) => {
      for (const one of list.getEntries()) seen.longest = Math.max(seen.longest, one.duration);
    }).observe({ type: 'longtask' });
  });
  const box = await page.getByRole('grid').boundingBox();
  await page.mouse.move((box?.x ?? 0) + 500, (box?.y ?? 0) + 200);
  const scripts: number[] = [];
  for (let frame = 0; frame < FRAMES; frame++) {
    const before = await scripted(devtools);
    await page.mouse.wheel(0, frame < FRAMES / 2 ? WHEEL : -WHEEL);
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    scripts.push((await scripted(devtools)) - before);
  }
  return { scripts, longest: await page.evaluate(() => (window as unknown as { longest: number }).longest) };
}

/** Lanes of 420 berths with their stays of a year, scrolled in Chromium: the scripting of a frame, and the longest task. */
export async function scrollingBench(): Promise<Ratio[]> {
  spawnSync(process.execPath, ['../node_modules/vite/bin/vite.js', 'build', '--logLevel', 'error'], { cwd: 'web' });
  const office = await openBenchOffice();
  await fillBerths(office.databases, 20, BERTHS);
  const view = await asActor(office.databases.owner, actor, async (owner) => {
    await owner.raw(
      `INSERT INTO data.quay_stays (berth, registration, arrival, departure)
       SELECT b, 'GS-' || b * 100 + n, date_trunc('day', now()::timestamp) + (n * 30 - 180 + b % 20) * interval '1 day' + interval '12 hours',
         date_trunc('day', now()::timestamp) + (n * 30 - 168 + b % 25) * interval '1 day'
       FROM generate_series(1, ${BERTHS}) b, generate_series(1, ${STAYS_A_BERTH}) n`,
    );
    const lanes = { start: 'arrival', end: 'departure', lane: 'berth', label: 'registration', span: 'year' };
    const definition = viewDefinitionSchema.parse({
      label: 'Lanes',
      columns: [{ path: 'number' }],
      shared: true,
      opens: true,
      shown: { as: 'lanes', lanes },
    });
    return addView(owner, 'quay_stays', 'harbourmaster', definition);
  });
  const server = startServer(office.ownerUrl);
  const browser = await chromium.launch({
    executablePath: process.env.FICHE_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
  });
  try {
    const address = `http://127.0.0.1:${await portOf(server)}`;
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.request.post(`${address}/api/session`, { data: { login: 'harbourmaster', password: 'bench-password' } });
    await page.goto(`${address}/quay/tables/quay_stays?view=${view}`);
    await page.getByRole('gridcell').getByRole('button').first().waitFor();
    // The first time lets the browser compile what it runs.
    await scroll(page);
    const { scripts, longest } = await scroll(page);
    const script = p95(scripts);
    return [
      {
        what: 'lanes of 420 berths: scripting of a frame, p95',
        ratio: script / SCRIPT_MS,
        aim: '≤ 1',
        detail: `${script.toFixed(1)} of ${SCRIPT_MS} ms; ${BERTHS * STAYS_A_BERTH} stays of a year`,
      },
      {
        what: 'the same: the longest task',
        ratio: longest / TASK_MS,
        aim: '≤ 1',
        detail: longest === 0 ? `none over ${TASK_MS} ms` : `${longest.toFixed(0)} of ${TASK_MS} ms`,
      },
    ];
  } finally {
    await browser.close();
    await stopServer(server);
    await office.close();
  }
}
