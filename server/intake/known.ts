/** What the library knows of a root's files, and how it learns that they went or came back. */
import type { ScanPart } from '@early-set/core/conditions/condition';
import type { FileState } from '@early-set/core/changes/snapshot';
import type { Database } from '../db/database.ts';
import { storeFiles } from '../library/trackFiles.ts';
import type { KnownFile, Refusal, ScanContext } from './context.ts';
import { noteScanned } from './scanTracks.ts';

/** All files of a root but those in quarantine, by path. */
export async function knownFiles(database: Database, rootId: number): Promise<Map<string, KnownFile>> {
  const rows = await database.rows<KnownFile>(
    `SELECT f.id, f.track_id AS "trackId", f.role, f.path, f.size, f.modified_ms AS "modifiedMs",
      f.changed_ms AS "changedMs", f.state, CASE WHEN f.role = 'main' THEN g.tag_hash END AS "tagHash"
     FROM track_files f LEFT JOIN file_tags g ON g.track_id = f.track_id WHERE f.root_id = $1 AND f.state <> 'retired'`,
    [rootId],
  );
  return new Map(rows.map((k) => [k.path, k]));
}

/** What was not taken the last time, by path. */
export async function refusalsBefore(database: Database, rootId: number): Promise<Map<string, Refusal>> {
  const rows = await database.rows<Refusal>(
    'SELECT path, code, reason, file_size AS size, file_modified_ms AS "modifiedMs" FROM not_taken WHERE root_id = $1',
    [rootId],
  );
  return new Map(rows.map((r) => [r.path, r]));
}

/** Would a scan lose more than half of a root? Then its drive is more likely away than its files gone. */
export function losesMost(known: ReadonlyMap<string, KnownFile>, seen: ReadonlySet<string>): boolean {
  const here = [...known.values()].filter((k) => k.state !== 'missing');
  return here.filter((k) => !seen.has(k.path)).length * 2 > here.length;
}

/** Files get a state; of their tracks it is noted what this scan found of them. */
async function setStates(
  { database, runId }: ScanContext,
  files: readonly KnownFile[],
  state: FileState,
  part: ScanPart,
  found: (file: KnownFile) => boolean = () => true,
): Promise<void> {
  if (files.length === 0) return;
  await database.transaction(async (t) => {
    await storeFiles(
      database,
      files.map(({ id }) => ({ id, state })),
      t,
    );
    const tracks = files.filter((f) => f.role === 'main' && found(f)).map((f) => f.trackId);
    await noteScanned(database, runId, part, tracks, t);
  });
}

/** Files that were not there and are now; returns how many. */
export async function markReturned(
  context: ScanContext,
  known: ReadonlyMap<string, KnownFile>,
  seen: ReadonlySet<string>,
): Promise<number> {
  const back = [...known.values()].filter((k) => k.state !== 'here' && seen.has(k.path));
  const wasMissing = (k: KnownFile): boolean => k.state === 'missing';
  await setStates(context, back, 'here', 'returned', wasMissing);
  return back.filter(wasMissing).length;
}

/** Files that were there and are not; returns how many. One that was moved since the list was taken is not gone. */
export async function markMissing(
  context: ScanContext,
  known: ReadonlyMap<string, KnownFile>,
  seen: ReadonlySet<string>,
): Promise<number> {
  const gone = [...known.values()].filter((k) => k.state !== 'missing' && !seen.has(k.path));
  if (gone.length === 0) return 0;
  const still = await context.database.rows<{ id: string }>(
    `SELECT f.id FROM track_files f JOIN jsonb_to_recordset($1::jsonb) AS v(id uuid, path text) ON v.id = f.id
      AND v.path = f.path`,
    [JSON.stringify(gone.map(({ id, path }) => ({ id, path })))],
  );
  const there = new Set(still.map((s) => s.id));
  const lost = gone.filter((k) => there.has(k.id));
  await setStates(context, lost, 'missing', 'missing');
  return lost.length;
}
