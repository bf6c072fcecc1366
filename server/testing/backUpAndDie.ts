/** A process that makes or restores a backup, writes or reads a bundle, and is killed at a step: run by tests. */
import { makeBackup } from '../backups/make.ts';
import { restoreBackup } from '../backups/restore.ts';
import { readBundle } from '../bundle/read.ts';
import { openSource } from '../bundle/source.ts';
import { writeBundle } from '../bundle/write.ts';
import { CATEGORIES } from '@early-set/core/bundle/manifest';

const [databaseUrl, dataFolder, folder, step, restored, what] = process.argv.slice(2) as [
  string,
  string,
  string,
  string,
  string,
  string,
];
const dieAt = (said: string): void => {
  if (said === step) process.kill(process.pid, 'SIGKILL');
};
const places = { databaseUrl, dataFolder, folder };
const tellOf = (said: string): Promise<void> => {
  dieAt(said);
  return Promise.resolve();
};
const bundle = { categories: CATEGORIES, folders: [] };
if (what === 'read') await readBundle(places, await openSource(restored), bundle, { tell: tellOf });
else if (what === 'write')
  await writeBundle(places, restored, { categories: CATEGORIES, lists: null, zip: false }, { tell: tellOf });
else if (restored) await restoreBackup(places, restored, { tell: dieAt });
else await makeBackup(places, { reason: 'by hand', tell: tellOf });
process.exit(0);
