/**
 * `npm run test:long`: what takes minutes: 20,000 odd requests and as many broken files, 100 edits and 100 moves killed
 * midway, the database cut off 125 times, whole servers and the database killed; with the full disks, drives pulled and
 * broken writes of `npm test`, so that all faults are in one run.
 */
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { buildServer, buildWeb } from './lib/build.mjs';
import { jest } from './lib/jest.mjs';
import { countsLine, playwright } from './lib/playwright.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { main, ROOT, say } from './lib/run.mjs';
import { setup } from './lib/setup.mjs';

/** Tests of what goes wrong. */
const FAULTS =
  'fuzz|mutants|[kK]ill|jobs/(queue|badFiles)|db/away|files/(place|overwrite|regular)|changes/(brokenOff|elsewhere|partly)|drives';

const results = join(ROOT, 'test-results');
/** How often what npm test does a few times. */
const OFTEN = {
  EARLY_SET_FUZZ_REQUESTS: '20000',
  EARLY_SET_MUTANTS: '20000',
  EARLY_SET_BAD_FILES: '300',
  EARLY_SET_KILLS: '100',
  EARLY_SET_CUTS: '25',
};

main(async () => {
  await setup({ tests: true });
  mkdirSync(results, { recursive: true });
  const report = join(results, 'long.json'),
    faultsReport = join(results, 'faults.json');
  for (const old of [report, faultsReport]) rmSync(old, { force: true });
  await buildServer();
  await buildWeb();
  const database = await startPostgres(join(ROOT, 'data-test'), { fsync: false });
  say('odd requests, broken files, kills, a database cut off');
  const which = ['--selectProjects', 'api', 'unit', '--testPathPatterns', FAULTS];
  const faults = await jest(faultsReport, database.url, which, OFTEN).finally(() => database.stop());
  const e2e = await playwright(report, { long: true });
  const counts = Object.fromEntries(Object.keys(e2e).map((name) => [name, e2e[name] + faults[name]]));
  console.log(countsLine(counts));
  process.exitCode = counts.failed > 0 ? 1 : 0;
});
