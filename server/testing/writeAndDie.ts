/** A process of its own that carries out a change set and is killed at a given step of a given track: run by tests. */
import { carryOut } from '../changes/carryOut.ts';
import { createDriveQueue } from '../changes/driveQueue.ts';
import { connect } from '../db/database.ts';
import { defineModels } from '../db/models.ts';
import { createFilePool } from '../files/filePool.ts';
import { openQueue } from '../jobs/queue.ts';
import { openArtStore } from '../media/art.ts';
import { openStates } from '../handover/states.ts';
import { writeKept } from '../handover/writing.ts';
import { dirname } from 'node:path';

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
const { workerId } = await openQueue(database);
await carryOut(
  {
    database,
    art: openArtStore(artFolder, database),
    files: createFilePool(new URL(threads)),
    drives: createDriveQueue(),
    workerId,
    writeData: writeKept(openStates(dirname(artFolder))),
    writeStickFiles: () => Promise.reject(new Error('no stick here')),
    step(at, id) {
      if (at === step && id === Number(trackId)) process.kill(process.pid, 'SIGKILL');
    },
  },
  Number(changeSetId),
);
process.exit(0);
