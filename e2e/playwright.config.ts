import { defineConfig } from '@playwright/test';

const LONG = Boolean(process.env.EARLY_SET_TEST_LONG);

/**
 * The real application in Debian's Chromium; one test at a time, since each is a whole task on real files.
 * What takes minutes is in `long`, and run by `npm run test:long`, together with what survives a killed database.
 */
export default defineConfig({
  testDir: '.',
  ...(LONG ? { testMatch: ['long/*.spec.ts', 'survival.spec.ts'] } : { testIgnore: ['long/**'] }),
  outputDir: '../test-results/e2e',
  globalSetup: './setup.ts',
  workers: 1,
  retries: 0,
  timeout: 180_000,
  expect: { timeout: 20_000 },
  reporter: [['list'], ['json']],
  use: {
    viewport: { width: 1280, height: 800 },
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--autoplay-policy=no-user-gesture-required',
      ],
    },
  },
});
