import { defineConfig } from '@playwright/test';

/** The offices that run, one for each worker: the tests in one office follow one another like the people in it. */
const offices = (process.env.FICHE_URL ?? 'http://127.0.0.1:4600').split(' ');

export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  workers: offices.length,
  fullyParallel: false,
  timeout: 300_000,
  expect: { timeout: 30_000 },
  reporter: [['list'], ['json', { outputFile: process.env.FICHE_E2E_REPORT ?? '/tmp/fiche-e2e.json' }]],
  outputDir: process.env.FICHE_E2E_OUTPUT ?? '../test-results',
  use: {
    baseURL: offices[Number(process.env.TEST_PARALLEL_INDEX ?? 0)],
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
    trace: process.env.FICHE_TRACE ? 'retain-on-failure' : 'off',
    launchOptions: {
      executablePath: process.env.FICHE_CHROMIUM ?? '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
