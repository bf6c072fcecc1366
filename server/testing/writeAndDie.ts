/** A process of its own that writes a change set and is killed at a given step of a given track: run by tests. */
import { connect } from '../db/database.ts';
import { defineModels } from '../db/models.ts';
import { createFilePool } from '../files/filePool.ts';
import { openArtStore } from '../media/art.ts';
import { writeChangeSet } from '../changes/changing.ts';

const [url, artFolder, threads, changeSetId, step, trackId] = process.argv.slice(2) as [
  string,
  string,
  string,
  string,
  string,
  string,
];
const database = await connect(url);
defineModels(database.sequelize);
await writeChangeSet(
  {
    database,
    art: openArtStore(artFolder, database),
    files: createFilePool(new URL(threads)),
    step(at, id) {
      if (at === step && id === Number(trackId)) process.kill(process.pid, 'SIGKILL');
    },
  },
  Number(changeSetId),
);
process.exit(0);
