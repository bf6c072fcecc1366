/** Crates of a folder mirror that are removed by hand. */
import { mirroredPath, readMirror } from '@early-set/core/arrange/mirror';
import type { EditList } from '@early-set/core/changes/kinds/editList';
import { describeList } from '@early-set/core/changes/lists';
import type { ListInfo } from '@early-set/core/changes/snapshot';
import { loadLists } from '../changes/snapshot.ts';
import type { Database } from '../db/database.ts';

/** Leaves the folder of a crate out of its mirror: it is not made again. Nothing where it belongs to none. */
export async function leavingOut(database: Database, info: ListInfo): Promise<EditList[]> {
  const path = mirroredPath(info.rule);
  if (!info.mirrorOf || path === null) return [];
  const top = (await loadLists(database, [info.mirrorOf])).get(info.mirrorOf);
  const settings = top && readMirror(top.info.mirror);
  if (!settings || settings.path === path || settings.leftOut.includes(path)) return [];
  return describeList(info.mirrorOf, top, {
    mirror: JSON.stringify({ ...settings, leftOut: [...settings.leftOut, path] }),
  });
}
