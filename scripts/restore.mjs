/** `npm run restore`: shows the backups, or puts one in place, while Early Set is closed. */
import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { ask } from './lib/ask.mjs';
import { buildServer } from './lib/build.mjs';
import { claim } from './lib/claim.mjs';
import { putClusterAside, startPostgres } from './lib/postgres.mjs';
import { main, ROOT, say, SetupError } from './lib/run.mjs';
import { dataFolder, setup } from './lib/setup.mjs';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    from: { type: 'string' },
    'without-backup': { type: 'boolean' },
    'new-database': { type: 'boolean' },
    yes: { type: 'boolean' },
  },
});

async function database(folder) {
  if (values['new-database']) say(`the database is put aside: ${putClusterAside(folder)}`);
  try {
    return await startPostgres(folder);
  } catch (error) {
    if (error instanceof SetupError)
      throw new SetupError(
        `${error.message}\nWith --new-database a new one is made; the files of this one are kept beside it.`,
      );
    throw error;
  }
}

let cleanUp = () => {};

main(
  async () => {
    const folder = dataFolder();
    mkdirSync(folder, { recursive: true });
    const lock = claim(folder);
    lock.set('restoring');
    cleanUp = () => lock.release();
    await setup();
    await buildServer();
    const { url, stop } = await database(folder);
    cleanUp = () => {
      stop();
      lock.release();
    };
    const { listBackups, restoreByName } = await import(join(ROOT, 'dist/server/restoreCommand.mjs'));
    const from = values.from === undefined ? null : resolve(values.from);
    const command = { databaseUrl: url, dataFolder: folder, folder: from, say: (line) => console.log(line) };
    const [id] = positionals;
    if (id === undefined) {
      const ids = await listBackups(command);
      if (ids.length > 0) console.log('\nnpm run restore -- NAME (or latest) puts one in place.');
    } else {
      const answer = values.yes
        ? 'yes'
        : await ask(
            'The library, its lists, history and settings become those of the backup; music files stay as they are.\n' +
              `What is there now is ${values['without-backup'] ? 'NOT ' : ''}backed up first. Type yes to go on: `,
          );
      if (answer.trim() !== 'yes') console.log('Nothing was changed.');
      else {
        const why = await restoreByName(command, id, !values['without-backup']);
        if (why) throw new SetupError(why);
      }
    }
    cleanUp();
  },
  () => cleanUp(),
);
