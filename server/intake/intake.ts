/** Roots and their scans as jobs. */
import type { NotTaken, RootLine } from '@early-set/core/api/types';
import { stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import { driveOf } from '../drives/drives.ts';
import { isInside } from '../media/roots.ts';
import { Problem } from '../base/problem.ts';
import { allowedFolder } from './places.ts';
import { LEFT_OUT } from '../library/removedTracks.ts';
import { setAway } from './rootState.ts';
import { swallow } from './swallow.ts';

/** Files of a root that were not taken, with the reasons. */
export const filesNotTaken = (database: Database, rootId: number): Promise<NotTaken[]> =>
  database.rows<NotTaken>(
    'SELECT path, code, reason, file_size AS "fileSize" FROM not_taken WHERE root_id = $1 ORDER BY path LIMIT 5000',
    [rootId],
  );

/** All roots with their counts. */
export const rootLines = (database: Database): Promise<RootLine[]> =>
  database.rows<RootLine>(
    `SELECT r.id, r.path, r.label, r.measure, r.watch, r.watch_trouble AS "watchTrouble",
      r.preset_id AS "presetId", r.put_by_rules AS "putByRules", r.purpose, r.away_since AS "awaySince", r.drive,
      r.scanned_at AS "scannedAt", COALESCE(t.n, 0) AS tracks, COALESCE(t.missing, 0) AS missing,
      COALESCE(n.n, 0) AS "notTaken" FROM roots r
     LEFT JOIN (SELECT root_id, count(*) AS n, count(*) FILTER (WHERE file_state = 'missing') AS missing FROM tracks
       GROUP BY root_id) t ON t.root_id = r.id
     LEFT JOIN (SELECT root_id, count(*) AS n FROM not_taken GROUP BY root_id) n ON n.root_id = r.id
     WHERE NOT r.removed OR t.n > 0 ORDER BY r.id`,
  );

/**
 * Makes a folder a root. One inside another root is refused, so that no file is there twice; those that lie in it
 * become part of it. One that was removed is there again, with the files that were left out.
 */
export async function addRoot(
  database: Database,
  path: string,
  demoRoot: string | null,
  { measure, purpose }: { measure: boolean; purpose: Root['purpose'] },
): Promise<Root> {
  const folder = await allowedFolder(path, demoRoot);
  const drive = await driveOf(folder);
  const root = await database.transaction(async (t) => {
    const [former] = await Root.findAll({ where: { path: folder, removed: true }, transaction: t });
    if (former) {
      await database.run('DELETE FROM not_taken WHERE root_id = $1 AND code = $2', [former.id, LEFT_OUT], t);
      return former.update({ removed: false, measure, purpose, drive }, { transaction: t });
    }
    await refuseOverlap(folder, null, purpose === 'library');
    const inside = (await Root.findAll({ transaction: t })).filter((r) => isInside(folder, r.path));
    const made = await Root.create(
      { path: folder, label: basename(folder), measure, purpose, drive },
      { transaction: t },
    );
    await swallow(database, made, inside, t);
    return made;
  });
  await database.notify({ kind: 'roots' });
  await database.notify({ kind: 'tracks' });
  return root;
}

/** Removes a folder from the library, once its tracks are; what lies on the drive stays. */
export async function removeRoot(database: Database, root: Root): Promise<void> {
  await root.update({ removed: true });
  await database.notify({ kind: 'roots' });
}

/** No file is there twice: roots neither hold each other nor are the same; unless those inside are to be swallowed. */
async function refuseOverlap(folder: string, but: number | null, swallows = false): Promise<void> {
  for (const root of await Root.findAll()) {
    if (root.id === but) continue;
    if (root.path === folder) throw new Problem(409, 'root-exists', `${folder} is taken in already`);
    if (isInside(root.path, folder))
      throw new Problem(
        409,
        'root-exists',
        root.removed
          ? `${folder} lies in ${root.path}, which was removed from the library; choose that one again`
          : `${folder} lies in ${root.path}, which is taken in already`,
      );
    if (isInside(folder, root.path) && !(swallows && root.purpose === 'library'))
      throw new Problem(409, 'root-inside', `${root.path} is taken in already and lies in this folder`);
  }
}

/** So many known files are looked for at a root's new place. */
const SAMPLE = 200;

/**
 * Another path for a root whose drive came back elsewhere; everything below it follows.
 * @throws Problem when the folder may not be used, or does not hold the root's files
 */
export async function moveRoot(database: Database, root: Root, path: string, demoRoot: string | null): Promise<void> {
  const folder = await allowedFolder(path, demoRoot);
  await refuseOverlap(folder, root.id);
  const known = await database.rows<{ path: string; size: number }>(
    `SELECT path, size FROM track_files WHERE root_id = $1 AND state IN ('here', 'away') ORDER BY md5(path)
      LIMIT ${SAMPLE}`,
    [root.id],
  );
  const there = await Promise.all(
    known.map((k) =>
      stat(join(folder, k.path)).then(
        (s) => s.size === k.size,
        () => false,
      ),
    ),
  );
  const found = there.filter(Boolean).length;
  if (found * 2 < known.length)
    throw new Problem(409, 'other-folder', `Only ${found} of ${known.length} files of ${root.label} are in ${folder}`);
  await root.update({ path: folder, drive: await driveOf(folder) });
  await setAway(database, root, false);
}
