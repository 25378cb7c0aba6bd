import { defineConfig } from '@playwright/test';

/** Debian's Chromium; the extra switches keep it from calling out. */
export const CHROMIUM = {
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-quic',
    '--no-first-run',
  ],
};

export default defineConfig({
  testDir: 'e2e',
  outputDir: 'test-results',
  workers: 2,
  // What hangs ends here; how long a test takes on a loaded machine decides nothing.
  timeout: 300_000,
  // A test that passes the second time tells of a fault all the same.
  retries: 0,
  // As above: what is looked for comes, or it does not.
  expect: { timeout: 60_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
  globalSetup: './e2e/global-setup.ts',
  use: { viewport: { width: 1280, height: 800 }, launchOptions: CHROMIUM, trace: 'off', actionTimeout: 30_000 },
});
