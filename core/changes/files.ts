/** Drafts for files: other names and other places. */
import { refKey, type FileRef } from '../files/fileRef.ts';
import { endingOf, folderOf, named, nameOf } from '../files/paths.ts';
import { placeKey } from '../files/plan.ts';
import { relocateFile, type RelocateFile } from './kinds/relocateFile.ts';

/** A wish for another file name, without its ending; `before` is the name that the draft has seen. */
export interface Renaming {
  trackId: number;
  fileId: string;
  ref: FileRef;
  before: string;
  after: string;
}

/**
 * Moves that give files other names in their folders. What was seen and is no longer so stays as before, so that it is
 * a conflict when it is applied.
 */
export function renameFiles(wishes: readonly Renaming[]): RelocateFile[] {
  return inOrder(
    wishes.map(({ trackId, fileId, ref: { rootId, path }, before, after }) =>
      relocateFile(
        'move',
        { trackId, fileId },
        { rootId, path: nameOf(path) === before ? path : named(path, before) },
        { rootId, path: named(path, after) },
      ),
    ),
  );
}

/** Where a file waits while those that change places with it go by; scans pass over names that begin with a dot. */
const aside = ({ before, fileId }: RelocateFile): FileRef => ({
  rootId: before!.rootId,
  path: `${folderOf(before!.path)}.early-set-aside-${fileId.slice(0, 8)}${endingOf(before!.path)}`,
});

/**
 * Moves in an order in which each finds its place free: a place that another file gives up is taken after that one, and
 * files that change places in a ring do so by way of a name that is nobody's.
 */
export function inOrder(wanted: readonly RelocateFile[]): RelocateFile[] {
  const moves = wanted.filter((m) => refKey(m.before!) !== refKey(m.after));
  const leaving = new Map(moves.map((m) => [refKey(m.before!), m]));
  // Drives may take two names for one that differ by case only.
  const alike = new Map(moves.map((m) => [placeKey(m.before!), m]));
  const out: RelocateFile[] = [];
  const state = new Map<RelocateFile, 'under way' | 'done'>();
  const stepped = new Map<RelocateFile, FileRef>();
  const put = (move: RelocateFile): void => {
    if (state.has(move)) return;
    state.set(move, 'under way');
    for (const holder of new Set([leaving.get(refKey(move.after)), alike.get(placeKey(move.after))])) {
      if (!holder || holder === move) continue;
      if (state.get(holder) === 'under way' && !stepped.has(holder)) {
        const place = aside(holder);
        out.push({ ...holder, after: place });
        stepped.set(holder, place);
      } else put(holder);
    }
    out.push(stepped.has(move) ? { ...move, before: stepped.get(move)! } : move);
    state.set(move, 'done');
  };
  moves.forEach(put);
  return out;
}
