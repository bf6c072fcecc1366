import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, run } from './run.mjs';

/**
 * Runs Jest on a database.
 * @param report where its JSON goes
 * @param args which tests; all when there are none
 * @returns how many passed, failed and were skipped
 */
export async function jest(report, databaseUrl, args = [], env = {}) {
  await run(
    process.execPath,
    [
      '--experimental-vm-modules',
      '--no-warnings',
      join(ROOT, 'node_modules/jest/bin/jest.js'),
      '--json',
      `--outputFile=${report}`,
      ...args,
    ],
    { env: { ...process.env, EARLY_SET_TEST_DATABASE_URL: databaseUrl, EARLY_SET_LOG: 'silent', ...env } },
  ).catch(() => undefined);
  const said = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null;
  return {
    passed: said?.numPassedTests ?? 0,
    failed: said ? said.numFailedTests + said.numRuntimeErrorTestSuites : 1,
    skipped: said?.numPendingTests ?? 0,
  };
}
