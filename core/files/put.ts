/** Files put into another folder: under their own names, with the folders they lie in, or named by rules. */
import type { FileRef } from './fileRef.ts';
import { planNames } from './plan.ts';

export const PUT_MODES = ['move', 'copy'] as const;
export const TAKEN_CHOICES = ['keep both', 'skip'] as const;
export const PUT_NAMES = ['own', 'with folders', 'by rules'] as const;
export type PutNames = (typeof PUT_NAMES)[number];

export interface PutWish {
  mode: (typeof PUT_MODES)[number];
  /** A folder below a root; '' is the root itself. */
  into: FileRef;
  /** What becomes of a file whose name is taken there: it is numbered, or stays. */
  taken: (typeof TAKEN_CHOICES)[number];
}

/**
 * The name of a file in the folder it is put into, with folders below that; by rules it is known otherwise.
 * @param below a folder that is put as a whole: only what lies below it is kept
 */
export function nameInFolder({ path }: FileRef, names: Exclude<PutNames, 'by rules'>, below = ''): string {
  if (names === 'own') return path.slice(path.lastIndexOf('/') + 1);
  return below !== '' && path.startsWith(`${below}/`) ? path.slice(below.length + 1) : path;
}

export interface PutPlan {
  puts: { at: number; to: FileRef; numbered: boolean }[];
  /** Those that stay, since a name is taken there. */
  skipped: number[];
  /** Those that lie there already. */
  right: number[];
  /** Those that stay, since they have no name there. */
  unnamed: number[];
}

/**
 * @param others all other files that are known, those of the same tracks too
 * @param names of each file its name there, with folders; null for one that has none
 */
export function planPut(
  files: readonly FileRef[],
  { mode, into, taken }: PutWish,
  others: readonly FileRef[],
  names: readonly (string | null)[] = files.map((ref) => nameInFolder(ref, 'own')),
): PutPlan {
  const unnamed = names.flatMap((name, at) => (name === null ? [at] : []));
  const folder = into.path === '' ? '' : `${into.path}/`;
  const nowhere = -1;
  // A copy comes from nowhere: what it is made of keeps its place.
  const wanted = files.flatMap((ref, at) =>
    names[at] === null
      ? []
      : {
          at,
          ref: mode === 'move' ? ref : { rootId: nowhere, path: `${at}/${ref.path}` },
          wanted: { rootId: into.rootId, path: folder + names[at]! },
        },
  );
  const still = unnamed.map((at) => files[at]!);
  const plan = planNames(wanted, mode === 'move' ? [...others, ...still] : [...others, ...files]);
  const moves = plan.moves.map((m) => ({ ...m, at: wanted[m.at]!.at }));
  const puts = moves.filter((m) => taken === 'keep both' || !m.numbered);
  const put = new Set(moves.map((m) => m.at));
  const kept = new Set(puts.map((m) => m.at));
  const troubled = new Set(plan.troubles.map((t) => wanted[t.at]!.at));
  const all = wanted.map(({ at }) => at);
  return {
    puts,
    unnamed,
    skipped: all.filter((at) => troubled.has(at) || (put.has(at) && !kept.has(at))),
    right: all.filter((at) => !put.has(at) && !troubled.has(at)),
  };
}
