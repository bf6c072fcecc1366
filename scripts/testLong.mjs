/** `npm run test:long`: what takes minutes: whole servers and databases killed, 20,000 odd requests. */
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { buildServer, buildWeb } from './lib/build.mjs';
import { jest } from './lib/jest.mjs';
import { countsLine, playwright } from './lib/playwright.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { main, ROOT, say } from './lib/run.mjs';
import { setup } from './lib/setup.mjs';

const results = join(ROOT, 'test-results');
const FUZZ_REQUESTS = '20000';

main(async () => {
  await setup({ tests: true });
  mkdirSync(results, { recursive: true });
  const report = join(results, 'long.json'),
    fuzzReport = join(results, 'fuzz.json');
  for (const old of [report, fuzzReport]) rmSync(old, { force: true });
  await buildServer();
  await buildWeb();
  const database = await startPostgres(join(ROOT, 'data-test'), { fsync: false });
  say('odd requests');
  const fuzz = await jest(fuzzReport, database.url, ['--selectProjects', 'api', '--testPathPatterns', 'fuzz'], {
    EARLY_SET_FUZZ_REQUESTS: FUZZ_REQUESTS,
  }).finally(() => database.stop());
  const e2e = await playwright(report, { long: true });
  const counts = Object.fromEntries(Object.keys(e2e).map((name) => [name, e2e[name] + fuzz[name]]));
  console.log(countsLine(counts));
  process.exitCode = counts.failed > 0 ? 1 : 0;
});
