/** `npm run reset`: makes the data folder new, after asking. Music outside it is not touched. */
import { existsSync, rmSync } from 'node:fs';
import { createInterface } from 'node:readline/promises';
import { parseArgs } from 'node:util';
import { startPostgres } from './lib/postgres.mjs';
import { runningAddress } from './lib/claim.mjs';
import { main, SetupError } from './lib/run.mjs';
import { dataFolder } from './lib/setup.mjs';

/** Asks on the terminal; no input at all counts as no. */
async function ask(question) {
  const lines = createInterface({ input: process.stdin, output: process.stdout });
  const closed = new Promise((resolve) => lines.once('close', () => resolve('')));
  const answer = await Promise.race([lines.question(question), closed]);
  lines.close();
  return answer;
}

main(async () => {
  const folder = dataFolder();
  if (!existsSync(folder)) return console.log('There is no data folder yet; nothing to do.');
  const address = runningAddress(folder);
  if (address) throw new SetupError(`Early Set is running at ${address}. Stop it first (Ctrl-C).`);
  const answer = parseArgs({ options: { yes: { type: 'boolean' } } }).values.yes
    ? 'yes'
    : await ask(
        `This deletes the library, its history and the demo music in ${folder}. Your own music stays. Type yes to go on: `,
      );
  if (answer.trim() !== 'yes') return console.log('Nothing was deleted.');
  const database = await startPostgres(folder);
  database.stop();
  rmSync(database.folder, { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
  console.log('The data folder is gone; the next start makes a new one.');
});
