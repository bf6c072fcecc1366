/** Files that belong to a track's file: karaoke graphics of the same name beside it. They go where it goes. */
import { randomUUID } from 'node:crypto';
import type { ChangeItem } from '@early-set/core/changes/items';
import { quarantined, relocateFile, relocation, type RelocateFile } from '@early-set/core/changes/kinds/relocateFile';
import type { FileRef } from '@early-set/core/files/fileRef';
import { endingOf, folderOf } from '@early-set/core/files/paths';
import type { Database } from '../db/database.ts';

/** What the only kind of companion is called. */
export const GRAPHICS = 'karaoke graphics';

/** "In/Slow Lamps" for "In/Slow Lamps.mp3", as drives tell names apart at the least. */
const stemOf = (path: string): string =>
  path
    .slice(0, path.length - endingOf(path).length)
    .normalize('NFC')
    .toLowerCase();
const nameStem = (path: string): string => stemOf(path.slice(folderOf(path).length));

interface Companion {
  id: string;
  rootId: number;
  path: string;
  state: string;
}

/** What happens to one file over all items of a draft. */
interface Way {
  mode: RelocateFile['mode'];
  fileId: string;
  trackId: number;
  from: FileRef;
  to: FileRef;
}

function waysOf(items: readonly ChangeItem[]): Way[] {
  const ways = new Map<string, Way>();
  for (const item of items) {
    const moved = relocation(item);
    const from = moved && (moved.before ?? moved.source);
    if (!moved || !from) continue;
    const { mode, fileId, trackId, after } = moved;
    ways.set(fileId, { mode, fileId, trackId, from: ways.get(fileId)?.from ?? from, to: after });
  }
  return [...ways.values()];
}

/** A draft with what follows from it for companions; those that it names itself are left to it. */
export async function withCompanions(database: Database, items: readonly ChangeItem[]): Promise<readonly ChangeItem[]> {
  const ways = waysOf(items);
  if (ways.length === 0) return items;
  const companions = await database.rows<Companion>(
    `SELECT id, root_id AS "rootId", path, state FROM track_files
      WHERE role = 'companion' AND state IN ('here', 'retired') AND (track_id = ANY($1::int[])
        OR track_id IN (SELECT track_id FROM track_files WHERE id = ANY($2::uuid[])))`,
    // Of tracks that are made one in the same draft, files still belong to the other.
    [[...new Set(ways.map((w) => w.trackId))], ways.map((w) => w.fileId)],
  );
  const named = new Set(ways.map((w) => w.fileId));
  const more: RelocateFile[] = [];
  for (const companion of companions) {
    if (named.has(companion.id)) continue;
    const way = ways.find((w) => goesWith(companion, w));
    if (!way) continue;
    more.push(followed(companion, way));
  }
  return more.length ? [...items, ...more] : items;
}

function goesWith({ rootId, path, state }: Companion, { mode, from }: Way): boolean {
  // In quarantine each file has a folder of its own.
  if (mode === 'restore') return state === 'retired' && nameStem(path) === nameStem(from.path);
  return state === 'here' && rootId === from.rootId && stemOf(path) === stemOf(from.path);
}

function followed({ id, rootId, path }: Companion, { mode, trackId, to }: Way): RelocateFile {
  const before: FileRef = { rootId, path };
  if (mode === 'retire') return relocateFile(mode, { trackId, fileId: id }, before, quarantined(before, id));
  const after = {
    rootId: to.rootId,
    path: to.path.slice(0, to.path.length - endingOf(to.path).length) + endingOf(path),
  };
  return mode === 'copy'
    ? relocateFile(mode, { trackId, fileId: randomUUID() }, null, after, before)
    : relocateFile(mode, { trackId, fileId: id }, before, after);
}

/** A file that may be a companion. */
export interface MayBelong {
  path: string;
  size: number;
  modifiedMs: number;
  changedMs: number;
}

/**
 * Ties karaoke graphics of a root to the tracks whose files lie beside them under the same name. Answers which belong
 * to none.
 */
export async function tieGraphics<F extends MayBelong>(
  database: Database,
  rootId: number,
  graphics: readonly F[],
): Promise<F[]> {
  if (graphics.length === 0) return [];
  const mains = await database.rows<{ trackId: number; path: string }>(
    `SELECT track_id AS "trackId", path FROM track_files WHERE root_id = $1 AND role = 'main' AND state = 'here'
      AND regexp_replace(path, '[^/]*$', '') = ANY($2::text[])`,
    [rootId, [...new Set(graphics.map((g) => folderOf(g.path)))]],
  );
  const trackOf = new Map(mains.map((m) => [stemOf(m.path), m.trackId]));
  const tied = graphics.flatMap((file) => {
    const trackId = trackOf.get(stemOf(file.path));
    return trackId === undefined ? [] : [{ ...file, trackId }];
  });
  await database.run(
    `INSERT INTO track_files (track_id, root_id, path, role, companion, size, modified_ms, changed_ms)
      SELECT v."trackId", $1, v.path, 'companion', '${GRAPHICS}', v.size, v."modifiedMs", v."changedMs"
        FROM jsonb_to_recordset($2::jsonb)
          AS v("trackId" int, path text, size bigint, "modifiedMs" float8, "changedMs" float8)
     ON CONFLICT (root_id, path) DO UPDATE SET track_id = excluded.track_id, size = excluded.size,
       modified_ms = excluded.modified_ms, changed_ms = excluded.changed_ms
       WHERE track_files.role = 'companion' AND (track_files.track_id, track_files.size, track_files.modified_ms)
         IS DISTINCT FROM (excluded.track_id, excluded.size, excluded.modified_ms)`,
    [rootId, JSON.stringify(tied)],
  );
  const tiedPaths = new Set(tied.map((file) => file.path));
  return graphics.filter((file) => !tiedPaths.has(file.path));
}
