import { defineConfig } from 'vitest/config';

/** A seal, and what is told of views, waits for every transaction of the cluster, those of other tests included. */
const ALONE = [
  'server/src/history/verify.test.ts',
  'server/src/history/ledgerFile.test.ts',
  'server/src/history/mailReceipts.test.ts',
  'server/src/messages/viewWatching.test.ts',
  'server/src/database/migrations/*.test.ts',
];

/** How long what comes by itself is waited for, and a test may take: a busy machine takes its time. */
const expecting = { poll: { timeout: 20_000 } };

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          // Computation without a state of its own: the files share what they import, which takes a third of the time.
          isolate: false,
          include: ['core/src/**/*.test.ts', 'web/src/**/*.test.ts', 'scripts/**/*.test.ts'],
          setupFiles: ['./core/src/fixtures/loadPatterns.ts'],
          testTimeout: 180_000,
          expect: expecting,
        },
      },
      {
        test: {
          name: 'server',
          // Each file has a database of its own: they share what they import, which takes a tenth of the time.
          isolate: false,
          include: ['server/src/**/*.test.ts', 'demo/**/*.test.ts'],
          exclude: ALONE,
          setupFiles: ['./core/src/fixtures/loadPatterns.ts'],
          testTimeout: 180_000,
          expect: expecting,
          hookTimeout: 300_000,
          maxWorkers: 2,
          sequence: { groupOrder: 1 },
        },
      },
      {
        test: {
          name: 'server, alone',
          include: ALONE,
          setupFiles: ['./core/src/fixtures/loadPatterns.ts'],
          testTimeout: 180_000,
          expect: expecting,
          hookTimeout: 300_000,
          isolate: false,
          fileParallelism: false,
          sequence: { groupOrder: 2 },
        },
      },
    ],
  },
});
