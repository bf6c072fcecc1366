/** Changes as people make them: a draft, what it means for files by the settings, the library at once, the files behind it. */
import type { Applied } from '@early-set/core/api/types';
import { inverse, isFileItem, type ChangeItem, type FileItem, type WriteTags } from '@early-set/core/changes/items';
import { withWriting, writeFields } from '@early-set/core/changes/tags';
import type { FieldValue } from '@early-set/core/fields/values';
import { TAG_FIELDS } from '@early-set/core/tags/edit';
import { ChangeSet, Run } from '../db/models.ts';
import { log } from '../log.ts';
import type { Queue } from '../jobs/queue.ts';
import { Problem } from '../problem.ts';
import { deskSettings } from '../settings.ts';
import { applyDraft, type Draft } from './applier.ts';
import { knownFileFields } from './fileTags.ts';
import type { InTurn } from './turns.ts';
import { writeItem, type Settled, type WriteContext } from './writing.ts';

export interface ChangeContext extends WriteContext {
  queue: Queue;
  inTurn: InTurn;
}

/** So many files are written while the person waits; more become a run. */
const AT_ONCE = 12;

/** Applies edits of the library, with what they mean for files when the settings say so. @throws as applyDraft does */
export async function applyEdits(context: ChangeContext, draft: Draft): Promise<Applied> {
  const { editsGoTo } = await deskSettings();
  return applyWithFiles(context, {
    ...draft,
    items: editsGoTo === 'library' ? draft.items : await addWriting(context, draft.items),
  });
}

/** Adds to edits what has to be written into files for them. */
async function addWriting({ database }: ChangeContext, items: readonly ChangeItem[]): Promise<ChangeItem[]> {
  const known = await knownFileFields(database, [
    ...new Set(items.flatMap((i) => ('trackId' in i ? [i.trackId] : []))),
  ]);
  return withWriting(items, (id) => known.get(id) ?? null);
}

/**
 * The writing that puts into files what the library says: given fields, or those that are not in the files yet.
 */
export async function draftWriting(
  { database }: ChangeContext,
  trackIds: readonly number[],
  fields: readonly string[] | null,
): Promise<WriteTags[]> {
  const known = await knownFileFields(database, trackIds);
  const rows = await database.rows<{ id: number; unwritten: string[] | null } & Record<string, FieldValue>>(
    `SELECT t.id, t.unwritten, ${TAG_FIELDS.map((f) => `t.${f.column} AS "${f.id}"`).join(', ')} FROM tracks t WHERE t.id = ANY($1::int[]) ORDER BY t.id`,
    [[...trackIds]],
  );
  return rows.flatMap((row) => {
    const values = Object.fromEntries((fields ?? row.unwritten ?? []).map((id) => [id, row[id] ?? null]));
    // Asked for by name, an empty field is passed over: it would take something out of the file that nobody looked at.
    const wanted = fields ? Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null)) : values;
    const write = writeFields(row.id, wanted, known.get(row.id) ?? null);
    return write ? [write] : [];
  });
}

/** Applies a draft; files are written before this returns when they are few, else by a run. @throws as applyDraft does */
export async function applyWithFiles(
  context: ChangeContext,
  draft: Draft,
  undoOf: number | null = null,
): Promise<Applied> {
  const applied = await applyDraft(context.database, draft, undoOf);
  const waiting = draft.items.filter(isFileItem).length;
  if (waiting === 0) return applied;
  if (waiting > AT_ONCE) {
    const runId = await queueWriting(context, applied.changeSetId, applied.title, waiting);
    return { ...applied, files: { written: 0, waiting, runId } };
  }
  const report = await writeChangeSet(context, applied.changeSetId);
  return {
    ...applied,
    conflicts: [...applied.conflicts, ...report.left],
    files: { written: report.written, waiting: 0, runId: null },
  };
}

/** Queues the file part of a change set as a run of its own. */
async function queueWriting(
  { database, queue }: ChangeContext,
  changeSetId: number,
  title: string,
  total: number,
): Promise<number> {
  const run = await Run.create({ kind: 'writing', title: `Write files: ${title}`, total });
  await ChangeSet.update({ runId: run.id }, { where: { id: changeSetId } });
  await addJob(queue, changeSetId);
  await database.notify({ kind: 'run', runId: run.id });
  return run.id;
}

/** One writer at a time: disks like it, and change sets end in the order in which they were made. */
const addJob = (queue: Queue, changeSetId: number): Promise<void> =>
  queue.add([
    { task: 'write', key: `write:${changeSetId}`, payload: { changeSetId }, priority: -30, queueName: 'files' },
  ]);

export interface WriteReport {
  written: number;
  left: { item: ChangeItem; reason: string }[];
  cancelled: boolean;
}

/** Writes what waits in a change set, line by line; what stands in the way of one does not stop the rest. */
export async function writeChangeSet(
  context: WriteContext,
  changeSetId: number,
  {
    stop = () => Promise.resolve(false),
    progress = () => Promise.resolve(),
  }: { stop?: () => Promise<boolean>; progress?: (settled: Settled, trackId: number) => Promise<void> } = {},
): Promise<WriteReport> {
  const { database } = context;
  const report: WriteReport = { written: 0, left: [], cancelled: false };
  for (let seq = -1; ;) {
    const lines = await database.rows<{ seq: number; item: FileItem }>(
      "SELECT seq, item FROM change_items WHERE change_set_id = $1 AND state = 'waiting' AND seq > $2 ORDER BY seq LIMIT 50",
      [changeSetId, seq],
    );
    if (lines.length === 0) break;
    for (const line of lines) {
      if (await stop()) {
        report.cancelled = true;
        break;
      }
      seq = line.seq;
      const settled = await writeItem(context, changeSetId, line.seq, line.item);
      if (settled.state === 'done') report.written++;
      else report.left.push({ item: line.item, reason: settled.reason! });
      await progress(settled, line.item.trackId);
    }
    if (report.cancelled) break;
  }
  await countAgain(context, changeSetId);
  return report;
}

async function countAgain({ database }: WriteContext, changeSetId: number): Promise<void> {
  await database.run(
    `UPDATE change_sets SET done = c.done, conflicts = c.conflicts FROM (SELECT count(*) FILTER (WHERE state = 'done') AS done, count(*) FILTER (WHERE state IN ('conflict', 'failed')) AS conflicts
     FROM change_items WHERE change_set_id = $1) c WHERE id = $1`,
    [changeSetId],
  );
  await database.notify({ kind: 'changes' });
  await database.notify({ kind: 'tracks' });
}

/** Takes a change set back, or chosen lines of it. @throws Problem when it cannot be. */
export async function undoChangeSet(
  context: ChangeContext,
  id: number,
  lines: number[] | null = null,
): Promise<Applied> {
  const { database } = context;
  const set = await ChangeSet.findByPk(id);
  if (!set) throw new Problem(404, 'not-found', 'That change is not there');
  if (set.undoneBy !== null) throw new Problem(409, 'already-undone', `"${set.title}" has been taken back already`);
  const [waiting] = await database.rows<{ n: number }>(
    "SELECT count(*) AS n FROM change_items WHERE change_set_id = $1 AND state = 'waiting'",
    [id],
  );
  if (waiting!.n > 0)
    throw new Problem(409, 'still-writing', `"${set.title}" is still being written; cancel that first`);
  const rows = await database.rows<{ seq: number; item: ChangeItem }>(
    "SELECT seq, item FROM change_items WHERE change_set_id = $1 AND state = 'done' AND undone_by IS NULL AND ($2::int[] IS NULL OR seq = ANY($2::int[])) ORDER BY seq",
    [id, lines],
  );
  if (rows.length === 0) throw new Problem(409, 'nothing-to-do', 'Nothing of this is left to take back');
  const base = set.title.replace(/^(Undo|Redo): /, '');
  const title = `${set.undoOf === null ? 'Undo' : 'Redo'}: ${lines ? `${rows.length === 1 ? 'one line' : `${rows.length} lines`} of ` : ''}${base}`;
  const items = rows
    .map(({ seq, item }): ChangeItem => {
      const back = inverse(item);
      return back.kind === 'write-tags' ? { ...back, restores: { changeSetId: id, seq } } : back;
    })
    .reverse();
  const applied = await applyWithFiles(context, { title, items }, id);
  await database.run('UPDATE change_items SET undone_by = $3 WHERE change_set_id = $1 AND seq = ANY($2::int[])', [
    id,
    rows.map((r) => r.seq),
    applied.changeSetId,
  ]);
  const [left] = await database.rows<{ n: number }>(
    "SELECT count(*) AS n FROM change_items WHERE change_set_id = $1 AND state = 'done' AND undone_by IS NULL",
    [id],
  );
  if (left!.n === 0) await set.update({ undoneBy: applied.changeSetId });
  // Taking back an undo makes the original stand again.
  if (set.undoOf !== null && left!.n === 0) await bringBack(context, set.undoOf, id);
  return applied;
}

async function bringBack({ database }: ChangeContext, original: number, undo: number): Promise<void> {
  await ChangeSet.update({ undoneBy: null }, { where: { id: original } });
  await database.run('UPDATE change_items SET undone_by = NULL WHERE change_set_id = $1 AND undone_by = $2', [
    original,
    undo,
  ]);
}

/** After a restart: change sets with lines that wait and no job get one; says what was put right. */
export async function recoverWriting(context: ChangeContext, mended: readonly string[]): Promise<void> {
  const { database, queue } = context;
  for (const sentence of mended) log.warn({ writing: true }, sentence);
  const open = await database.rows<{ id: number; title: string; runId: number | null; n: number }>(
    `SELECT s.id, s.title, s.run_id AS "runId", count(*) AS n FROM change_items i JOIN change_sets s ON s.id = i.change_set_id
     WHERE i.state = 'waiting' AND NOT EXISTS (SELECT 1 FROM graphile_worker.jobs j WHERE j.key = 'write:' || s.id) GROUP BY s.id`,
  );
  for (const { id, title, runId, n } of open) {
    if (runId === null) await queueWriting(context, id, title, n);
    else await addJob(queue, id);
  }
  if (mended.length)
    await Run.create({
      kind: 'writing',
      title: 'Files put right after a broken end',
      state: 'done',
      total: mended.length,
      done: mended.length,
      finishedAt: new Date(),
      report: { mended: [...mended] } as object,
    });
}
