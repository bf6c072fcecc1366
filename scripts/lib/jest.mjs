import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ROOT, run } from './run.mjs';

const QUIET = { EARLY_SET_LOG: 'silent' };
const TEMPLATE = 'early_set_template';

/** A database as the application makes it at its first start: copying it takes a tenth of the time of making it. */
async function makeTemplate(databaseUrl) {
  const { default: pg } = await import('pg');
  const admin = new pg.Client({ connectionString: databaseUrl });
  await admin.connect();
  await admin.query(`DROP DATABASE IF EXISTS ${TEMPLATE}`);
  await admin.query(`CREATE DATABASE ${TEMPLATE}`);
  await admin.end();
  const folder = mkdtempSync(join(tmpdir(), 'early-set-template-'));
  const { start } = await import(join(ROOT, 'dist/server/main.mjs'));
  const server = await start({
    ...{ databaseUrl: databaseUrl.replace(/\/[^/]*$/, `/${TEMPLATE}`), dataFolder: folder, webFolder: null, port: 0 },
    ...{ demoRoot: null, threads: 1, compare: false },
  });
  await server.stop();
  rmSync(folder, { recursive: true, force: true });
  return TEMPLATE;
}

/**
 * Runs Jest on a database.
 * @param report where its JSON goes
 * @param args which tests; all when there are none
 * @returns how many passed, failed and were skipped
 */
export async function jest(report, databaseUrl, args = [], env = {}) {
  const template = await makeTemplate(databaseUrl);
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
    {
      env: {
        ...process.env,
        EARLY_SET_TEST_DATABASE_URL: databaseUrl,
        EARLY_SET_TEST_TEMPLATE: template,
        ...QUIET,
        ...env,
      },
    },
  ).catch(() => undefined);
  const said = existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null;
  return {
    passed: said?.numPassedTests ?? 0,
    failed: said ? said.numFailedTests + said.numRuntimeErrorTestSuites : 1,
    skipped: said?.numPendingTests ?? 0,
  };
}
