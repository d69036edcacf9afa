import { defineConfig } from 'vitest/config';

/** Pure code by itself; what needs a database against one real MariaDB; journeys in a browser against the real start command. */
export default defineConfig({
  test: {
    reporters: ['default'],
    projects: [
      {
        test: {
          name: 'unit',
          include: ['{core,web,cli,demo}/src/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 30_000,
        },
      },
      {
        test: {
          name: 'database',
          include: ['{store,server}/src/**/*.test.ts'],
          globalSetup: ['scripts/testing/mariadb-setup.ts'],
          testTimeout: 30_000,
          hookTimeout: 60_000,
        },
      },
      {
        test: {
          name: 'journeys',
          include: ['web/e2e/**/*.test.ts'],
          globalSetup: ['web/e2e/testing/server-setup.ts'],
          fileParallelism: false,
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
});
