/** A process of its own that makes or restores a backup and is killed when it says a step: run by tests. */
import { makeBackup } from '../backups/make.ts';
import { restoreBackup } from '../backups/restore.ts';

const [databaseUrl, dataFolder, folder, step, restored] = process.argv.slice(2) as [
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
if (restored) await restoreBackup(places, restored, { tell: dieAt });
else
  await makeBackup(places, {
    reason: 'by hand',
    tell: (said) => {
      dieAt(said);
      return Promise.resolve();
    },
  });
process.exit(0);
