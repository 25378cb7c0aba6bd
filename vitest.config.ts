import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { tsconfigPaths: true },
  test: {
    projects: [
      { extends: true, test: { name: 'unit', include: ['core/**/*.test.ts', 'app/**/*.test.ts'] } },
      {
        extends: true,
        test: {
          name: 'integration',
          include: ['server/**/*.test.ts', 'cli/**/*.test.ts', 'demo/**/*.test.ts', 'scripts/**/*.test.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
          fileParallelism: false,
        },
      },
    ],
  },
});
