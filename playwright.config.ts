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
  timeout: 60_000,
  expect: { timeout: 8_000 },
  reporter: [['list'], ['json', { outputFile: 'test-results/e2e.json' }]],
  globalSetup: './e2e/global-setup.ts',
  use: { viewport: { width: 1280, height: 800 }, launchOptions: CHROMIUM, trace: 'off', actionTimeout: 10_000 },
});
