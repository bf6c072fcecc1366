/** Lets workers on other computers in, or keeps them out, as the one who starts the server says. */
import type { Database } from '../db/database.ts';
import { nameIn } from '../db/dumps.ts';
import { removeJoinFile, writeJoinFile, type JoinFile } from './joinFile.ts';
import { allowWorkers, refuseWorkers } from './role.ts';

/** Where the database can be reached from elsewhere. */
export type Reachable = Omit<JoinFile, 'database'>;

export async function letWorkersIn(database: Database, dataFolder: string, reachable: Reachable | null): Promise<void> {
  if (reachable === null) {
    removeJoinFile(dataFolder);
    await refuseWorkers(database);
    return;
  }
  await allowWorkers(database, reachable.password);
  writeJoinFile(dataFolder, { ...reachable, database: nameIn(database.url) });
}
