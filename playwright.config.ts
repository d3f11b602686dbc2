import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: 'e2e',
  outputDir: 'test-results/browser',
  timeout: 180_000,
  expect: { timeout: 30_000 },
  fullyParallel: false,
  workers: 2,
  maxFailures: process.env['CI'] ? 0 : 12,
  forbidOnly: process.env['CI'] !== undefined,
  use: {
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
    trace: 'off',
    actionTimeout: 30_000,
    launchOptions: {
      // As on most machines, scroll bars take their place.
      ignoreDefaultArgs: ['--hide-scrollbars'],
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
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
  projects: [
    { name: 'browser', testMatch: /.*\.spec\.ts/ },
    { name: 'screenshots', testMatch: /screenshots\.ts/ },
    { name: 'bench', testDir: 'bench', testMatch: /browser\.ts/ },
  ],
});
