/** Chosen tracks' files moved or copied into a folder of any root. */
import { randomUUID } from 'node:crypto';
import type { PutLook } from '@early-set/core/api/disk';
import type { Selection } from '@early-set/core/api/types';
import { inOrder } from '@early-set/core/changes/files';
import { relocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { nameTrouble, refKey, type FileRef } from '@early-set/core/files/fileRef';
import { planPut, type PutPlan, type PutWish } from '@early-set/core/files/put';
import type { TrackFile } from '@early-set/core/changes/snapshot';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { freeBytes } from '../drives/drives.ts';
import { selectedIds } from '../library/sheet.ts';
import { filesOf } from '../library/trackFiles.ts';
import { several } from '../lists/lists.ts';
import { takenOf } from './placesTaken.ts';

export interface PutAsked extends PutWish {
  selection: Selection;
}

interface Root {
  id: number;
  path: string;
  label: string;
  away: boolean;
  device: string | null;
  fileSystem: string | null;
}

interface Put {
  files: TrackFile[];
  plan: PutPlan;
  root: Root;
  /** Bytes that have to be written; what is moved on one drive needs none. */
  bytes: number;
}

/** @throws Problem for a folder that cannot be */
function folderOf(path: string, { fileSystem }: Root): string {
  const parts = path
    .normalize('NFC')
    .split('/')
    .map((part) => part.trim())
    .filter(Boolean);
  if (parts.some((part) => part.startsWith('.')))
    throw new Problem(400, 'bad-folder', 'A folder whose name begins with a dot is left out by scans');
  const trouble = parts.length ? nameTrouble(parts.join('/'), fileSystem) : null;
  if (trouble) throw new Problem(400, 'bad-folder', trouble);
  return parts.join('/');
}

async function planned(database: Database, { selection, ...wish }: PutAsked): Promise<Put> {
  const roots = await database.rows<Root>(
    `SELECT id, path, label, away_since IS NOT NULL AS away, drive->>'device' AS device,
        drive->>'fileSystem' AS "fileSystem" FROM roots WHERE NOT removed`,
  );
  const root = roots.find((r) => r.id === wish.into.rootId);
  if (!root) throw new Problem(404, 'not-found', 'The folder is no longer taken in');
  if (root.away) throw new Problem(409, 'drive-away', `The drive of ${root.label} is not there`);
  const into = { rootId: root.id, path: folderOf(wish.into.path, root) };
  const ids = await selectedIds(database, selection);
  const files = (await filesOf(database, ids)).filter((f) => f.role === 'main' && f.state === 'here');
  if (files.length === 0) throw new Problem(409, 'nothing-to-do', 'None of these tracks has a file that is there');
  const own = new Set(files.map((f) => refKey(f.ref)));
  const others = (await database.rows<FileRef>('SELECT root_id AS "rootId", path FROM track_files')).filter(
    (ref) => !own.has(refKey(ref)),
  );
  const refs = files.map((f) => f.ref);
  let plan = planPut(refs, { ...wish, into }, others);
  // Files that nobody has taken in hold their places, too.
  const unknown = await takenOf(
    plan.puts.map(({ to }) => to).filter((to) => !own.has(refKey(to))),
    () => root.path,
  );
  if (unknown.length > 0) plan = planPut(refs, { ...wish, into }, [...others, ...unknown]);
  const deviceOf = new Map(roots.map((r) => [r.id, r.device]));
  const written = plan.puts.filter(({ at }) => {
    const from = files[at]!.ref.rootId;
    const one = from === root.id || (root.device !== null && deviceOf.get(from) === root.device);
    return wish.mode === 'copy' || !one;
  });
  return { files, plan, root, bytes: written.reduce((sum, { at }) => sum + files[at]!.size, 0) };
}

/** What putting files there would do. */
export async function putLook(database: Database, wish: PutAsked): Promise<PutLook> {
  const { plan, root, bytes } = await planned(database, wish);
  return {
    files: plan.puts.length,
    numbered: plan.puts.filter((p) => p.numbered).length,
    skipped: plan.skipped.length,
    right: plan.right.length,
    bytes,
    free: await freeBytes(root.path),
  };
}

/** The draft that does it. @throws Problem when nothing is to be done, or there is no room */
export async function puttingDraft(database: Database, wish: PutAsked): Promise<Draft> {
  const { files, plan, root, bytes } = await planned(database, wish);
  if (plan.puts.length === 0) throw new Problem(409, 'nothing-to-do', 'Every one of these files stays where it is');
  const free = await freeBytes(root.path);
  if (free !== null && bytes > free) throw new Problem(409, 'no-room', 'There is not enough space on the drive');
  const items = plan.puts.map(({ at, to }) => {
    const { id, trackId, ref } = files[at]!;
    return wish.mode === 'move'
      ? relocateFile('move', { trackId, fileId: id }, ref, to)
      : relocateFile('copy', { trackId, fileId: randomUUID() }, null, to, ref);
  });
  const where = wish.into.path ? `${root.label}/${wish.into.path}` : root.label;
  const verb = wish.mode === 'move' ? 'Move' : 'Copy';
  return {
    title: `${verb} ${several(items.length, 'file')} to ${where}`,
    items: wish.mode === 'move' ? inOrder(items) : items,
  };
}
