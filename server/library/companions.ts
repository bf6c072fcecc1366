/**
 * Files that belong to music: karaoke graphics and cue sheets of the same name beside a file go where it goes; pictures
 * and cue sheets of a folder go with the last of its music, when all of it goes to one place.
 */
import { randomUUID } from 'node:crypto';
import type { ChangeItem } from '@early-set/core/changes/items';
import { quarantined, relocateFile, relocation, type RelocateFile } from '@early-set/core/changes/kinds/relocateFile';
import type { FileRef } from '@early-set/core/files/fileRef';
import { endingOf, folderOf } from '@early-set/core/files/paths';
import type { Database } from '../db/database.ts';

/** What companions are called. */
export const COMPANIONS = ['karaoke graphics', 'cue sheet', 'folder picture'] as const;
export type CompanionKind = (typeof COMPANIONS)[number];

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
  trackId: number;
  kind: CompanionKind;
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
    `SELECT id, root_id AS "rootId", path, state, track_id AS "trackId", companion AS kind FROM track_files
      WHERE role = 'companion' AND state IN ('here', 'retired') AND (track_id = ANY($1::int[])
        OR track_id IN (SELECT track_id FROM track_files WHERE id = ANY($2::uuid[])))`,
    // Of tracks that are made one in the same draft, files still belong to the other.
    [[...new Set(ways.map((w) => w.trackId))], ways.map((w) => w.fileId)],
  );
  const named = new Set(ways.map((w) => w.fileId));
  const more: RelocateFile[] = [];
  const ofFolders: Companion[] = [];
  for (const companion of companions) {
    if (named.has(companion.id)) continue;
    const way = ways.find((w) => goesWith(companion, w));
    if (way) more.push(followed(companion, way, besideOf(companion, way)));
    else if (companion.kind !== 'karaoke graphics') ofFolders.push(companion);
  }
  more.push(...(await withFolders(database, ofFolders, ways)));
  return more.length ? [...items, ...more] : items;
}

/** What follows for companions of folders that all their music leaves for one place, or is copied or restored to. */
async function withFolders(
  database: Database,
  companions: readonly Companion[],
  ways: readonly Way[],
): Promise<RelocateFile[]> {
  const inFolder = ({ rootId, path }: FileRef, name: string): FileRef => ({ rootId, path: folderOf(path) + name });
  const nameIn = ({ path }: Companion): string => path.slice(folderOf(path).length);
  const back = companions.flatMap((c) => {
    const way = ways.find((w) => w.mode === 'restore' && w.trackId === c.trackId);
    return way && c.state === 'retired' ? [followed(c, way, inFolder(way.to, nameIn(c)))] : [];
  });
  const leaving = new Map<string, Way[]>();
  for (const way of ways) {
    if (way.mode === 'restore' || (way.mode === 'move' && placeKeyOf(way.from) === placeKeyOf(way.to))) continue;
    const there = leaving.get(placeKeyOf(way.from));
    if (there) there.push(way);
    else leaving.set(placeKeyOf(way.from), [way]);
  }
  const here = companions.filter((c) => c.state === 'here' && leaving.has(placeKeyOf(c)));
  if (here.length === 0) return back;
  const music = await database.rows<{ rootId: number; folder: string; paths: string[] }>(
    `SELECT root_id AS "rootId", regexp_replace(path, '[^/]*$', '') AS folder, array_agg(path) AS paths FROM track_files
      WHERE root_id = ANY($1::int[]) AND role <> 'companion' AND state = 'here'
      GROUP BY 1, 2 HAVING regexp_replace(min(path), '[^/]*$', '') = ANY($2::text[])`,
    [[...new Set(here.map((c) => c.rootId))], [...new Set(here.map((c) => folderOf(c.path)))]],
  );
  const musicIn = new Map(music.map((m) => [placeKeyOf({ rootId: m.rootId, path: m.folder }), m.paths]));
  return [
    ...back,
    ...here.flatMap((companion) => {
      const own = leaving.get(placeKeyOf(companion))!,
        [one] = own;
      const gone = new Set(own.map((w) => w.from.path));
      const together = own.every((w) => w.mode === one!.mode && (w.mode === 'retire' || toOne(w, one!)));
      const whole = (musicIn.get(placeKeyOf(companion)) ?? []).every((path) => gone.has(path));
      return together && whole ? [followed(companion, one!, inFolder(one!.to, nameIn(companion)))] : [];
    }),
  ];
}

/** A folder of a root, of a file that lies in it. */
const placeKeyOf = ({ rootId, path }: FileRef): string => `${rootId}:${folderOf(path)}`;
const toOne = (a: Way, b: Way): boolean => placeKeyOf(a.to) === placeKeyOf(b.to);

function goesWith({ rootId, path, state }: Companion, { mode, from }: Way): boolean {
  // In quarantine each file has a folder of its own.
  if (mode === 'restore') return state === 'retired' && nameStem(path) === nameStem(from.path);
  return state === 'here' && rootId === from.rootId && stemOf(path) === stemOf(from.path);
}

/** Beside the file that it goes with, under its name. */
const besideOf = ({ path }: Companion, { to }: Way): FileRef => ({
  rootId: to.rootId,
  path: to.path.slice(0, to.path.length - endingOf(to.path).length) + endingOf(path),
});

function followed({ id, rootId, path }: Companion, { mode, trackId }: Way, after: FileRef): RelocateFile {
  const before: FileRef = { rootId, path };
  if (mode === 'retire') return relocateFile(mode, { trackId, fileId: id }, before, quarantined(before, id));
  return mode === 'copy'
    ? relocateFile(mode, { trackId, fileId: randomUUID() }, null, after, before)
    : relocateFile(mode, { trackId, fileId: id }, before, after);
}

/** A file that may be a companion. */
export interface MayBelong {
  kind: CompanionKind;
  path: string;
  size: number;
  modifiedMs: number;
  changedMs: number;
}

/**
 * Ties what lies beside music in a root to it: by the same name, or what is of a whole folder to its first track.
 * Answers what belongs to none.
 */
export async function tieCompanions<F extends MayBelong>(
  database: Database,
  rootId: number,
  found: readonly F[],
): Promise<F[]> {
  if (found.length === 0) return [];
  const mains = await database.rows<{ trackId: number; path: string }>(
    `SELECT track_id AS "trackId", path FROM track_files WHERE root_id = $1 AND role = 'main' AND state = 'here'
      AND regexp_replace(path, '[^/]*$', '') = ANY($2::text[]) ORDER BY path DESC`,
    [rootId, [...new Set(found.map((g) => folderOf(g.path)))]],
  );
  const trackOf = new Map(mains.map((m) => [stemOf(m.path), m.trackId]));
  const firstIn = new Map(mains.map((m) => [folderOf(m.path), m.trackId]));
  const tied = found.flatMap((file) => {
    const ofFolder = file.kind === 'karaoke graphics' ? undefined : firstIn.get(folderOf(file.path));
    const trackId = trackOf.get(stemOf(file.path)) ?? ofFolder;
    return trackId === undefined ? [] : [{ ...file, trackId }];
  });
  await database.run(
    `INSERT INTO track_files (track_id, root_id, path, role, companion, size, modified_ms, changed_ms)
      SELECT v."trackId", $1, v.path, 'companion', v.kind, v.size, v."modifiedMs", v."changedMs"
        FROM jsonb_to_recordset($2::jsonb)
          AS v("trackId" int, kind text, path text, size bigint, "modifiedMs" float8, "changedMs" float8)
     ON CONFLICT (root_id, path) DO UPDATE SET track_id = excluded.track_id, size = excluded.size,
       modified_ms = excluded.modified_ms, changed_ms = excluded.changed_ms
       WHERE track_files.role = 'companion' AND (track_files.track_id, track_files.size, track_files.modified_ms)
         IS DISTINCT FROM (excluded.track_id, excluded.size, excluded.modified_ms)`,
    [rootId, JSON.stringify(tied)],
  );
  const tiedPaths = new Set(tied.map((file) => file.path));
  return found.filter((file) => !tiedPaths.has(file.path));
}
