import { defineConfig } from 'vitest/config';

/** Two at a time on two cores: most of them compute. */
const maxWorkers = 2;

export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: {
    projects: [
      // Whole shots are carried in some of them, on machines that may be slow.
      { extends: true, test: { name: 'unit', include: ['core/**/*.test.ts', 'app/**/*.test.ts', 'titles/**/*.test.ts'], testTimeout: 60_000, maxWorkers } },
      {
        extends: true,
        test: {
          name: 'integration',
          include: ['server/**/*.test.ts', 'cli/**/*.test.ts', 'demo/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 180_000,
          hookTimeout: 180_000,
          globalSetup: 'tests/shared-database.ts',
          maxWorkers,
        },
      },
      // All that Peel and tracking are measured by on the demo film: many minutes. A share of it is in the other two.
      { extends: true, test: { name: 'battery', include: ['core/**/*.test.ts', 'demo/**/*.test.ts'], env: { BATTERY: 'whole' }, testTimeout: 600_000 } },
    ],
  },
});
