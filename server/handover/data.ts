/**
 * The data of a destination as files: read as a whole, written as a whole. What is written grows beside what is there
 * and takes its place at once, so that the program finds the old or the new whole, whenever somebody pulls the plug.
 */
import { execFile } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, existsSync, statSync } from 'node:fs';
import {
  chmod,
  chown,
  constants,
  copyFile,
  mkdir,
  open,
  readdir,
  readFile,
  readlink,
  rename,
  rm,
  stat,
  symlink,
  utimes,
  writeFile,
} from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { promisify } from 'node:util';
import type { DataFiles } from '@early-set/core/exchange/collection';
import { reasonOf } from '../files/reasons.ts';
import { Problem } from '../base/problem.ts';
import type { DestinationStep } from '../changes/context.ts';
import type { Home } from './home.ts';

/** Names of all files below a folder, sorted, with forward slashes. Links are followed by nobody. */
export async function namesIn(folder: string, below = ''): Promise<string[]> {
  const names: string[] = [];
  for (const entry of await readdir(join(folder, below), { withFileTypes: true })) {
    const name = below === '' ? entry.name : `${below}/${entry.name}`;
    if (entry.isDirectory()) names.push(...(await namesIn(folder, name)));
    else if (entry.isFile()) names.push(name);
  }
  return names.sort();
}

/**
 * The files of a data folder that are read, and a hash of all that stands in it; of files that nobody here reads, of
 * their names and sizes.
 */
export async function readData(folder: string, { isText }: Home): Promise<{ texts: DataFiles; hash: string }> {
  const texts = new Map<string, string>();
  const hash = createHash('sha256');
  for (const name of await namesIn(folder)) {
    const path = join(folder, name);
    if (isText(name)) {
      const bytes = await readFile(path);
      hash.update(`${name}\n`).update(bytes);
      texts.set(name, bytes.toString('utf8'));
    } else hash.update(`${name}\n${(await stat(path)).size}\n`);
  }
  return { texts, hash: hash.digest('hex') };
}

/** The same hash without the texts, which may be large. */
export async function hashOf(folder: string, { isText }: Home): Promise<string> {
  const hash = createHash('sha256');
  for (const name of await namesIn(folder)) {
    const path = join(folder, name);
    if (!isText(name)) hash.update(`${name}\n${(await stat(path)).size}\n`);
    else {
      hash.update(`${name}\n`);
      for await (const piece of createReadStream(path)) hash.update(piece as Buffer);
    }
  }
  return hash.digest('hex');
}
export const textsIn = async (folder: string, home: Home): Promise<DataFiles> => (await readData(folder, home)).texts;

/** Says whether the data in a folder are other ones, without reading them. */
export async function stampOf(folder: string, { mark, once }: Home): Promise<string> {
  const names = once ? [mark] : await namesIn(folder).catch(() => []);
  return names
    .map((name) => {
      const { size, mtimeMs } = statSync(join(folder, name), { throwIfNoEntry: false }) ?? { size: -1, mtimeMs: 0 };
      return `${name} ${size} ${mtimeMs}`;
    })
    .join('\n');
}

/** The data folder of a program. @throws Problem where it is not there */
export function dataFolderOf(folder: string, { data }: Home, name: string): string {
  const path = join(folder, data);
  if (!existsSync(path)) throw new Problem(409, 'not-there', `There are no data of ${name} in ${folder}`);
  return path;
}

/** Copies a folder as it is: links, empty folders, permissions, owners, times. What is copied is on the drive. */
export async function copyFolder(from: string, to: string): Promise<void> {
  await mkdir(to, { recursive: true });
  for (const entry of await readdir(from, { withFileTypes: true })) {
    const [was, is] = [join(from, entry.name), join(to, entry.name)];
    if (entry.isDirectory()) await copyFolder(was, is);
    else if (entry.isSymbolicLink()) await symlink(await readlink(was), is);
    else if (entry.isFile()) {
      await copyFile(was, is, constants.COPYFILE_FICLONE);
      await asBefore(was, is);
      await synced(is);
    }
  }
  await asBefore(from, to);
}

/** Permissions, owner and times of another file or folder; who may not set the owner leaves it. */
async function asBefore(was: string, is: string): Promise<void> {
  const { mode, uid, gid, atime, mtime } = await stat(was);
  await chown(is, uid, gid).catch(() => undefined);
  await chmod(is, mode & 0o7777);
  await utimes(is, atime, mtime);
}

/** Lays changed files into a folder; null takes one out, and folders in which nothing is left. */
export async function layInto(folder: string, changes: ReadonlyMap<string, string | null>): Promise<void> {
  for (const [name, text] of changes) {
    const path = join(folder, name);
    if (text === null) {
      await rm(path, { force: true });
      await pruned(dirname(path), folder);
      continue;
    }
    await mkdir(dirname(path), { recursive: true });
    // Written in place: permissions and owner stay.
    await writeFile(path, text);
    await synced(path);
  }
}

async function pruned(folder: string, top: string): Promise<void> {
  for (let at = folder; at !== top && at.startsWith(top); at = dirname(at)) {
    if (existsSync(at) && (await readdir(at)).length > 0) return;
    await rm(at, { recursive: true, force: true });
  }
}

async function synced(path: string): Promise<void> {
  const file = await open(path, 'r');
  try {
    await file.sync();
  } finally {
    await file.close();
  }
}

/** Says who has a program's data open; null: nobody. A lock of a process that is gone is none. */
export async function openedBy(folder: string, { lock }: Home): Promise<string | null> {
  if (lock === null) return null;
  const text = await readFile(join(folder, lock), 'utf8').catch(() => null);
  if (text === null) return null;
  let said: { by?: unknown; pid?: unknown } = {};
  try {
    said = JSON.parse(text) as typeof said;
  } catch {
    // Whatever stands there: the file is there.
  }
  if (typeof said.pid === 'number' && !lives(said.pid)) return null;
  return typeof said.by === 'string' ? said.by : 'another program';
}

function lives(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** Does something while the program cannot be opened. @throws Problem where it is open */
export async function locked<T>(folder: string, home: Home, name: string, work: () => Promise<T>): Promise<T> {
  const path = join(folder, home.lock!);
  const by = await openedBy(folder, home);
  if (by !== null && by !== OWN) throw new Problem(409, 'open', `${name} is open (${by}): close it, then try again`);
  await rm(path, { force: true });
  try {
    await writeFile(path, JSON.stringify({ by: OWN, pid: process.pid }), { flag: 'wx' });
  } catch (error) {
    throw new Problem(409, 'open', `${name} cannot be written: ${reasonOf(error)}`);
  }
  try {
    return await work();
  } finally {
    await rm(path, { force: true });
  }
}
const OWN = 'Early Set';

const ASIDE = '.early-set-';
const FORMER = '-former';

/**
 * Puts other data in the place of a program's. Done again after a kill, it finishes.
 * @param kept the data as they are to be
 * @param check looks at them where they lie beside, before they take the place
 */
export async function replaceData(
  folder: string,
  home: Home,
  kept: string,
  {
    check,
    checkFormer,
    step,
  }: {
    check: (staged: string) => Promise<void>;
    /** Looks at the former data once they are out of their place: what was changed at the last moment goes back. */
    checkFormer?: (former: string) => Promise<void>;
    step?: ((at: DestinationStep) => Promise<void> | void) | undefined;
  },
): Promise<void> {
  const data = join(folder, home.data),
    staged = join(folder, `${ASIDE}${randomUUID()}`);
  await leftoversGone(folder, home);
  try {
    await copyFolder(kept, staged);
    await step?.('staged');
    await check(staged);
    await step?.('checked');
    await exchange(staged, data);
    try {
      await checkFormer?.(staged);
    } catch (error) {
      await exchange(staged, data);
      throw error;
    }
    await step?.('exchanged');
  } catch (error) {
    await rm(staged, { recursive: true, force: true }).catch(() => undefined);
    throw error;
  }
  await rm(staged, { recursive: true, force: true });
}

/** What a kill has left beside the data. Where it came between two names, the former data get theirs back. */
export async function leftoversGone(folder: string, { data }: Home): Promise<void> {
  const left = (await readdir(folder)).filter((name) => name.startsWith(ASIDE));
  const former = left.find((name) => name.endsWith(FORMER));
  if (former !== undefined && !existsSync(join(folder, data))) await rename(join(folder, former), join(folder, data));
  for (const name of left) await rm(join(folder, name), { recursive: true, force: true });
}

const run = promisify(execFile);
/** renameat2 with RENAME_EXCHANGE (Linux 3.15 and later), by architecture: both folders change names in one step. */
const RENAMEAT2: Partial<Record<NodeJS.Architecture, number>> = { x64: 316, arm64: 276 };
/** A script, since Perl takes arguments from outside for texts, and the call wants numbers. */
const exchanging = (call: number): string => `exit(syscall(${call}, -100, $ARGV[0], -100, $ARGV[1], 2) == 0 ? 0 : 1)`;

/** Two folders change places. Node.js has no call for it; Perl, which every Debian has, can make any. */
export async function exchange(a: string, b: string): Promise<void> {
  const call = process.platform === 'linux' ? RENAMEAT2[process.arch] : undefined;
  if (call !== undefined) {
    const done = await run('perl', ['-e', exchanging(call), a, b]).then(
      () => true,
      () => false,
    );
    if (done) return;
  }
  const former = `${a}${FORMER}`;
  await rename(b, former);
  try {
    await rename(a, b);
  } catch (error) {
    await rename(former, b);
    throw error;
  }
  await rename(former, a);
}
