/**
 * Brings the copy of one library folder up to date: copies what is new or changed, each compared as the drive has it,
 * gives other names to what has them here, and removes nothing. What changed in sound and not in tags alone is set
 * aside there before it is replaced, since it may be this drive that is wrong. Killed at any point, it goes on there.
 */
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { CopiedRoot, MusicCopyReport } from '@early-set/core/api/musicCopy';
import { nameTrouble } from '@early-set/core/files/fileRef';
import { planCopy, roomOf, type CopyPlan, type Lying } from '@early-set/core/musicCopy/plan';
import { readSums, sumLine, SUMS_FILE } from '@early-set/core/musicCopy/sums';
import { Problem } from '../base/problem.ts';
import { mustHaveRoom } from '../base/room.ts';
import type { Database } from '../db/database.ts';
import type { Root } from '../db/models.ts';
import { driveOf } from '../drives/drives.ts';
import type { FilePool } from '../files/filePool.ts';
import { reasonOf } from '../files/reasons.ts';
import { isThere } from '../files/there.ts';
import { walkFiles } from '../intake/walk.ts';
import { mustBeThere } from '../library/absolutePath.ts';
import { packetHash } from '../media/decode.ts';
import { isInside, resolveForWriting } from '../media/roots.ts';
import {
  copiedFiles,
  forget,
  noteAside,
  noteCopied,
  noteListed,
  noteRenamed,
  noteState,
  type CopiedFile,
} from '../copied/copiedFiles.ts';
import { asideIn, asidePath } from '../copied/places.ts';

export interface CopyTools {
  database: Database;
  files: FilePool;
}

export interface CopyHand {
  signal: AbortSignal;
  /** Told of each file before it is worked on. */
  tell: (path: string) => Promise<void>;
  /** How many files there are to work on. */
  toDo: (files: number) => void;
  report: MusicCopyReport;
}

/** So many of what failed a report names. */
const MAX_TOLD = 200;

/** @param folder where its copy lies @throws Problem where it cannot be begun */
export async function copyRoot(
  { database, files }: CopyTools,
  root: Root,
  folder: string,
  { signal, tell, toDo, report }: CopyHand,
): Promise<void> {
  const line: CopiedRoot = {
    ...{ rootId: root.id, label: root.label, same: 0, copied: 0, replaced: 0, renamed: 0, setAside: 0, failed: 0 },
    trouble: null,
  };
  report.roots.push(line);
  const fail = (path: string, reason: string): void => {
    line.failed++;
    if (report.told.length < MAX_TOLD) report.told.push({ path: `${root.label}: ${path}`, reason });
  };
  await mustBeThere(root);
  if (isInside(root.path, folder) || isInside(folder, root.path))
    throw new Problem(
      409,
      'inside-root',
      `${root.label} and its copy lie in each other: choose another folder for the copy`,
    );
  await mkdir(folder, { recursive: true });
  const here: Lying[] = [],
    unread: string[] = [];
  for await (const { path, size, modifiedMs, changedMs } of walkFiles(root.path, {
    signal,
    obstacle: ({ path, code, reason }) => {
      if (code === 'link') return;
      unread.push(path);
      fail(path, reason);
    },
  }))
    here.push({ path, size, modifiedMs, changedMs });
  const there = await filesThere(folder, signal);
  await finishAside(database, files, root.id, folder, there);
  const known = (await knownFiles(database, root.id, folder, there)).filter(({ state }) => state !== 'aside');
  if (here.length === 0 && known.length > 0)
    throw new Problem(409, 'empty', `${root.label} is empty here: nothing is done about its copy`);
  const plan = withLost(planCopy(here, known, unread), there);
  await mustHaveRoom(folder, roomOf(plan), `the copy of ${root.label}`);
  const fileSystem = (await driveOf(folder))?.fileSystem ?? null;
  const used = new Set<string>();
  line.same = plan.same.length;
  await noteState(
    database,
    plan.same.filter(({ state }) => state !== 'there').map(({ id }) => id),
    'there',
  );
  toDo(plan.fresh.length + plan.changed.length);

  const at = (path: string): Promise<string> => resolveForWriting(folder, path.split('/'));
  const hash = async (path: string): Promise<string> => (await files.ask({ op: 'hash', path }, { signal })).hash;
  const move = async (from: string, to: string, { size, modifiedMs }: Lying): Promise<void> => {
    const wish = { mode: 'move', from, to, size, modifiedMs, below: folder, begun: false } as const;
    await files.ask({ op: 'place', ...wish }, { signal });
  };
  const copy = async (file: Lying, over: boolean): Promise<void> => {
    const wish = {
      mode: 'copy',
      from: join(root.path, file.path),
      to: await at(file.path),
      over,
      begun: false,
    } as const;
    const { copied } = await files.ask(
      { op: 'place', ...wish, size: file.size, modifiedMs: file.modifiedMs, fromMedium: true },
      { signal },
    );
    await noteCopied(database, root.id, { ...file, sha256: copied!.hash });
    report.bytes += file.size;
  };

  /** The same bytes lie there under another name, of a file that is gone here. */
  async function renamed(file: Lying, former: readonly CopiedFile[]): Promise<boolean> {
    const candidates = former.filter(({ id, path, size }) => !used.has(id) && there.get(path) === size);
    if (candidates.length === 0 || there.has(file.path)) return false;
    const own = await hash(join(root.path, file.path));
    const same = candidates.find(({ sha256 }) => sha256 === own);
    if (!same) return false;
    await move(await at(same.path), await at(file.path), file);
    await noteRenamed(database, same.id, file);
    used.add(same.id);
    there.set(file.path, file.size);
    there.delete(same.path);
    line.renamed++;
    return true;
  }

  async function addFresh({ file, former }: CopyPlan<CopiedFile>['fresh'][number]): Promise<void> {
    const trouble = nameTrouble(file.path, fileSystem);
    if (trouble !== null) return fail(file.path, trouble);
    if (await renamed(file, former)) return;
    if (!there.has(file.path)) {
      await copy(file, false);
      line.copied++;
      return;
    }
    // Of a run that was killed before it could note it, or of another library.
    const own = await hash(join(root.path, file.path));
    if (own !== (await hash(await at(file.path))))
      return fail(file.path, 'Another file has this place on the copy; it is left as it is');
    await noteCopied(database, root.id, { ...file, sha256: own });
    line.same++;
  }

  async function replace({ file, was }: CopyPlan<CopiedFile>['changed'][number]): Promise<void> {
    if (there.get(file.path) !== was.size && was.sha256 !== '')
      return fail(file.path, 'It was changed on the copy since; it is left as it is');
    const source = join(root.path, file.path),
      target = await at(file.path);
    if ((await hash(source)) === was.sha256) {
      await noteCopied(database, root.id, { ...file, sha256: was.sha256 }); // only its time is another
      line.same++;
      return;
    }
    const sound = await packetHash(source).catch(() => null);
    if (sound === null || sound !== (await packetHash(target).catch(() => null))) {
      await noteState(database, [was.id], 'aside');
      await move(target, join(folder, asidePath(was)), was);
      line.setAside++;
      await copy(file, false);
    } else await copy(file, true);
    line.replaced++;
  }

  for (const [path, work] of [
    ...plan.fresh.map((one) => [one.file.path, () => addFresh(one)] as const),
    ...plan.changed.map((one) => [one.file.path, () => replace(one)] as const),
  ]) {
    signal.throwIfAborted();
    await tell(`${root.label}: ${path}`);
    try {
      await work();
    } catch (error) {
      signal.throwIfAborted();
      await mustBeThere(root);
      if (!(await isThere(folder))) throw new Problem(409, 'away', `${folder} is not there any more`);
      fail(path, reasonOf(error));
    }
  }
  const gone = plan.gone.filter(({ id }) => !used.has(id));
  await noteState(
    database,
    gone.filter(({ path }) => there.has(path)).map(({ id }) => id),
    'gone',
  );
  await forget(
    database,
    gone.filter(({ path }) => !there.has(path)).map(({ id }) => id),
  );
  await writeSums(database, root.id, folder);
}

/** Paths with sizes. */
async function filesThere(folder: string, signal: AbortSignal): Promise<Map<string, number>> {
  const there = new Map<string, number>();
  for await (const { path, size } of walkFiles(folder, { signal, obstacle: () => undefined })) there.set(path, size);
  return there;
}

/** What was to be set aside when a process was killed. */
async function finishAside(
  database: Database,
  files: FilePool,
  rootId: number,
  folder: string,
  there: Map<string, number>,
): Promise<void> {
  for (const row of await copiedFiles(database, rootId)) {
    if (row.state !== 'aside' || there.get(row.path) !== row.size) continue;
    const to = join(folder, asidePath(row));
    if (await isThere(to)) continue;
    const { size, modifiedMs } = row;
    await files.ask({ op: 'place', mode: 'move', from: join(folder, row.path), to, size, modifiedMs, begun: false });
    there.delete(row.path);
  }
}

/** From the list on the drive where nothing is known of it: another library, or an older one, wrote it. */
async function knownFiles(
  database: Database,
  rootId: number,
  folder: string,
  there: ReadonlyMap<string, number>,
): Promise<CopiedFile[]> {
  const known = await copiedFiles(database, rootId);
  if (known.length > 0) return known;
  await noteAside(database, rootId, await asideIn(folder));
  const text = await readFile(join(folder, SUMS_FILE), 'utf8').catch(() => '');
  const sums = new Map(readSums(text).map(({ path, sha256 }) => [path, sha256]));
  const listed = [...there].flatMap(([path, size]) => {
    const sha256 = sums.get(path);
    return sha256 === undefined ? [] : [{ path, size, sha256 }];
  });
  await noteListed(database, rootId, listed);
  return copiedFiles(database, rootId);
}

/** What is not on the copy any more is copied again. */
function withLost(plan: CopyPlan<CopiedFile>, there: ReadonlyMap<string, number>): CopyPlan<CopiedFile> {
  const lost = (path: string): boolean => !there.has(path);
  const again = (file: Lying): CopyPlan<CopiedFile>['fresh'][number] => ({ file, former: [] });
  return {
    ...plan,
    same: plan.same.filter(({ path }) => !lost(path)),
    changed: plan.changed.filter(({ file }) => !lost(file.path)),
    fresh: [
      ...plan.fresh,
      ...plan.same.filter(({ path }) => lost(path)).map(again),
      ...plan.changed.filter(({ file }) => lost(file.path)).map(({ file }) => again(file)),
    ],
  };
}

/** So that the copy can be checked without Early Set: sha256sum --check early-set.sha256. */
async function writeSums(database: Database, rootId: number, folder: string): Promise<void> {
  const lines = (await copiedFiles(database, rootId)).filter(({ state, sha256 }) => state !== 'aside' && sha256 !== '');
  const path = join(folder, SUMS_FILE);
  await writeFile(`${path}.new`, lines.map(sumLine).join(''));
  await rename(`${path}.new`, path);
}
