import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, run } from './run.mjs';

/** Runs the end-to-end tests, or the long ones; how many passed, failed and were skipped. */
export async function playwright(report, { long = false } = {}) {
  const local = join(ROOT, 'node_modules', '.bin', 'playwright');
  await run(local, ['test', '--config', 'e2e/playwright.config.ts'], {
    env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: report, ...(long ? { EARLY_SET_TEST_LONG: '1' } : {}) },
  }).catch(() => undefined);
  const stats = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')).stats : null;
  return {
    passed: (stats?.expected ?? 0) + (stats?.flaky ?? 0),
    failed: stats ? stats.unexpected : 1,
    skipped: stats?.skipped ?? 0,
  };
}

/** The last line of a test run. */
export const countsLine = ({ passed, failed, skipped }) =>
  `${passed} passed, ${failed} failed${skipped ? `, ${skipped} skipped` : ''}`;
