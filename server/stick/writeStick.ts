/**
 * Files written to a stick, and what is no longer wanted taken off it. What has a name there is whole: it is made at
 * the desk, copied under another name, on the stick and compared before it takes its own. What is not ours is not
 * touched. All of it can be done again after a kill, a cancel or a stick that was pulled out.
 */
import { mkdirSync, readdirSync, rmdirSync, rmSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { WrittenFile } from '@early-set/core/stick/compare';
import { sameName } from '@early-set/core/stick/layout';
import type { Placed, Placing } from '../files/place.ts';
import { reasonOf } from '../files/reasons.ts';
import { removeIfLeft, UNFINISHED } from '../files/unfinished.ts';
import type { MadeFile } from './makeFile.ts';
import type { Written } from './written.ts';

/** A file that is to be on the stick. */
export interface ToWrite extends Omit<WrittenFile, 'size'> {
  /** Makes it at the desk. @param scratch where, without an ending; what is made there goes afterwards */
  make(scratch: string, signal: AbortSignal | undefined): Promise<Pick<MadeFile, 'path' | 'size' | 'modifiedMs'>>;
}

export interface StickWork {
  /** Of the stick. */
  home: string;
  /** A folder of the desk for what is in the making. */
  scratch: string;
  written: Written;
  remove: readonly WrittenFile[];
  write: readonly ToWrite[];
  /**
   * Somebody may look there at any moment: what is replaced lies there until the new one does, and what goes does so
   * last. It takes more room meanwhile.
   */
  isWatched?: boolean;
  place(wish: Placing): Promise<Placed>;
  signal?: AbortSignal;
  /** Files that are done, bytes that were written. */
  progress?: (done: number, bytes: number) => void;
  /** Told at each step; it goes on when this is done. */
  step?: (at: 'removed' | 'made' | 'announced' | 'placed' | 'noted', path: string) => void | Promise<void>;
}

export interface StickReport {
  written: number;
  removed: number;
  bytes: number;
  /** Files that could not be written, and why; the others were. */
  failed: { path: string; reason: string }[];
  /** Why it ended before its end; null: everything that could be is there, and on the stick. */
  stopped: 'cancelled' | 'full' | 'gone' | null;
  /** How copies were compared: as the stick has them, or as the computer's memory does; null: there were none. */
  readBack: 'medium' | 'memory' | null;
}

/** So many are made while one is copied: one for each core. */
const AHEAD = 2;

/** All files of a stick with their sizes, by path below it. Names that begin with a dot are nobody's. */
export function sizesOn(home: string, below = ''): Map<string, number> {
  const sizes = new Map<string, number>();
  for (const entry of readdirSync(join(home, below), { withFileTypes: true })) {
    if (entry.name.startsWith('.')) continue;
    const path = below === '' ? entry.name : `${below}/${entry.name}`;
    if (entry.isDirectory()) for (const [name, size] of sizesOn(home, path)) sizes.set(name, size);
    else if (entry.isFile()) sizes.set(path, statSync(join(home, path)).size);
  }
  return sizes;
}

class Stopped extends Error {
  readonly why: NonNullable<StickReport['stopped']>;
  constructor(why: NonNullable<StickReport['stopped']>) {
    super(why);
    this.why = why;
  }
}

export async function writeStick(work: StickWork): Promise<StickReport> {
  const { home, scratch, written, signal } = work;
  const report: StickReport = { written: 0, removed: 0, bytes: 0, failed: [], stopped: null, readBack: null };
  const was = statSync(home);
  /** Where a drive was pulled out its folder may still be there, on another drive. */
  const stillThere = (): boolean => {
    try {
      const { dev, ino } = statSync(home);
      return dev === was.dev && ino === was.ino;
    } catch {
      return false;
    }
  };
  const goOn = (): void => {
    if (signal?.aborted) throw new Stopped('cancelled');
    if (!stillThere()) throw new Stopped('gone');
  };
  rmSync(scratch, { recursive: true, force: true });
  mkdirSync(scratch, { recursive: true });
  removeRemains(home);
  try {
    const removeAll = async (): Promise<void> => {
      for (const { path, size } of work.remove) {
        goOn();
        // It may have changed since this was decided.
        const now = statSync(join(home, path), { throwIfNoEntry: false });
        if (now && now.size !== size) continue;
        removeFrom(home, path, work.isWatched);
        await work.step?.('removed', path);
        written.gone(path);
        report.removed++;
      }
    };
    if (!work.isWatched) await removeAll();
    await writeAll(work, report, goOn);
    if (work.isWatched) await removeAll();
  } catch (error) {
    if (!(error instanceof Stopped)) throw error;
    report.stopped = error.why;
  } finally {
    rmSync(scratch, { recursive: true, force: true });
  }
  return report;
}

async function writeAll(work: StickWork, report: StickReport, goOn: () => void): Promise<void> {
  const { home, scratch, written, signal, write, step, isWatched = false } = work;
  const ended = new AbortController();
  const either = signal ? AbortSignal.any([signal, ended.signal]) : ended.signal;
  const making: Promise<Pick<MadeFile, 'path' | 'size' | 'modifiedMs'>>[] = [];
  try {
    for (const [at, { path, sound, tags }] of write.entries()) {
      goOn();
      for (let next = making.length; next < write.length && next <= at + AHEAD; next++) {
        const made = write[next]!.make(join(scratch, String(next)), either);
        made.catch(() => undefined); // it is told where its turn comes
        making.push(made);
      }
      // A full drive of the desk is another thing than a full stick.
      let isPlacing = false;
      try {
        const made = await making[at]!;
        await step?.('made', path);
        goOn();
        const there = join(home, path),
          now = statSync(there, { throwIfNoEntry: false });
        if (now) {
          if (!isOurs(written, path, now.size)) throw new RangeError('A file of somebody else has this name there');
          if (!isWatched) {
            removeFrom(home, path);
            written.gone(path);
          }
        }
        const over = isWatched && now !== undefined;
        written.will({ path, sound, tags, size: made.size }, over);
        await step?.('announced', path);
        isPlacing = true;
        const { size, modifiedMs } = made;
        const { copied } = await work.place({
          ...{ mode: 'copy', from: made.path, to: there, size, modifiedMs, begun: false, fromMedium: true, over },
          isCleared: true,
        });
        if (copied) report.readBack = copied.fromMedium && report.readBack !== 'memory' ? 'medium' : 'memory';
        await step?.('placed', path);
        written.is(path, copied?.hash);
        await step?.('noted', path);
        if (made.path.startsWith(`${scratch}/`)) rmSync(made.path, { force: true });
        report.written++;
        report.bytes += made.size;
      } catch (error) {
        if (error instanceof Stopped) throw error;
        goOn();
        if (isPlacing && (error as NodeJS.ErrnoException).code === 'ENOSPC') throw new Stopped('full');
        report.failed.push({ path, reason: reasonOf(error) });
      }
      work.progress?.(at + 1, report.bytes);
    }
  } finally {
    // What is in the making is called off, and waited for: nothing is written behind this.
    ended.abort();
    await Promise.allSettled(making);
  }
}

const isOurs = (written: Written, path: string, size: number): boolean =>
  written.files(new Map([[path, size]])).some((file) => sameName(file.path) === sameName(path));

/** What killed processes left unfinished on the stick goes. */
function removeRemains(folder: string): void {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) removeRemains(path);
    else if (entry.name.startsWith(UNFINISHED)) removeIfLeft(path);
  }
}

/** Takes a file off, and the folders that it leaves empty, but for those that somebody looks into. */
function removeFrom(home: string, path: string, keepsFolders = false): void {
  rmSync(join(home, path), { force: true });
  if (keepsFolders) return;
  for (let folder = dirname(path); folder !== '.'; folder = dirname(folder))
    try {
      rmdirSync(join(home, folder));
    } catch {
      return; // something else lies there
    }
}
