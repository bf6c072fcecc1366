/**
 * Scanning a root: finds new, changed, vanished and returned files, reads their tags, and says of each
 * file that was not taken why. Doing it again, also after a kill midway, changes nothing more.
 */
import type { DeskSettings, Origins } from '@early-set/core/api/types';
import { readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { merge } from '@early-set/core/fields/merge';
import type { FieldValue, Held, TrackValues } from '@early-set/core/fields/values';
import { TAG_FIELDS } from '@early-set/core/tags/edit';
import { unwrittenAfter } from '@early-set/core/tags/values';
import { storeFileTags } from '../changes/fileTags.ts';
import type { Database } from '../db/database.ts';
import { FileTrouble, type FilePool } from '../files/filePool.ts';
import type { FileStamp } from '../files/fileWork.ts';
import { assignmentsFor, SEARCHED_SELECT } from '../library/columns.ts';
import { heldOf, originOf, storeOrigins } from '../library/origins.ts';
import { storeValues } from '../library/columns.ts';
import type { ArtStore } from '../media/art.ts';
import { UnreadableAudio } from '../media/decode.ts';
import { resolveInRoot } from '../media/roots.ts';
import { readTags, type ReadFile } from '../media/tags.ts';
import { Problem } from '../problem.ts';
import { kindOf } from './kinds.ts';
import { walkFiles, type FoundFile } from './walk.ts';

export interface ScanReport {
  found: number;
  taken: number;
  changed: number;
  returned: number;
  missing: number;
  notTaken: number;
  /** Changed files that say otherwise than what was typed. */ differs: number;
}

export interface ScanContext {
  database: Database;
  art: ArtStore;
  files: FilePool;
  /** What happens when a changed file says something else than what is there. */
  policy: DeskSettings['changedFiles'];
  root: { id: number; path: string };
  /** Told after each batch: done and total files, the file in hand, the tracks that came in. */
  progress: (done: number, total: number, current: string | null, newTracks: number[]) => Promise<void>;
  signal?: AbortSignal;
}

interface KnownFile {
  id: number;
  size: number;
  modifiedMs: number;
  changedMs: number | null;
  tagHash: string | null;
  state: 'here' | 'missing';
}
interface Refusal {
  path: string;
  code: string;
  reason: string;
  size: number;
  modifiedMs: number;
}
interface Taken {
  file: FoundFile;
  read: ReadFile;
  artHash: string | null;
  stamp: FileStamp | null;
  soundToo: boolean;
}
type Reading = Taken | { refused: Refusal };

const BATCH = 48;
const PARALLEL = 6;

/** Scans. @throws Problem when the root cannot be read, so that an unplugged drive does not make everything "missing". */
export async function scanRoot(context: ScanContext): Promise<ScanReport> {
  const { database, root, signal } = context;
  const known = new Map(
    (
      await database.rows<KnownFile & { path: string }>(
        'SELECT t.id, t.path, t.file_size AS size, t.file_modified_ms AS "modifiedMs", t.file_changed_ms AS "changedMs", f.tag_hash AS "tagHash", t.file_state AS state FROM tracks t LEFT JOIN file_tags f ON f.track_id = t.id WHERE t.root_id = $1',
        [root.id],
      )
    ).map((k) => [k.path, k]),
  );
  const refusedBefore = new Map(
    (
      await database.rows<Refusal>(
        'SELECT path, code, reason, file_size AS size, file_modified_ms AS "modifiedMs" FROM not_taken WHERE root_id = $1',
        [root.id],
      )
    ).map((r) => [r.path, r]),
  );
  const report: ScanReport = { found: 0, taken: 0, changed: 0, returned: 0, missing: 0, notTaken: 0, differs: 0 };
  const seen = new Set<string>();
  const covers = new Map<string, string>();
  const refusals: Refusal[] = [];
  const toRead: FoundFile[] = [],
    touched: FoundFile[] = [];
  try {
    for await (const file of walkFiles(root.path, (o) => refusals.push({ ...o, size: 0, modifiedMs: 0 }), signal)) {
      report.found++;
      seen.add(file.path);
      const kind = kindOf(file.path);
      if (kind.kind === 'cover') {
        covers.set(dirname(file.path), file.path);
        continue;
      }
      const before = refusedBefore.get(file.path);
      if (kind.kind === 'other') refusals.push({ ...file, code: 'not-music', reason: kind.reason });
      else if (sameFile(known.get(file.path), file)) {
        if (known.get(file.path)!.changedMs !== file.changedMs) touched.push(file);
      } else if (before && sameFile(before, file)) refusals.push(before);
      else toRead.push(file);
    }
  } catch (error) {
    signal?.throwIfAborted();
    throw new Problem(
      404,
      'folder-not-found',
      `The folder ${root.path} cannot be read (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}); nothing was marked as missing`,
    );
  }

  await markReturned(context, known, seen, report);
  await markMissing(context, known, seen, report);
  toRead.push(...(await retagged(context, touched, known)));
  for (let from = 0; from < toRead.length; from += BATCH) {
    signal?.throwIfAborted();
    const batch = toRead.slice(from, from + BATCH);
    const readings = await inParallel(batch, PARALLEL, (file) => readOne(context, file, known.get(file.path), covers));
    const stored = await storeBatch(context, readings, known, report);
    for (const r of readings) if ('refused' in r) refusals.push(r.refused);
    await context.progress(Math.min(toRead.length, from + BATCH), toRead.length, batch.at(-1)!.path, stored);
  }
  await storeRefusals(context, refusals);
  report.notTaken = refusals.length;
  return report;
}

const sameFile = (a: { size: number; modifiedMs: number } | undefined, b: FoundFile): boolean =>
  a !== undefined && a.size === b.size && Math.abs(a.modifiedMs - b.modifiedMs) < 1;

/** Of files that somebody touched without changing size or time: those whose tags are others now. */
async function retagged(
  context: ScanContext,
  touched: FoundFile[],
  known: Map<string, KnownFile>,
): Promise<FoundFile[]> {
  const out: FoundFile[] = [];
  for (let from = 0; from < touched.length; from += 500) {
    context.signal?.throwIfAborted();
    const looked = await inParallel(touched.slice(from, from + 500), PARALLEL, async (file) => ({
      file,
      before: known.get(file.path)!,
      stamp: await stampOf(context, file),
    }));
    const same = looked.filter(
      ({ before, stamp }) => stamp && (before.tagHash === null || before.tagHash === stamp.tagHash),
    );
    await context.database.transaction((t) =>
      storeFileTags(
        context.database,
        same.map(({ before, stamp }) => ({ id: before.id, stamp: stamp! })),
        t,
      ),
    );
    out.push(...looked.filter((l) => l.stamp && !same.includes(l)).map((l) => l.file));
  }
  return out;
}

/** What the tags of a file say; null where they cannot be read so that they could be written. */
async function stampOf({ files, root }: ScanContext, file: FoundFile): Promise<FileStamp | null> {
  try {
    return await files.ask({ op: 'look', path: await resolveInRoot(root.path, file.path) });
  } catch (error) {
    if (error instanceof FileTrouble || error instanceof Problem) return null;
    throw error;
  }
}

async function markReturned(
  { database }: ScanContext,
  known: Map<string, KnownFile>,
  seen: Set<string>,
  report: ScanReport,
): Promise<void> {
  const back = [...known].filter(([path, k]) => k.state === 'missing' && seen.has(path)).map(([, k]) => k.id);
  if (back.length) await database.run("UPDATE tracks SET file_state = 'here' WHERE id = ANY($1::int[])", [back]);
  report.returned = back.length;
}

async function markMissing(
  { database }: ScanContext,
  known: Map<string, KnownFile>,
  seen: Set<string>,
  report: ScanReport,
): Promise<void> {
  const gone = [...known]
    .filter(([path, k]) => k.state === 'here' && !seen.has(path))
    .map(([path, k]) => ({ id: k.id, path }));
  // A track that was moved here since the list was taken is not gone.
  if (gone.length)
    await database.run(
      "UPDATE tracks t SET file_state = 'missing' FROM jsonb_to_recordset($1::jsonb) AS v(id int, path text) WHERE t.id = v.id AND t.path = v.path",
      [JSON.stringify(gone)],
    );
  report.missing = gone.length;
}

async function readOne(
  context: ScanContext,
  file: FoundFile,
  before: KnownFile | undefined,
  covers: Map<string, string>,
): Promise<Reading> {
  const { root, art, signal } = context;
  const refuse = (code: string, reason: string): Reading => ({
    refused: { path: file.path, size: file.size, modifiedMs: file.modifiedMs, code, reason },
  });
  if (file.size === 0) return refuse('empty', 'The file is empty (zero bytes)');
  try {
    const read = await readTags(await resolveInRoot(root.path, file.path), signal);
    return {
      file,
      read,
      artHash: await pictureFor(root.path, art, file, read, covers),
      stamp: await stampOf(context, file),
      soundToo: !sameFile(before, file),
    };
  } catch (error) {
    signal?.throwIfAborted();
    if (error instanceof UnreadableAudio)
      return refuse(/picture/.test(error.message) ? 'not-music' : 'broken', error.message);
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EACCES' || code === 'EPERM') return refuse('unreadable', 'The file may not be read');
    return refuse('broken', error instanceof Problem ? error.message : 'The file could not be read');
  }
}

/** The embedded picture, or the one that lies in the folder. */
async function pictureFor(
  rootPath: string,
  art: ArtStore,
  file: FoundFile,
  read: ReadFile,
  covers: Map<string, string>,
): Promise<string | null> {
  const embedded = read.picture ? await art.keep(read.picture.data).catch(() => null) : null;
  if (embedded) return embedded;
  const cover = covers.get(dirname(file.path));
  const data = cover ? await readFile(join(rootPath, cover)).catch(() => null) : null;
  return data ? art.keep(data).catch(() => null) : null;
}

/** Stores what was read in one transaction; returns the tracks that want measuring. */
async function storeBatch(
  context: ScanContext,
  readings: Reading[],
  known: Map<string, KnownFile>,
  report: ScanReport,
): Promise<number[]> {
  const { database, root } = context;
  const at = new Date().toISOString();
  const ids: number[] = [];
  await database.transaction(async (t) => {
    for (const reading of readings) {
      if ('refused' in reading) continue;
      const { file, read, artHash, stamp } = reading;
      const before = known.get(file.path);
      if (before) {
        if (await mergeChanged(context, before.id, reading, at, t)) report.differs++;
        if (reading.soundToo) ids.push(before.id);
        report.changed++;
        continue;
      }
      const values: TrackValues = { ...read.technical, ...read.tags, path: file.path };
      const assignments = assignmentsFor({ ...read.technical, ...read.tags }, values);
      const parameters: unknown[] = [root.id, file.path, file.size, file.modifiedMs, file.changedMs, artHash];
      const columns = assignments.map(({ column }) => column);
      const places = assignments.map(({ cast, value }) => `$${parameters.push(value)}::${cast}`);
      const [row] = await database.rows<{ id: number }>(
        `INSERT INTO tracks (root_id, path, file_size, file_modified_ms, file_changed_ms, art_hash${columns.map((c) => `, ${c}`).join('')})
         VALUES ($1, $2, $3, $4, $5, $6${places.map((p) => `, ${p}`).join('')}) ON CONFLICT (root_id, path) DO NOTHING RETURNING id`,
        parameters,
        t,
      );
      if (!row) continue; // another process took it in the meantime
      ids.push(row.id);
      report.taken++;
      await storeOrigins(database, [{ id: row.id, origins: originsOf(read.tags, at) }], t);
      if (stamp) await storeFileTags(database, [{ id: row.id, stamp }], t);
    }
  });
  return ids;
}

const originsOf = (tags: Record<string, FieldValue>, at: string): Origins =>
  Object.fromEntries(Object.keys(tags).map((field) => [field, { origin: 'file tag' as const, at }]));

/** What tags may fill, besides what is selected for the search anyway. */
const TAG_SELECT = [
  SEARCHED_SELECT,
  ...TAG_FIELDS.filter((f) => !f.searched).map((f) => `t.${f.column} AS "${f.id}"`),
].join(', ');
const BY_PEOPLE = new Set(['typed', 'catalogue', 'destination']);

/**
 * A file that changed: what came from its tags follows them; the rest by the policy. It is measured again when more
 * than its tags may have changed. Returns whether it says otherwise than what was typed.
 */
async function mergeChanged(
  { database, policy }: ScanContext,
  id: number,
  { file, read, artHash, stamp, soundToo }: Taken,
  at: string,
  t: Parameters<typeof storeValues>[2],
): Promise<boolean> {
  const [row] = await database.rows<{ origins: Origins | null } & TrackValues>(
    `SELECT o.origins, ${TAG_SELECT} FROM tracks t LEFT JOIN track_origins o ON o.track_id = t.id WHERE t.id = $1 FOR UPDATE OF t`,
    [id],
    t,
  );
  if (!row) return false;
  const { origins, ...values } = row;
  const changed: TrackValues = { ...read.technical };
  const changedOrigins: Origins = {};
  const byPeople: string[] = [];
  for (const { id: field } of TAG_FIELDS) {
    const held: Held | undefined = heldOf(values[field], origins ?? {}, field) ?? undefined;
    if (!(field in read.tags) && held?.origin !== 'file tag') {
      if (held && BY_PEOPLE.has(held.origin)) byPeople.push(field);
      continue;
    }
    const next = merge(
      held,
      { value: read.tags[field] ?? null, origin: 'file tag', at },
      held?.origin === 'file tag' || (policy === 'theirs' && held?.origin !== 'analysis') ? 'theirs' : 'fill gaps',
    );
    if (next && BY_PEOPLE.has(next.origin)) byPeople.push(field);
    if (!next || next === held) continue;
    changed[field] = next.value;
    changedOrigins[field] = originOf(next);
  }
  const after: TrackValues = { ...values, ...changed };
  const unwritten = unwrittenAfter([], byPeople, (field) => after[field] ?? null, stamp?.fields ?? null);
  await storeValues(database, [{ id, changed: { ...changed, unwritten }, all: after }], t);
  await storeOrigins(database, [{ id, origins: changedOrigins }], t);
  await database.run(
    `UPDATE tracks SET file_size = $2, file_modified_ms = $3, file_changed_ms = $6, file_state = 'here', art_hash = COALESCE($4, art_hash), analysis_state = CASE WHEN $5 THEN 'none' ELSE analysis_state END WHERE id = $1`,
    [id, file.size, file.modifiedMs, artHash, soundToo, file.changedMs],
    t,
  );
  if (stamp) await storeFileTags(database, [{ id, stamp }], t);
  return unwritten.length > 0;
}

async function storeRefusals({ database, root }: ScanContext, refusals: Refusal[]): Promise<void> {
  await database.transaction(async (t) => {
    await database.run('DELETE FROM not_taken WHERE root_id = $1', [root.id], t);
    await database.run(
      `INSERT INTO not_taken (root_id, path, code, reason, file_size, file_modified_ms)
       SELECT $1, v.path, v.code, v.reason, v.size, v."modifiedMs" FROM jsonb_to_recordset($2::jsonb) AS v(path text, code text, reason text, size bigint, "modifiedMs" float8) ON CONFLICT DO NOTHING`,
      [root.id, JSON.stringify(refusals)],
      t,
    );
  });
}

/** Maps with at most `width` at the same time, in order. */
async function inParallel<A, B>(items: A[], width: number, work: (item: A) => Promise<B>): Promise<B[]> {
  const out = new Array<B>(items.length);
  let next = 0;
  await Promise.all(
    Array.from({ length: Math.min(width, items.length) }, async () => {
      while (next < items.length) {
        const i = next++;
        out[i] = await work(items[i]!);
      }
    }),
  );
  return out;
}
