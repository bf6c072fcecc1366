/**
 * The part of a change set that lies in files. Each line in turn: what will be done is journalled, then it is done,
 * then the journal says so; no lock and no transaction is held while a file is read or written. Who is at a track's
 * file says so by a row of its own, and lines of one track are made in the order in which they were asked for, in
 * whatever process. A process killed anywhere in between leaves a journal from which the next start sees what to
 * finish.
 */
import type { ChangeItem } from '@early-set/core/changes/items';
import { FileTrouble } from '../files/filePool.ts';
import { log } from '../base/log.ts';
import { Problem } from '../base/problem.ts';
import { isStopping } from '../jobs/defineRun.ts';
import { lockTracks } from '../library/trackStore.ts';
import { DONE, type FileContext, type FileLine, type Outcome } from './context.ts';
import { countLines, settleLine } from './journal.ts';
import { fileWorkOf } from './kinds.ts';
import type { PerformOptions } from './kinds/kind.ts';
import { UNKNOWN_DEVICE } from './kinds/kind.ts';

const LINE = `i.change_set_id AS "changeSetId", i.seq, i.item, i.track_id AS "trackId",
  CASE WHEN i.restores_set IS NULL THEN NULL
    ELSE jsonb_build_object('changeSetId', i.restores_set, 'seq', i.restores_seq) END AS restores`;

export interface FilesReport {
  written: number;
  left: { item: ChangeItem; reason: string }[];
  cancelled: boolean;
}

export interface CarryOptions {
  /** Asked before each line. */
  stop?: () => Promise<boolean>;
  signal?: AbortSignal;
  progress?: (outcome: Outcome, line: FileLine) => Promise<void>;
  bytes?: (bytes: number) => void;
  /** The drive whose turn is waited for. */
  device?: string;
}

/** Carries out what waits in a change set, line by line; what stands in the way of one does not stop the rest. */
export async function carryOut(
  context: FileContext,
  changeSetId: number,
  { stop = () => Promise.resolve(false), progress, signal, bytes, device = UNKNOWN_DEVICE }: CarryOptions = {},
): Promise<FilesReport> {
  const { database } = context;
  const report: FilesReport = { written: 0, left: [], cancelled: false };
  for (let seq = -1; !report.cancelled;) {
    const lines = await database.rows<FileLine>(
      `SELECT ${LINE} FROM change_items i WHERE i.change_set_id = $1 AND i.state = 'waiting' AND i.seq > $2
        ORDER BY i.seq LIMIT 50`,
      [changeSetId, seq],
    );
    if (lines.length === 0) break;
    for (const line of lines) {
      if (await stop()) {
        report.cancelled = true;
        break;
      }
      seq = line.seq;
      const outcome = await context.drives.add(device, () =>
        makeLine(context, line, { begun: false, signal, progress: bytes }),
      );
      if (outcome.state === 'done') report.written++;
      else if (outcome.state !== 'cancelled') report.left.push({ item: line.item, reason: outcome.reason! });
      await progress?.(outcome, line);
    }
  }
  await countLines(database, changeSetId);
  await database.notify({ kind: 'changes' });
  await database.notify({ kind: 'tracks' });
  return report;
}

/** How long is waited until a track's file is looked at again when another process is at it. */
const LOOK_AGAIN_MS = 40;
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Makes a line, after all lines of the same track that were asked for before it. */
async function makeLine(context: FileContext, line: FileLine, options: PerformOptions): Promise<Outcome> {
  const { database, workerId } = context;
  for (;;) {
    const [claimed] = await database.rows(
      `INSERT INTO file_claims (track_id, worker_id, change_set_id, seq) VALUES ($1, $2, $3, $4)
        ON CONFLICT (track_id) DO NOTHING RETURNING 1`,
      [line.trackId, workerId, line.changeSetId, line.seq],
    );
    if (!claimed) {
      await pause(LOOK_AGAIN_MS);
      continue;
    }
    const next = await earliest(context, line);
    if (next === null) {
      await release(context, line.trackId);
      return endOf(context, line);
    }
    // A line of another change set that comes first is made here and now: nobody has it in hand.
    const own = next.changeSetId === line.changeSetId && next.seq === line.seq;
    const outcome = await makeClaimed(context, next, own ? options : { ...options, begun: false });
    if (own) return outcome;
    await countLines(database, next.changeSetId);
  }
}

/** The first line that waits for a track, up to and with this one; null when this one has been made by somebody. */
async function earliest({ database }: FileContext, { trackId, changeSetId, seq }: FileLine): Promise<FileLine | null> {
  const [row] = await database.rows<FileLine & { mine: boolean }>(
    `SELECT ${LINE} FROM change_items i WHERE i.track_id = $1 AND i.state = 'waiting'
      AND (i.change_set_id, i.seq) <= ($2, $3)
       AND EXISTS (SELECT 1 FROM change_items own WHERE own.change_set_id = $2 AND own.seq = $3
         AND own.state = 'waiting')
     ORDER BY i.change_set_id, i.seq LIMIT 1`,
    [trackId, changeSetId, seq],
  );
  return row ?? null;
}

const release = ({ database }: FileContext, trackId: number): Promise<void> =>
  database.run('DELETE FROM file_claims WHERE track_id = $1', [trackId]);

/** How a line ended that somebody else made. */
async function endOf({ database }: FileContext, { changeSetId, seq }: FileLine): Promise<Outcome> {
  const [row] = await database.rows<Outcome>(
    'SELECT state, reason FROM change_items WHERE change_set_id = $1 AND seq = $2',
    [changeSetId, seq],
  );
  return row ?? DONE;
}

/** Makes a line whose track is held by this process, settles it and lets the track go. */
async function makeClaimed(context: FileContext, line: FileLine, options: PerformOptions): Promise<Outcome> {
  const { database, step } = context;
  try {
    await step?.('claimed', line.trackId);
    const outcome = await attempt(context, line, options);
    // What the end of the process broke off waits for the next one.
    if (outcome.state === 'cancelled' && isStopping(options.signal)) return outcome;
    if (outcome.state !== 'done') await database.transaction((t) => settleLine(database, line, outcome, t));
    return outcome;
  } finally {
    await release(context, line.trackId);
    await step?.('settled', line.trackId);
  }
}

async function attempt(context: FileContext, line: FileLine, options: PerformOptions): Promise<Outcome> {
  const { step } = context;
  const work = fileWorkOf(line.item);
  try {
    if (line.restores && !(await wasMade(context, line.restores)))
      return { state: 'cancelled', reason: 'It had not been made' };
    await putRightFirst(context, line);
    const prepared = await work.prepare(context, line);
    if (!('intent' in prepared)) return prepared;
    await step?.('prepared', line.trackId);
    const { intent } = prepared;
    const begun = await begin(context, line, intent);
    await step?.('journalled', line.trackId);
    let result: unknown;
    try {
      result = await work.perform(context, line, intent, { ...options, begun });
    } catch (error) {
      // Only when the file has been read again is it said how it is now; else the journal stays for later.
      const found = await work.recover(context, line, intent).catch(() => null);
      if (found === null || (error instanceof FileTrouble && error.half && found.said === null)) {
        log.warn(error, `${line.item.kind} broke off, and its file could not be put right yet`);
        const why = error instanceof FileTrouble ? error.message : 'Something went wrong inside Early Set';
        return { state: 'failed', reason: error instanceof FileTrouble && error.half ? why : `${why}. ${NOT_KNOWN}` };
      }
      if (found.made === null) {
        await forget(context, line);
        if (found.said !== null) return { state: 'failed', reason: `${reasonOfHalf(error)}; the file is as it was` };
        throw error;
      }
      result = found.made;
    }
    await step?.('written', line.trackId);
    try {
      await settleDone(context, line, intent, result);
    } catch (error) {
      log.error(error, `${line.item.kind} was made, and the library could not say so`);
      return { state: 'failed', reason: `The file was written, but the library could not say so yet. ${NOT_KNOWN}` };
    }
    return DONE;
  } catch (error) {
    if (error instanceof FileTrouble && error.cancelled)
      return { state: 'cancelled', reason: 'Cancelled while it was being made; the file is as it was' };
    if (error instanceof Problem && error.code === 'cancelled') return { state: 'cancelled', reason: error.message };
    if (error instanceof FileTrouble || error instanceof Problem) return { state: 'failed', reason: error.message };
    log.error(error, `a change of a file broke off: ${line.item.kind}`);
    return { state: 'failed', reason: 'Something went wrong inside Early Set; the file was left as it is' };
  }
}

/** The first sentence: what comes after it was true until the file was put right. */
const reasonOfHalf = (error: unknown): string => (error as Error).message.split('. ')[0]!;
const NOT_KNOWN = 'How the file is now is looked at as soon as its drive answers';

/** What an earlier line left of this file in part is put back before anything else is done to it. */
async function putRightFirst(context: FileContext, line: FileLine): Promise<void> {
  for (const left of await leftBegun(context, line.trackId)) await putRight(context, left);
}

async function wasMade({ database }: FileContext, { changeSetId, seq }: { changeSetId: number; seq: number }) {
  const rows = await database.rows(
    "SELECT 1 FROM change_items WHERE change_set_id = $1 AND seq = $2 AND state = 'done'",
    [changeSetId, seq],
  );
  return rows.length > 0;
}

/** Journals what will be done; true when a killed process had begun the very same. */
async function begin({ database }: FileContext, line: FileLine, intent: object): Promise<boolean> {
  const { changeSetId, seq, trackId } = line;
  const [before] = await database.rows(
    "SELECT 1 FROM file_journal WHERE change_set_id = $1 AND seq = $2 AND state = 'begun'",
    [changeSetId, seq],
  );
  await database.run(
    `INSERT INTO file_journal (change_set_id, seq, track_id, state, intent) VALUES ($1, $2, $3, 'begun', $4::jsonb)
     ON CONFLICT (change_set_id, seq) DO UPDATE SET state = 'begun', intent = excluded.intent, begun_at = now()`,
    [changeSetId, seq, trackId, JSON.stringify(intent)],
  );
  return before !== undefined;
}

/** The file is made: its line, its journal and what the kind keeps are settled together. */
const settleDone = (context: FileContext, line: FileLine, intent: object, made: unknown): Promise<void> =>
  context.database.transaction(async (t) => {
    await lockTracks(context.database, [line.trackId], t);
    await context.database.run(
      "UPDATE file_journal SET state = 'done' WHERE change_set_id = $1 AND seq = $2",
      [line.changeSetId, line.seq],
      t,
    );
    await settleLine(context.database, line, DONE, t);
    await fileWorkOf(line.item).settle(context, line, intent, made, t);
  });

const forget = ({ database }: FileContext, { changeSetId, seq }: FileLine): Promise<void> =>
  database.run("DELETE FROM file_journal WHERE change_set_id = $1 AND seq = $2 AND state = 'begun'", [
    changeSetId,
    seq,
  ]);

/** Lets go what dead processes held: their tracks may be worked on again. */
export const releaseDead = ({ database }: FileContext): Promise<void> =>
  database.run('DELETE FROM file_claims WHERE worker_id NOT IN (SELECT id FROM workers)');

/**
 * Puts right what killed processes had begun: what was made whole is settled, what was made in part is put back and
 * waits again. Returns a sentence for each file that was put right.
 */
export async function recoverFiles(context: FileContext): Promise<string[]> {
  const { database } = context;
  await releaseDead(context);
  const begun = await database.rows<Begun>(
    `SELECT ${BEGUN} AND NOT EXISTS (SELECT 1 FROM file_claims c WHERE c.track_id = j.track_id) ORDER BY j.begun_at`,
  );
  const said: string[] = [];
  for (const left of begun)
    try {
      const sentence = await putRight(context, left);
      if (sentence) said.push(sentence);
    } catch (error) {
      if (!(error instanceof FileTrouble || error instanceof Problem)) throw error;
    }
  return said;
}

type Begun = FileLine & { intent: object; state: string };
const BEGUN = `${LINE}, j.intent, i.state FROM file_journal j JOIN change_items i ON i.change_set_id = j.change_set_id
  AND i.seq = j.seq WHERE j.state = 'begun'`;

/** What failed and was left in part, of one track or of all. */
const leftBegun = ({ database }: FileContext, trackId: number | null = null): Promise<Begun[]> =>
  database.rows<Begun>(
    `SELECT ${BEGUN} AND i.state = 'failed' AND ($1::int IS NULL OR j.track_id = $1) ORDER BY j.begun_at`,
    [trackId],
  );

/** Settles what was made whole; puts back what was made in part. @throws FileTrouble when it cannot be done now */
async function putRight(context: FileContext, { intent, state, ...line }: Begun): Promise<string | null> {
  const work = fileWorkOf(line.item);
  const { made, said } = await work.recover(context, line, intent);
  if (made === null) {
    if (state === 'failed') await forget(context, line); // it is over; what waits is begun again
    return said;
  }
  await settleDone(context, line, intent, made);
  return said;
}

/** Tries what could not be put right when it failed: its drive may be back. Answers how many are still open. */
export async function finishLeft(context: FileContext): Promise<number> {
  for (const left of await leftBegun(context))
    try {
      const said = await putRight(context, left);
      log.info(said ?? 'a file that had been left in part is as it was');
    } catch (error) {
      if (!(error instanceof FileTrouble || error instanceof Problem)) throw error;
    }
  return (await leftBegun(context)).length;
}
