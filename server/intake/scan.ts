/**
 * Scanning a root: finds new, changed, vanished and returned files, reads their tags, and says of each
 * file that was not taken why. Doing it again, also after a kill midway, changes nothing more.
 */
import { reasonOf } from '../files/reasons.ts';
import { removeIfLeft } from '../files/unfinished.ts';
import { dirname } from 'node:path';
import { log } from '../base/log.ts';
import { isAway } from '../db/database.ts';
import { storeFileTags } from '../changes/fileTags.ts';
import { tieCompanions, type CompanionKind } from '../library/companions.ts';
import { LEFT_OUT } from '../library/removedTracks.ts';
import { Problem } from '../base/problem.ts';
import { inParallel, type KnownFile, type Refusal, type ScanContext, type ScanReport } from './context.ts';
import { companionKind, kindOf } from './kinds.ts';
import { knownFiles, losesMost, markMissing, markReturned, refusalsBefore } from './known.ts';
import { readOne, stampOf, type Reading } from './read.ts';
import { sameFile, storeBatch, storeRefusals } from './store.ts';
import { WHOLE_MS } from './whole.ts';
import { walkFiles, type FoundFile, type Obstacle } from './walk.ts';

/** Why a file could not be read, though it may be music. */
export const UNREAD = ['broken', 'unreadable'];

const BATCH = 48;
const PARALLEL = 6;
/** So many of what was not taken a report names. */
const MAX_REFUSED = 200;

/** The drive of a root is not there, or looks as if it were not: nothing was marked as missing. */
export class DriveAway extends Problem {
  constructor(sentence: string) {
    super(409, 'drive-away', `${sentence}; nothing was marked as missing`);
  }
}

/** What a walk through the root found. */
interface Found {
  seen: Set<string>;
  /** New or changed. */
  toRead: FoundFile[];
  /** Touched by somebody without another size or time. */
  touched: FoundFile[];
  refusals: Refusal[];
  /** What was not taken the last time, by path. */
  refusedBefore: ReadonlyMap<string, Refusal>;
  /** Unfinished files that were removed. */
  remains: number;
  /** What may belong to music beside it. */
  beside: (FoundFile & { kind: CompanionKind })[];
  /** Pictures by folder. */
  covers: Map<string, string>;
  /** Folders in which nothing lies. */
  empty: string[];
}

/** Scans. @throws DriveAway when the root cannot be read or has lost most of its files */
export async function scanRoot(context: ScanContext): Promise<ScanReport> {
  const { database, root, signal } = context;
  const known = await knownFiles(database, root.id);
  const found = await lookThrough(context, known);
  const { seen, toRead, refusals, covers } = found;
  if (!context.lossAccepted && losesMost(known, seen))
    throw new DriveAway(`More than half of the files of ${root.label} are not there`);
  const report: ScanReport = {
    found: seen.size,
    taken: 0,
    changed: 0,
    returned: await markReturned(context, known, seen),
    missing: await markMissing(context, known, seen),
    notTaken: 0,
    unread: 0,
    differs: 0,
    differing: [],
    changeSetId: null,
    followed: 0,
    remains: found.remains,
    newlyRefused: 0,
    refused: [],
  };
  toRead.push(...(await retagged(context, found.touched, known)));
  for (let from = 0; from < toRead.length; from += BATCH) {
    signal?.throwIfAborted();
    const batch = toRead.slice(from, from + BATCH);
    const readings = await inParallel(batch, PARALLEL, (file) => readOne(context, file, covers));
    const stored = await storeAll(context, readings, known, report);
    for (const r of readings)
      if ('refused' in r) {
        refusals.push(r.refused);
        if (UNREAD.includes(r.refused.code)) report.unread++;
      }
    await context.progress(Math.min(toRead.length, from + BATCH), toRead.length, batch.at(-1)!.path, stored);
  }
  const alone = (await tieCompanions(database, root.id, found.beside)).filter((file) => !known.has(file.path));
  for (const file of alone) {
    const kind = kindOf(file.path);
    if (kind.kind === 'other') refusals.push({ ...file, code: 'not-music', reason: kind.reason });
  }
  await storeRefusals(context, refusals, found.empty);
  report.notTaken = refusals.length;
  const newly = refusals.filter((r) => found.refusedBefore.get(r.path)?.reason !== r.reason);
  report.newlyRefused = newly.length;
  report.refused = newly.slice(0, MAX_REFUSED).map(({ path, reason }) => ({ path, reason }));
  return report;
}

/** Stores a batch; when something in it cannot be stored, each of its files by itself, and only that one is left. */
async function storeAll(
  context: ScanContext,
  readings: Reading[],
  known: ReadonlyMap<string, KnownFile>,
  report: ScanReport,
): Promise<number[]> {
  const together = async (batch: readonly Reading[]): Promise<number[]> => {
    const counts = { ...report, differing: [...report.differing] };
    const ids = await storeBatch(context, batch, known, counts);
    Object.assign(report, counts);
    return ids;
  };
  try {
    return await together(readings);
  } catch (error) {
    if (isAway(error)) throw error;
    log.warn(error, 'a batch could not be stored; its files are stored one by one');
  }
  const ids: number[] = [];
  for (const [i, reading] of readings.entries()) {
    if ('refused' in reading) continue;
    try {
      ids.push(...(await together([reading])));
    } catch (error) {
      if (isAway(error)) throw error;
      const reason = 'What this file says of itself cannot be stored';
      readings[i] = { refused: { ...reading.file, code: 'broken', reason } };
    }
  }
  return ids;
}

/** It was written to just now. */
const isGrowing = ({ changedMs }: FoundFile, now = Date.now()): boolean =>
  changedMs <= now && now - changedMs < WHOLE_MS;

async function lookThrough(
  { database, root, signal }: ScanContext,
  known: ReadonlyMap<string, KnownFile>,
): Promise<Found> {
  const before = await refusalsBefore(database, root.id);
  const found: Found = {
    seen: new Set(),
    toRead: [],
    touched: [],
    refusals: [],
    refusedBefore: before,
    remains: 0,
    beside: [],
    covers: new Map(),
    empty: [],
  };
  const { seen, toRead, touched, refusals, covers } = found;
  try {
    const obstacle = (o: Obstacle): void => void refusals.push({ ...o, size: 0, modifiedMs: 0 });
    const unfinished = (path: string): void => {
      if (removeIfLeft(path)) found.remains++;
    };
    const empty = (path: string): void => void found.empty.push(path);
    for await (const file of walkFiles(root.path, { obstacle, signal, unfinished, empty })) {
      seen.add(file.path);
      const kind = kindOf(file.path),
        there = known.get(file.path),
        refused = before.get(file.path);
      const beside = companionKind(file.path);
      if (kind.kind === 'cover') covers.set(dirname(file.path), file.path);
      if (beside) found.beside.push({ ...file, kind: beside });
      else if (kind.kind === 'other') refusals.push({ ...file, code: 'not-music', reason: kind.reason });
      else if (refused?.code === LEFT_OUT) refusals.push({ ...refused, ...file });
      else if (there && sameFile(there, file)) {
        if (there.changedMs !== file.changedMs) touched.push(file);
      } else if (refused && sameFile(refused, file)) refusals.push(refused);
      // Where the folder is watched, what still grows comes with the next scan.
      else if (!root.watch || !isGrowing(file)) toRead.push(file);
    }
  } catch (error) {
    signal?.throwIfAborted();
    const { code } = error as NodeJS.ErrnoException;
    const what = code === 'ENOENT' ? 'is not there' : `cannot be read: ${reasonOf(error)}`;
    throw new DriveAway(`The folder ${root.path} ${what}`);
  }
  return found;
}

/** Of files that somebody touched without changing size or time: those whose tags are others now. */
async function retagged(
  context: ScanContext,
  touched: FoundFile[],
  known: ReadonlyMap<string, KnownFile>,
): Promise<FoundFile[]> {
  const out: FoundFile[] = [];
  for (let from = 0; from < touched.length; from += 500) {
    context.signal?.throwIfAborted();
    const looked = await inParallel(touched.slice(from, from + 500), PARALLEL, async (file) => ({
      file,
      before: known.get(file.path)!,
      stamp: await stampOf(context, file.path),
    }));
    const same = looked.filter(
      ({ before, stamp }) => stamp && (before.tagHash === null || before.tagHash === stamp.tagHash),
    );
    await context.database.transaction((t) =>
      storeFileTags(
        context.database,
        same.filter((l) => l.before.role === 'main').map((l) => ({ id: l.before.trackId, stamp: l.stamp! })),
        t,
      ),
    );
    out.push(...looked.filter((l) => l.stamp && !same.includes(l)).map((l) => l.file));
  }
  return out;
}
