/** `npm run reset`: makes the data folder new, after asking. Music outside it is not touched. */
import { existsSync, rmSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { startPostgres } from './lib/postgres.mjs';
import { ask } from './lib/ask.mjs';
import { runningAddress } from './lib/claim.mjs';
import { main, SetupError } from './lib/run.mjs';
import { dataFolder } from './lib/setup.mjs';

main(async () => {
  const folder = dataFolder();
  if (!existsSync(folder)) return console.log('There is no data folder yet; nothing to do.');
  const address = runningAddress(folder);
  if (address) throw new SetupError(`Early Set is running at ${address}. Stop it first (Ctrl-C).`);
  const answer = parseArgs({ options: { yes: { type: 'boolean' } } }).values.yes
    ? 'yes'
    : await ask(
        `This deletes the library, its history, its backups and the demo music in ${folder}. Your own music stays. Type yes to go on: `,
      );
  if (answer.trim() !== 'yes') return console.log('Nothing was deleted.');
  const database = await startPostgres(folder);
  database.stop();
  rmSync(database.folder, { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
  console.log('The data folder is gone; the next start makes a new one.');
});
