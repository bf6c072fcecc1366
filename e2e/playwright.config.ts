import { defineConfig } from '@playwright/test';

const LONG = Boolean(process.env.EARLY_SET_TEST_LONG);

/** What has to keep time, or works the machine hard: by itself, when all others are through. */
const ALONE = ['many.spec.ts', 'hearing.spec.ts', 'survival.spec.ts'];

/**
 * The real application in Debian's Chromium; each test is a whole task on real files, on a desk of its worker's own.
 * What takes minutes is in `long`, and run by `npm run test:long`, together with what survives a killed database.
 */
export default defineConfig({
  testDir: '.',
  projects: LONG
    ? [{ name: 'long', testMatch: ['long/*.spec.ts', 'survival.spec.ts'], workers: 1 }]
    : [
        { name: 'tasks', testIgnore: ['long/**', ...ALONE], workers: 2 },
        { name: 'alone', testMatch: ALONE, workers: 1, dependencies: ['tasks'] },
      ],
  outputDir: '../test-results/e2e',
  globalSetup: './setup.ts',
  workers: 2,
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
