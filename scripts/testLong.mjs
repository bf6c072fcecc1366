/** `npm run test:long`: what takes minutes, whole servers killed among it. */
import { mkdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { buildServer, buildWeb } from './lib/build.mjs';
import { countsLine, playwright } from './lib/playwright.mjs';
import { main, ROOT } from './lib/run.mjs';
import { setup } from './lib/setup.mjs';

const results = join(ROOT, 'test-results');

main(async () => {
  await setup({ tests: true });
  mkdirSync(results, { recursive: true });
  const report = join(results, 'long.json');
  rmSync(report, { force: true });
  await buildServer();
  await buildWeb();
  const counts = await playwright(report, { long: true });
  console.log(countsLine(counts));
  process.exitCode = counts.failed > 0 ? 1 : 0;
});
