/**
 * Names of files that are being written, before they take the name they are for. A name says which process writes it,
 * so that what a killed one left behind can be told from what is in the making.
 */
import { createHash, randomUUID } from 'node:crypto';
import { readdirSync, rmSync, statSync } from 'node:fs';
import { hostname } from 'node:os';
import { basename, dirname, join } from 'node:path';

/** Beginning of the name; scans pass over names that begin with a dot. */
export const UNFINISHED = '.early-set-unfinished-';
/** Another machine's process cannot be asked whether it lives; so long nothing is written without an end. */
const OLD_MS = 3_600_000;

const host = createHash('sha256').update(hostname()).digest('hex').slice(0, 6);
const tailOf = (path: string): string => basename(path).slice(-60);

/** A name for what is going to be `path`, in its folder. */
export const unfinishedName = (path: string): string =>
  join(dirname(path), `${UNFINISHED}${host}.${process.pid}-${randomUUID().slice(0, 8)}-${tailOf(path)}`);

function lives(pid: number): boolean {
  if (pid === process.pid) return true;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Was this left by a process that is no more? */
function isLeft(path: string): boolean {
  const [, of, pid] = /^\.early-set-unfinished-([0-9a-f]{6})\.(\d+)-/.exec(basename(path)) ?? [];
  if (of === host) return !lives(Number(pid));
  return Date.now() - statSync(path).ctimeMs > OLD_MS;
}

/** Removes a file that a killed process left unfinished. Answers whether it was one. */
export function removeIfLeft(path: string): boolean {
  try {
    if (!isLeft(path)) return false;
    rmSync(path);
    return true;
  } catch {
    return false; // gone already, or not to be removed: it is no music either way
  }
}

/** What killed processes left of just this file goes. */
export function removeRemainsOf(path: string): void {
  const tail = `-${tailOf(path)}`;
  for (const name of readdirSync(dirname(path)))
    if (name.startsWith(UNFINISHED) && name.endsWith(tail)) removeIfLeft(join(dirname(path), name));
}
