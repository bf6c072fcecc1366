import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { SetupError } from './run.mjs';

const pidFile = (folder) => join(folder, 'server.pid');

/** The address of the server that runs on a data folder, or null; the remains of a killed one do not count. */
export function runningAddress(folder) {
  if (!existsSync(pidFile(folder))) return null;
  const [pid, address] = readFileSync(pidFile(folder), 'utf8').split(' ');
  try {
    process.kill(Number(pid), 0);
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('start.mjs') ? address : null;
  } catch {
    return null;
  }
}

/** Refuses a second server on the same data. @throws SetupError with the address of the first. */
export function claim(folder) {
  const address = runningAddress(folder);
  if (address) throw new SetupError(`Early Set is running already: ${address}`);
  return {
    set: (at) => writeFileSync(pidFile(folder), `${process.pid} ${at}`),
    release: () => rmSync(pidFile(folder), { force: true }),
  };
}
