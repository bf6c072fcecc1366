/**
 * Scanning a root: finds new, changed, vanished and returned files, reads their tags, and says of each
 * file that was not taken why. Doing it again, also after a kill midway, changes nothing more.
 */
import type { Origins } from '@early-set/core/api/types';
import { readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { merge } from '@early-set/core/fields/merge';
import type { FieldValue, Held, TrackValues } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
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

export interface ScanReport { found: number; taken: number; changed: number; returned: number; missing: number; notTaken: number }

export interface ScanContext {
  database: Database;
  art: ArtStore;
  root: { id: number; path: string };
  /** Told after each batch: done and total files, the file in hand, the tracks that came in. */
  progress: (done: number, total: number, current: string | null, newTracks: number[]) => Promise<void>;
  signal?: AbortSignal;
}

interface KnownFile { id: number; size: number; modifiedMs: number; state: 'here' | 'missing' }
interface Refusal { path: string; code: string; reason: string; size: number; modifiedMs: number }
type Reading = { file: FoundFile; read: ReadFile; artHash: string | null } | { refused: Refusal };

const BATCH = 48;
const PARALLEL = 6;

/** Scans. @throws Problem when the root cannot be read, so that an unplugged drive does not make everything "missing". */
export async function scanRoot(context: ScanContext): Promise<ScanReport> {
  const { database, root, signal } = context;
  const known = new Map((await database.rows<KnownFile & { path: string }>('SELECT id, path, file_size AS size, file_modified_ms AS "modifiedMs", file_state AS state FROM tracks WHERE root_id = $1', [root.id])).map((k) => [k.path, k]));
  const refusedBefore = new Map((await database.rows<Refusal>('SELECT path, code, reason, file_size AS size, file_modified_ms AS "modifiedMs" FROM not_taken WHERE root_id = $1', [root.id])).map((r) => [r.path, r]));
  const report: ScanReport = { found: 0, taken: 0, changed: 0, returned: 0, missing: 0, notTaken: 0 };
  const seen = new Set<string>();
  const covers = new Map<string, string>();
  const refusals: Refusal[] = [];
  const toRead: FoundFile[] = [];
  try {
    for await (const file of walkFiles(root.path, (o) => refusals.push({ ...o, size: 0, modifiedMs: 0 }), signal)) {
      report.found++;
      seen.add(file.path);
      const kind = kindOf(file.path);
      if (kind.kind === 'cover') { covers.set(dirname(file.path), file.path); continue; }
      const before = refusedBefore.get(file.path);
      if (kind.kind === 'other') refusals.push({ ...file, code: 'not-music', reason: kind.reason });
      else if (sameFile(known.get(file.path), file)) continue;
      else if (before && sameFile(before, file)) refusals.push(before);
      else toRead.push(file);
    }
  } catch (error) {
    signal?.throwIfAborted();
    throw new Problem(404, 'folder-not-found', `The folder ${root.path} cannot be read (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}); nothing was marked as missing`);
  }

  await markReturned(context, known, seen, report);
  await markMissing(context, known, seen, report);
  for (let from = 0; from < toRead.length; from += BATCH) {
    signal?.throwIfAborted();
    const batch = toRead.slice(from, from + BATCH);
    const readings = await inParallel(batch, PARALLEL, (file) => readOne(context, file, covers));
    const stored = await storeBatch(context, readings, known, report);
    for (const r of readings) if ('refused' in r) refusals.push(r.refused);
    await context.progress(Math.min(toRead.length, from + BATCH), toRead.length, batch.at(-1)!.path, stored);
  }
  await storeRefusals(context, refusals);
  report.notTaken = refusals.length;
  return report;
}

const sameFile = (a: { size: number; modifiedMs: number } | undefined, b: FoundFile): boolean => a !== undefined && a.size === b.size && Math.abs(a.modifiedMs - b.modifiedMs) < 1;

async function markReturned({ database }: ScanContext, known: Map<string, KnownFile>, seen: Set<string>, report: ScanReport): Promise<void> {
  const back = [...known].filter(([path, k]) => k.state === 'missing' && seen.has(path)).map(([, k]) => k.id);
  if (back.length) await database.run("UPDATE tracks SET file_state = 'here' WHERE id = ANY($1::int[])", [back]);
  report.returned = back.length;
}

async function markMissing({ database }: ScanContext, known: Map<string, KnownFile>, seen: Set<string>, report: ScanReport): Promise<void> {
  const gone = [...known].filter(([path, k]) => k.state === 'here' && !seen.has(path)).map(([, k]) => k.id);
  if (gone.length) await database.run("UPDATE tracks SET file_state = 'missing' WHERE id = ANY($1::int[])", [gone]);
  report.missing = gone.length;
}

async function readOne({ root, art, signal }: ScanContext, file: FoundFile, covers: Map<string, string>): Promise<Reading> {
  const refuse = (code: string, reason: string): Reading => ({ refused: { path: file.path, size: file.size, modifiedMs: file.modifiedMs, code, reason } });
  if (file.size === 0) return refuse('empty', 'The file is empty (zero bytes)');
  try {
    const read = await readTags(await resolveInRoot(root.path, file.path), signal);
    return { file, read, artHash: await pictureFor(root.path, art, file, read, covers) };
  } catch (error) {
    signal?.throwIfAborted();
    if (error instanceof UnreadableAudio) return refuse(/picture/.test(error.message) ? 'not-music' : 'broken', error.message);
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'EACCES' || code === 'EPERM') return refuse('unreadable', 'The file may not be read');
    return refuse('broken', error instanceof Problem ? error.message : 'The file could not be read');
  }
}

/** The embedded picture, or the one that lies in the folder. */
async function pictureFor(rootPath: string, art: ArtStore, file: FoundFile, read: ReadFile, covers: Map<string, string>): Promise<string | null> {
  const embedded = read.picture ? await art.keep(read.picture.data).catch(() => null) : null;
  if (embedded) return embedded;
  const cover = covers.get(dirname(file.path));
  const data = cover ? await readFile(join(rootPath, cover)).catch(() => null) : null;
  return data ? art.keep(data).catch(() => null) : null;
}

/** Stores what was read in one transaction; returns the tracks that want measuring. */
async function storeBatch({ database, root }: ScanContext, readings: Reading[], known: Map<string, KnownFile>, report: ScanReport): Promise<number[]> {
  const at = new Date().toISOString();
  const ids: number[] = [];
  await database.transaction(async (t) => {
    for (const reading of readings) {
      if ('refused' in reading) continue;
      const { file, read, artHash } = reading;
      const before = known.get(file.path);
      if (before) {
        await mergeChanged(database, before.id, file, read, artHash, at, t);
        ids.push(before.id);
        report.changed++;
        continue;
      }
      const values: TrackValues = { ...read.technical, ...read.tags, path: file.path };
      const assignments = assignmentsFor({ ...read.technical, ...read.tags }, values);
      const parameters: unknown[] = [root.id, file.path, file.size, file.modifiedMs, artHash];
      const columns = assignments.map(({ column }) => column);
      const places = assignments.map(({ cast, value }) => `$${parameters.push(value)}::${cast}`);
      const [row] = await database.rows<{ id: number }>(
        `INSERT INTO tracks (root_id, path, file_size, file_modified_ms, art_hash${columns.map((c) => `, ${c}`).join('')})
         VALUES ($1, $2, $3, $4, $5${places.map((p) => `, ${p}`).join('')}) ON CONFLICT (root_id, path) DO NOTHING RETURNING id`, parameters, t);
      if (!row) continue; // another process took it in the meantime
      ids.push(row.id);
      report.taken++;
      await storeOrigins(database, [{ id: row.id, origins: originsOf(read.tags, at) }], t);
    }
  });
  return ids;
}

const originsOf = (tags: Record<string, FieldValue>, at: string): Origins => Object.fromEntries(Object.keys(tags).map((field) => [field, { origin: 'file tag' as const, at }]));

/** A file that changed: what came from its tags follows them, everything else only fills gaps; it is measured again. */
async function mergeChanged(database: Database, id: number, file: FoundFile, read: ReadFile, artHash: string | null, at: string, t: Parameters<typeof storeValues>[2]): Promise<void> {
  const fields = Object.keys(read.tags);
  const [row] = await database.rows<{ origins: Origins | null } & TrackValues>(
    `SELECT o.origins, ${SEARCHED_SELECT}, t.year, t.bpm, t.key, t.track_number AS "trackNumber", t.disc_number AS "discNumber" FROM tracks t LEFT JOIN track_origins o ON o.track_id = t.id WHERE t.id = $1 FOR UPDATE OF t`, [id], t);
  if (!row) return;
  const { origins, ...values } = row;
  const changed: TrackValues = { ...read.technical };
  const changedOrigins: Origins = {};
  for (const field of fields) {
    const held: Held | undefined = heldOf(values[field], origins ?? {}, field) ?? undefined;
    const next = merge(held, { value: read.tags[field] ?? null, origin: 'file tag', at }, held?.origin === 'file tag' ? 'theirs' : 'fill gaps');
    if (!next || next === held) continue;
    changed[field] = next.value;
    changedOrigins[field] = originOf(next);
  }
  await storeValues(database, [{ id, changed, all: { ...values, ...changed } }], t);
  await storeOrigins(database, [{ id, origins: changedOrigins }], t);
  await database.run(
    "UPDATE tracks SET file_size = $2, file_modified_ms = $3, file_state = 'here', art_hash = COALESCE($4, art_hash), analysis_state = 'none' WHERE id = $1", [id, file.size, file.modifiedMs, artHash], t);
}

async function storeRefusals({ database, root }: ScanContext, refusals: Refusal[]): Promise<void> {
  await database.transaction(async (t) => {
    await database.run('DELETE FROM not_taken WHERE root_id = $1', [root.id], t);
    await database.run(
      `INSERT INTO not_taken (root_id, path, code, reason, file_size, file_modified_ms)
       SELECT $1, v.path, v.code, v.reason, v.size, v."modifiedMs" FROM jsonb_to_recordset($2::jsonb) AS v(path text, code text, reason text, size bigint, "modifiedMs" float8) ON CONFLICT DO NOTHING`,
      [root.id, JSON.stringify(refusals)], t);
  });
}

/** Maps with at most `width` at the same time, in order. */
async function inParallel<A, B>(items: A[], width: number, work: (item: A) => Promise<B>): Promise<B[]> {
  const out = new Array<B>(items.length);
  let next = 0;
  await Promise.all(Array.from({ length: Math.min(width, items.length) }, async () => {
    while (next < items.length) {
      const i = next++;
      out[i] = await work(items[i]!);
    }
  }));
  return out;
}
