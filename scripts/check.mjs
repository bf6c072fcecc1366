/** `npm run check`: says what is wrong with this installation, in sentences; ends with 1 when something is. */
import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { buildServer } from './lib/build.mjs';
import { runningAddress } from './lib/claim.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { main, ROOT, SetupError } from './lib/run.mjs';
import { dataFolder, setup } from './lib/setup.mjs';

let cleanUp = () => {};

main(
  async () => {
    await setup();
    await buildServer();
    const folder = dataFolder();
    const isNew = !existsSync(folder);
    mkdirSync(folder, { recursive: true });
    const address = runningAddress(folder);
    const { checkAll, inLines } = await import(join(ROOT, 'dist/server/checkCommand.mjs'));
    let database = null;
    let refused = null;
    if (!isNew)
      try {
        database = await startPostgres(folder);
        // One that somebody works on goes on.
        if (!address) cleanUp = () => database.stop();
      } catch (error) {
        if (!(error instanceof SetupError)) throw error;
        refused = { about: 'Database', trouble: `${error.message} npm run restore shows the backups.`, note: '' };
      }
    const findings = [...(await checkAll(database?.url ?? null, folder)), ...(refused ? [refused] : [])];
    console.log(inLines(findings).join('\n'));
    console.log(address ? `\nEarly Set runs at ${address}.` : '\nEarly Set is not running.');
    cleanUp();
    process.exit(findings.some(({ trouble }) => trouble !== null) ? 1 : 0);
  },
  () => cleanUp(),
);
