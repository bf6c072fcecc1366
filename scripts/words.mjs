/** `npm run words`: gathers the words of all screens, menus and dialogs into docs/WORDS.md. */
import { join } from 'node:path';
import { buildServer, buildWeb } from './lib/build.mjs';
import { main, ROOT, run } from './lib/run.mjs';
import { setup } from './lib/setup.mjs';

main(async () => {
  await setup({ tests: true });
  await buildServer();
  await buildWeb();
  await run(join(ROOT, 'node_modules/.bin/playwright'), ['test', '--config', 'e2e/playwright.config.ts', 'words'], {
    env: { ...process.env, EARLY_SET_WORDS: '1', PLAYWRIGHT_JSON_OUTPUT_NAME: join(ROOT, 'test-results/words.json') },
  });
});
