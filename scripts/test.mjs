/** `npm test`: set-up, type check, lint, dependency direction, unit, page and API tests, end-to-end tests. */
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { buildServer, buildWeb } from './lib/build.mjs';
import { jest } from './lib/jest.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { countsLine, playwright } from './lib/playwright.mjs';
import { main, ROOT, run, say } from './lib/run.mjs';
import { setup } from './lib/setup.mjs';

const results = join(ROOT, 'test-results');
const PARTS = ['core', 'server', 'web', 'demo', 'standins', 'benchmarks', 'scripts'];
const local = (name) => join(ROOT, 'node_modules', '.bin', name);

main(async () => {
  await setup({ tests: true });
  rmSync(results, { recursive: true, force: true });
  mkdirSync(results, { recursive: true });
  let passed = 0,
    failed = 0,
    skipped = 0;
  /** Each counts as one. Two run side by side. */
  const checks = [
    ['lint', 'eslint', ['.', '--max-warnings', '0']],
    ['types', 'tsc', ['--noEmit']],
    ['form', 'prettier', ['--check', '--log-level', 'warn', '.']],
    ['direction of imports', 'depcruise', ['--config', '.dependency-cruiser.mjs', ...PARTS]],
    ['circles of folders', 'depcruise', ['--config', '.dependency-folders.mjs', ...PARTS]],
  ];
  const checkOn = async () => {
    for (let next = checks.shift(); next; next = checks.shift()) {
      const [what, command, args] = next;
      say(what);
      try {
        await run(local(command), args);
        passed++;
      } catch (error) {
        failed++;
        console.error(`${what}: ${error.message}`);
      }
    }
  };
  await Promise.all([checkOn(), checkOn()]);
  await buildServer();
  await buildWeb();

  const data = join(ROOT, 'data-test');
  const database = await startPostgres(data, { fsync: false });
  try {
    say('unit, page and API tests');
    const counts = await jest(join(results, 'jest.json'), database.url);
    passed += counts.passed;
    skipped += counts.skipped;
    failed += counts.failed;
  } finally {
    database.stop();
  }

  say('end-to-end tests');
  const e2e = await playwright(join(results, 'e2e.json'));
  console.log(countsLine({ passed: passed + e2e.passed, failed: failed + e2e.failed, skipped: skipped + e2e.skipped }));
  process.exitCode = failed + e2e.failed > 0 ? 1 : 0;
});
