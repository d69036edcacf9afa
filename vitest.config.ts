import { availableParallelism } from 'node:os';
import { defineConfig } from 'vitest/config';

/** A test asks what happens and not how soon: machines differ by six to one, and what hangs is told all the same. */
const patience = { testTimeout: 180_000, hookTimeout: 180_000, expect: { poll: { timeout: 60_000 } } };

/** Vitest leaves one processor to itself, which on two of them is half of the machine. */
const everyProcessor = { maxWorkers: availableParallelism() };

/**
 * Pure code by itself; what needs a database against one real MariaDB; products that are started and maltreated; journeys in a
 * browser against the real start command, as a person would be.
 */
export default defineConfig({
  test: {
    reporters: ['default'],
    projects: [
      {
        test: {
          name: 'unit',
          sequence: { groupOrder: 0 },
          include: ['{core,web,cli,demo,collector}/src/**/*.test.{ts,tsx}', 'scripts/*.test.ts'],
          ...everyProcessor,
          ...patience,
        },
      },
      {
        test: {
          name: 'database',
          sequence: { groupOrder: 1 },
          include: ['{store,server}/src/**/*.test.ts'],
          globalSetup: ['scripts/testing/mariadb-setup.ts'],
          ...everyProcessor,
          ...patience,
        },
      },
      {
        test: {
          name: 'faults',
          sequence: { groupOrder: 1 },
          include: ['scripts/faults/*.test.ts'],
          ...everyProcessor,
          ...patience,
        },
      },
      {
        test: {
          name: 'journeys',
          sequence: { groupOrder: 2 },
          include: ['web/e2e/**/*.test.ts', 'scripts/commands/*.test.ts'],
          globalSetup: ['web/e2e/testing/server-setup.ts'],
          // Each worker has a product of its own, for some read what others have just changed.
          maxWorkers: Math.min(2, availableParallelism()),
          ...patience,
        },
      },
    ],
  },
});
