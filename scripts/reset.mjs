/** `npm run reset`: makes the data folder new, after asking. Music outside it is not touched. */
import { existsSync, rmSync } from 'node:fs';
import { createInterface } from 'node:readline/promises';
import { startPostgres } from './lib/postgres.mjs';
import { main } from './lib/run.mjs';
import { dataFolder } from './lib/setup.mjs';

main(async () => {
  const folder = dataFolder();
  if (!existsSync(folder)) return console.log('There is no data folder yet; nothing to do.');
  const lines = createInterface({ input: process.stdin, output: process.stdout });
  const answer = process.argv.includes('--yes') ? 'yes' : await lines.question(`This deletes the library, its history and the demo music in ${folder}. Your own music stays. Type yes to go on: `);
  lines.close();
  if (answer.trim() !== 'yes') return console.log('Nothing was deleted.');
  const database = await startPostgres(folder);
  database.stop();
  rmSync(database.folder, { recursive: true, force: true });
  rmSync(folder, { recursive: true, force: true });
  console.log('The data folder is gone; the next start makes a new one.');
});
