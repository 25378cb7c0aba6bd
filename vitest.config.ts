import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: {
    projects: [
      // Whole shots are carried in some of them, on machines that may be slow.
      { extends: true, test: { name: 'unit', include: ['core/**/*.test.ts', 'app/**/*.test.ts', 'titles/**/*.test.ts'], testTimeout: 30_000 } },
      {
        extends: true,
        test: {
          name: 'integration',
          include: ['server/**/*.test.ts', 'cli/**/*.test.ts', 'demo/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          globalSetup: 'tests/built.ts',
          fileParallelism: false,
        },
      },
    ],
  },
});
