import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, run } from './run.mjs';

/**
 * Runs the end-to-end tests, or the long ones; how many passed, failed and were skipped.
 * @param folder where its JSON goes
 */
export async function playwright(folder, { long = false } = {}) {
  const local = join(ROOT, 'node_modules', '.bin', 'playwright');
  const counts = { passed: 0, failed: 0, skipped: 0 };
  const parts = long ? [['long']] : [['first', 'side by side'], ['alone']];
  for (const projects of parts) {
    const name = `e2e-${projects.at(-1).replaceAll(' ', '-')}`,
      report = join(folder, `${name}.json`);
    rmSync(report, { force: true });
    const chosen = projects.flatMap((name) => ['--project', name]);
    const workers = projects.includes('alone') ? ['--workers', '1'] : [];
    const args = [
      'test',
      '--config',
      'e2e/playwright.config.ts',
      '--output',
      join(folder, name),
      ...chosen,
      ...workers,
    ];
    await run(local, args, {
      env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_NAME: report, ...(long ? { EARLY_SET_TEST_LONG: '1' } : {}) },
    }).catch(() => undefined);
    const stats = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')).stats : null;
    counts.passed += (stats?.expected ?? 0) + (stats?.flaky ?? 0);
    counts.failed += stats ? stats.unexpected : 1;
    counts.skipped += stats?.skipped ?? 0;
  }
  return counts;
}

/** The last line of a test run. */
export const countsLine = ({ passed, failed, skipped }) =>
  `${passed} passed, ${failed} failed${skipped ? `, ${skipped} skipped` : ''}`;
