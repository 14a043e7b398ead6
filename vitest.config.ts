import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'core',
          include: ['core/src/**/*.test.ts', 'web/src/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 60_000,
        },
      },
      {
        test: {
          name: 'server',
          include: ['server/src/**/*.test.ts', 'demo/**/*.test.ts'],
          testTimeout: 60_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
