import { defineConfig } from '@playwright/test';

const LONG = Boolean(process.env.EARLY_SET_TEST_LONG);

/** What listens to sound as it is played, or asks much of a processor, has the machine to itself. */
const ALONE = ['hearing.spec.ts', 'many.spec.ts'];
/** What takes longest begins first, so that nothing is waited for at the end. */
const FIRST = ['words.spec.ts'];

/**
 * The real application in Debian's Chromium; two files side by side, each with a desk of its own, and the tests of a
 * file one after the other. What takes minutes is in `long`, and run by `npm run test:long`, together with what
 * survives a killed database.
 */
export default defineConfig({
  testDir: '.',
  projects: LONG
    ? [{ name: 'long', testMatch: ['long/*.spec.ts', 'survival.spec.ts'] }]
    : [
        { name: 'first', testMatch: FIRST },
        { name: 'side by side', testIgnore: ['long/**', ...FIRST, ...ALONE] },
        { name: 'alone', testMatch: ALONE },
      ],
  outputDir: '../test-results/e2e',
  globalSetup: './setup.ts',
  workers: LONG ? 1 : 2,
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
