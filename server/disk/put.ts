/** Chosen tracks' files moved or copied into a folder of any root. */
import { randomUUID } from 'node:crypto';
import type { PutLook } from '@early-set/core/api/disk';
import type { Selection } from '@early-set/core/api/types';
import { inOrder } from '@early-set/core/changes/files';
import { relocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { nameTrouble, refKey, type FileRef } from '@early-set/core/files/fileRef';
import { nameInFolder, planPut, type PutNames, type PutPlan, type PutWish } from '@early-set/core/files/put';
import type { Naming } from '@early-set/core/naming/naming';
import type { TrackFile } from '@early-set/core/changes/snapshot';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { freeBytes } from '../drives/drives.ts';
import { selectedIds } from '../library/sheet.ts';
import { filesOf } from '../library/trackFiles.ts';
import { several } from '../lists/lists.ts';
import { followRenamed } from '../lists/mirrors.ts';
import { namesByRule } from './places.ts';
import type { PlacesPool } from './placesPool.ts';
import { takenOf } from './placesTaken.ts';

export interface PutAsked extends PutWish {
  selection: Selection;
  names: PutNames;
  /** A folder that is put as a whole, below its root; '' for none. */
  below: string;
}
export interface PutTools {
  database: Database;
  pool: PlacesPool;
  naming: Naming;
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
  /** By track: the rule that names it. */
  rules: ReadonlyMap<number, { rule: string }>;
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

async function planned(tools: PutTools, { selection, names, below, ...wish }: PutAsked): Promise<Put> {
  const { database } = tools;
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
  const rules =
    names === 'by rules'
      ? await namesByRule(
          database,
          tools.pool,
          tools.naming,
          files.map((f) => f.trackId),
        )
      : new Map<number, { path: string; rule: string }>();
  const called = files.map(({ ref, trackId }) =>
    names === 'by rules' ? (rules.get(trackId)?.path ?? null) : nameInFolder(ref, names, below),
  );
  let plan = planPut(refs, { ...wish, into }, others, called);
  // Files that nobody has taken in hold their places, too.
  const unknown = await takenOf(
    plan.puts.map(({ to }) => to).filter((to) => !own.has(refKey(to))),
    () => root.path,
  );
  if (unknown.length > 0) plan = planPut(refs, { ...wish, into }, [...others, ...unknown], called);
  const deviceOf = new Map(roots.map((r) => [r.id, r.device]));
  const written = plan.puts.filter(({ at }) => {
    const from = files[at]!.ref.rootId;
    const one = from === root.id || (root.device !== null && deviceOf.get(from) === root.device);
    return wish.mode === 'copy' || !one;
  });
  return { files, plan, root, rules, bytes: written.reduce((sum, { at }) => sum + files[at]!.size, 0) };
}

/** What names these files at their present places: playlist files and whatever else they were given to. */
async function givenUnder(database: Database, files: readonly TrackFile[]): Promise<PutLook['given']> {
  return database.rows<PutLook['given'][number]>(
    `SELECT g.given_to AS name, count(DISTINCT g.track_id)::int AS files FROM file_ledger g
      JOIN jsonb_to_recordset($1::jsonb) AS v("trackId" int, "rootId" int, path text)
        ON v."trackId" = g.track_id AND v."rootId" = g.root_id AND v.path = g.path
      GROUP BY g.given_to ORDER BY max(g.given_at) DESC`,
    [JSON.stringify(files.map(({ trackId, ref }) => ({ trackId, ...ref })))],
  );
}

/** What putting files there would do. */
export async function putLook(tools: PutTools, wish: PutAsked): Promise<PutLook> {
  const { files, plan, root, bytes } = await planned(tools, wish);
  const moved = wish.mode === 'move' ? plan.puts.map(({ at }) => files[at]!) : [];
  return {
    files: plan.puts.length,
    numbered: plan.puts.filter((p) => p.numbered).length,
    skipped: plan.skipped.length,
    right: plan.right.length,
    unnamed: plan.unnamed.length,
    given: await givenUnder(tools.database, moved),
    bytes,
    free: await freeBytes(root.path),
  };
}

/** The draft that does it. @throws Problem when nothing is to be done, or there is no room */
export async function puttingDraft(tools: PutTools, wish: PutAsked): Promise<Draft> {
  const { files, plan, root, bytes, rules } = await planned(tools, wish);
  if (plan.puts.length === 0) throw new Problem(409, 'nothing-to-do', 'Every one of these files stays where it is');
  const free = await freeBytes(root.path);
  if (free !== null && bytes > free) throw new Problem(409, 'no-room', 'There is not enough space on the drive');
  const items = plan.puts.map(({ at, to }) => {
    const { id, trackId, ref } = files[at]!;
    const item =
      wish.mode === 'move'
        ? relocateFile('move', { trackId, fileId: id }, ref, to)
        : relocateFile('copy', { trackId, fileId: randomUUID() }, null, to, ref);
    const rule = rules.get(trackId)?.rule;
    return rule === undefined ? item : { ...item, why: rule };
  });
  const where = wish.into.path ? `${root.label}/${wish.into.path}` : root.label;
  const verb = wish.mode === 'move' ? 'Move' : 'Copy';
  const renames = wish.below !== '' && wish.mode === 'move';
  const from = renames ? files.find((f) => f.ref.path.startsWith(`${wish.below}/`))?.ref.rootId : undefined;
  const to = { rootId: root.id, path: folderOf(wish.into.path, root) };
  const asking =
    from === undefined ? [] : await followRenamed(tools.database, { from: { rootId: from, path: wish.below }, to });
  return {
    title: wish.below
      ? `${verb} the folder ${wish.below} to ${where}`
      : `${verb} ${several(items.length, 'file')} to ${where}`,
    items: [...asking, ...(wish.mode === 'move' ? inOrder(items) : items)],
  };
}
