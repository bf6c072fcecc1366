/**
 * The part of a change set that lies in files. Each file in turn: what will be put in and what takes it back is
 * journalled, then the file is written, then the journal says done. A process killed anywhere in between leaves a
 * journal from which the next start sees what to finish or to put back.
 */
import type { Transaction } from 'sequelize';
import type { FileItem, WriteTags } from '@early-set/core/changes/items';
import { fieldOf } from '@early-set/core/fields/table';
import type { FieldValue } from '@early-set/core/fields/values';
import { saysValue, unwrittenAfter, valueIn } from '@early-set/core/tags/values';
import type { Database } from '../db/database.ts';
import { FileTrouble } from '../files/filePool.ts';
import type { FileStamp } from '../files/fileWork.ts';
import { reversed, type Kept } from '../files/kept.ts';
import { resolveInRoot } from '../media/roots.ts';
import { Problem } from '../problem.ts';
import { deskSettings } from '../settings.ts';
import { storeFileTags } from './fileTags.ts';
import { moveFile } from './moving.ts';
import type { Settled, WriteContext } from './writeContext.ts';

export type { Settled, WriteContext, WriteStep } from './writeContext.ts';

/** Advisory locks of this class hold a track's file, so that two processes never write one. */
const FILE_LOCK = 980_418;

interface Target {
  path: string;
  rootPath: string;
  relative: string;
  fileState: string;
}

/** Makes one journalled item in its file and settles it. */
export async function writeItem(
  context: WriteContext,
  changeSetId: number,
  seq: number,
  item: FileItem,
): Promise<Settled> {
  const { database } = context;
  return database.transaction(async (lock) => {
    await database.run('SELECT pg_advisory_xact_lock($1, $2)', [FILE_LOCK, item.trackId], lock);
    context.step?.('locked', item.trackId);
    if (item.kind === 'move-file') {
      const moved = await moveFile(context, item, lock);
      await settle(database, changeSetId, seq, moved, lock);
      context.step?.('settled', item.trackId);
      return moved;
    }
    const settled = await attempt(context, changeSetId, seq, item);
    if (settled.state !== 'done') await settle(database, changeSetId, seq, settled);
    context.step?.('settled', item.trackId);
    return settled;
  });
}

async function attempt(context: WriteContext, changeSetId: number, seq: number, item: WriteTags): Promise<Settled> {
  const { database, files, step } = context;
  try {
    const target = await targetOf(database, item.trackId);
    const prepared = await prepare(context, target.path, item);
    if ('conflict' in prepared) return { state: 'conflict', reason: prepared.conflict };
    step?.('prepared', item.trackId);
    let stamp: FileStamp;
    if (prepared.kept) {
      await database.run(
        `INSERT INTO file_writes (change_set_id, seq, track_id, path, state, kept, fields_before) VALUES ($1, $2, $3, $4, 'begun', $5::jsonb, $6::jsonb)
         ON CONFLICT (change_set_id, seq) DO UPDATE SET state = 'begun', kept = excluded.kept, path = excluded.path, fields_before = excluded.fields_before`,
        [
          changeSetId,
          seq,
          item.trackId,
          target.path,
          JSON.stringify(prepared.kept),
          JSON.stringify(prepared.fieldsBefore),
        ],
      );
      step?.('journalled', item.trackId);
      try {
        stamp = await files.ask({ op: 'write', path: target.path, kept: prepared.kept });
      } catch (error) {
        await forget(database, changeSetId, seq);
        throw error;
      }
      step?.('written', item.trackId);
    } else {
      stamp = await files.ask({ op: 'look', path: target.path });
    }
    await database.transaction((t) => settleWritten(database, changeSetId, seq, item, stamp, t));
    return { state: 'done', reason: null };
  } catch (error) {
    if (error instanceof FileTrouble || error instanceof Problem) return { state: 'failed', reason: error.message };
    throw error;
  }
}

async function targetOf(database: Database, trackId: number): Promise<Target> {
  const [row] = await database.rows<Omit<Target, 'path'>>(
    'SELECT r.path AS "rootPath", t.path AS relative, t.file_state AS "fileState" FROM tracks t JOIN roots r ON r.id = t.root_id WHERE t.id = $1',
    [trackId],
  );
  if (!row) throw new Problem(404, 'not-found', 'The track is no longer in the library');
  return { ...row, path: await resolveInRoot(row.rootPath, row.relative) };
}

type Prepared = { kept: Kept | null; fieldsBefore: Record<string, string[]> } | { conflict: string };

/** Works out the bytes: those that were there before, when the item takes another back and nobody has touched the file since. */
async function prepare({ database, files, art }: WriteContext, path: string, item: WriteTags): Promise<Prepared> {
  if (item.restores) {
    const [journalled] = await database.rows<{ kept: Kept; fieldsBefore: Record<string, string[]> }>(
      'SELECT kept, fields_before AS "fieldsBefore" FROM file_writes WHERE change_set_id = $1 AND seq = $2 AND state = \'done\'',
      [item.restores.changeSetId, item.restores.seq],
    );
    if (journalled) {
      const state = await files.ask({ op: 'state', path, kept: journalled.kept });
      if (state === 'untouched') return { kept: null, fieldsBefore: {} };
      if (state === 'changed')
        return { kept: reversed(journalled.kept), fieldsBefore: (await files.ask({ op: 'look', path })).fields };
    }
  }
  const { newId3Version } = await deskSettings();
  const picture =
    item.picture === undefined
      ? undefined
      : item.picture.after === null
        ? null
        : await art.original(item.picture.after);
  if (picture === null && item.picture?.after) return { conflict: 'The picture is no longer kept' };
  const fields = Object.fromEntries(Object.entries(item.fields).map(([id, { after }]) => [id, after]));
  const answer = await files.ask({
    op: 'prepare',
    path,
    edits: { fields, ...(picture === undefined ? {} : { picture }) },
    newId3Version,
  });
  for (const [id, { before, after }] of Object.entries(item.fields)) {
    const field = fieldOf(id),
      there = answer.fieldsBefore[id] ?? [];
    const says = (texts: readonly string[]): boolean => saysValue(field, there, valueIn(field, texts));
    if (before !== null && !says(before) && !says(after))
      return {
        conflict: `The file says something else now: ${field.label} is ${there.length ? `“${there.join('; ').slice(0, 80)}”` : 'empty'}`,
      };
  }
  return answer;
}

/** Journal, library and what is known of the file, in one transaction. */
async function settleWritten(
  database: Database,
  changeSetId: number,
  seq: number,
  item: WriteTags,
  stamp: FileStamp,
  t: Transaction,
): Promise<void> {
  await database.run(
    "UPDATE file_writes SET state = 'done' WHERE change_set_id = $1 AND seq = $2",
    [changeSetId, seq],
    t,
  );
  await settle(database, changeSetId, seq, { state: 'done', reason: null }, t);
  await storeFileTags(database, [{ id: item.trackId, stamp }], t);
  const ids = Object.keys(item.fields).map(fieldOf);
  const [row] = await database.rows<{ unwritten: string[] | null } & Record<string, FieldValue>>(
    `SELECT ${['t.unwritten', ...ids.map((f) => `t.${f.column} AS "${f.id}"`)].join(', ')} FROM tracks t WHERE t.id = $1 FOR UPDATE`,
    [item.trackId],
    t,
  );
  if (!row) return;
  const unwritten = unwrittenAfter(
    row.unwritten ?? [],
    ids.map((f) => f.id),
    (id) => row[id] ?? null,
    stamp.fields,
  );
  await database.run(
    'UPDATE tracks SET unwritten = $2::text[] WHERE id = $1',
    [item.trackId, unwritten.length ? unwritten : null],
    t,
  );
}

const settle = (
  database: Database,
  changeSetId: number,
  seq: number,
  { state, reason }: Settled,
  t?: Transaction,
): Promise<void> =>
  database.run(
    'UPDATE change_items SET state = $3, reason = $4 WHERE change_set_id = $1 AND seq = $2',
    [changeSetId, seq, state, reason],
    t,
  );

const forget = (database: Database, changeSetId: number, seq: number): Promise<void> =>
  database.run("DELETE FROM file_writes WHERE change_set_id = $1 AND seq = $2 AND state = 'begun'", [changeSetId, seq]);

interface Begun {
  changeSetId: number;
  seq: number;
  trackId: number;
  path: string;
  kept: Kept;
  item: WriteTags;
}

/**
 * Puts right what a killed process had begun: a file that was written whole is settled, one that was written in part
 * gets its bytes back and waits again, one that was not touched waits again. Returns a sentence for each of the first two.
 */
export async function recoverWrites({ database, files }: WriteContext): Promise<string[]> {
  const begun = await database.rows<Begun>(
    `SELECT w.change_set_id AS "changeSetId", w.seq, w.track_id AS "trackId", w.path, w.kept, i.item FROM file_writes w
     JOIN change_items i ON i.change_set_id = w.change_set_id AND i.seq = w.seq WHERE w.state = 'begun' ORDER BY w.begun_at`,
  );
  const said: string[] = [];
  for (const { changeSetId, seq, trackId, path, kept, item } of begun) {
    await database.transaction(async (lock) => {
      const [row] = await database.rows<{ free: boolean }>(
        'SELECT pg_try_advisory_xact_lock($1, $2) AS free',
        [FILE_LOCK, trackId],
        lock,
      );
      if (!row?.free) return; // somebody living is at it
      try {
        const state = await files.ask({ op: 'state', path, kept });
        if (state === 'changed') {
          const stamp = await files.ask({ op: 'look', path });
          await database.transaction((t) => settleWritten(database, changeSetId, seq, item, stamp, t));
          said.push(`${path} had been written; the journal says so now`);
          return;
        }
        if (state === 'half') {
          await files.ask({ op: 'mend', path, kept });
          said.push(`${path} had been written in part; its bytes are back`);
        }
      } catch (error) {
        if (!(error instanceof FileTrouble)) throw error;
      }
      await forget(database, changeSetId, seq);
    });
  }
  return said;
}
