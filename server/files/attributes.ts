/**
 * Extended attributes and access lists: what a file system keeps of a file beside permissions and times, as where a
 * browser loaded it from. Node.js has no calls for them; Debian's getfattr (package attr) and cp have.
 */
import { spawnSync } from 'node:child_process';
import { readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { log } from '../base/log.ts';

/** What other programs and people set; labels of the system's own are made by itself. */
const OTHERS = '^(user|trusted|system)\\.';
/** For so long, what was seen of a folder counts: as long as a batch of its files takes. */
const FRESH_MS = 5000;
/** The clock of a file system may be so far behind. */
const CLOCK_MS = 20;
/** From the third file of a folder on, all of it is looked at together. */
const ALONE = 2;
/** So many names go to one call. */
const TOGETHER = 500;

interface Looked {
  at: number;
  alone: number;
  /** Files that have some; null while they are looked at one by one. */
  having: Set<string> | null;
}
const folders = new Map<string, Looked>();
let missing = false;

/** Those of the files that have attributes. */
function having(paths: readonly string[]): Set<string> {
  const { stdout, error } = spawnSync('getfattr', ['-h', '--absolute-names', '-m', OTHERS, '--', ...paths], {
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  });
  if (error && !missing) {
    missing = true;
    log.warn(error, 'extended attributes cannot be looked at (Debian package attr), and are not kept');
  }
  // Line breaks and backslashes in names are said as \ooo.
  const plain = (name: string): string =>
    name.replace(/\\([0-7]{3})/g, (_, octal: string) => String.fromCharCode(parseInt(octal, 8)));
  return new Set([...(stdout ?? '').matchAll(/^# file: (.*)$/gm)].map(([, name]) => plain(name!)));
}

/** Has a file attributes that others have set? */
function hasAttributes(path: string): boolean {
  if (missing) return false;
  const folder = dirname(path),
    now = Date.now();
  let looked = folders.get(folder);
  if (!looked || now - looked.at > FRESH_MS) {
    if (folders.size > 100) folders.clear();
    looked = { at: now, alone: 0, having: null };
    folders.set(folder, looked);
  }
  // One that was given some since, or was not there, is looked at by itself: giving changes the time of the inode.
  if (looked.having && statSync(path).ctimeMs <= looked.at - CLOCK_MS) return looked.having.has(path);
  if (looked.alone++ < ALONE) return having([path]).size > 0;
  const files = readdirSync(folder, { withFileTypes: true })
    .filter((f) => f.isFile())
    .map((f) => join(folder, f.name));
  Object.assign(looked, { at: now, alone: 0 });
  looked.having = new Set();
  for (let from = 0; from < files.length; from += TOGETHER)
    for (const one of having(files.slice(from, from + TOGETHER))) looked.having.add(one);
  return looked.having.has(path);
}

/** Gives an open file the attributes and access list of another, as far as its drive can hold them. */
export function keepAttributes(from: string, file: number): void {
  if (!hasAttributes(from)) return;
  const to = `/proc/${process.pid}/fd/${file}`;
  const { status, stderr } = spawnSync('cp', ['--attributes-only', '--preserve=mode,xattr', '--', from, to], {
    encoding: 'utf8',
  });
  if (status !== 0) log.warn({ from, stderr }, 'extended attributes could not be kept');
}
