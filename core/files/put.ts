/** Files put into another folder, each under its own name. */
import type { FileRef } from './fileRef.ts';
import { planNames } from './plan.ts';

export const PUT_MODES = ['move', 'copy'] as const;
export const TAKEN_CHOICES = ['keep both', 'skip'] as const;

export interface PutWish {
  mode: (typeof PUT_MODES)[number];
  /** A folder below a root; '' is the root itself. */
  into: FileRef;
  /** What becomes of a file whose name is taken there: it is numbered, or stays. */
  taken: (typeof TAKEN_CHOICES)[number];
}
export interface PutPlan {
  puts: { at: number; to: FileRef; numbered: boolean }[];
  /** Those that stay, since a name is taken there. */
  skipped: number[];
  /** Those that lie there already. */
  right: number[];
}

/** @param others all other files that are known, those of the same tracks too */
export function planPut(
  files: readonly FileRef[],
  { mode, into, taken }: PutWish,
  others: readonly FileRef[],
): PutPlan {
  const folder = into.path === '' ? '' : `${into.path}/`;
  const nowhere = -1;
  // A copy comes from nowhere: what it is made of keeps its place.
  const wanted = files.map((ref, at) => ({
    ref: mode === 'move' ? ref : { rootId: nowhere, path: `${at}/${ref.path}` },
    wanted: { rootId: into.rootId, path: folder + ref.path.slice(ref.path.lastIndexOf('/') + 1) },
  }));
  const plan = planNames(wanted, mode === 'move' ? others : [...others, ...files]);
  const puts = plan.moves.filter((m) => taken === 'keep both' || !m.numbered);
  const put = new Set(plan.moves.map((m) => m.at));
  const kept = new Set(puts.map((m) => m.at));
  const troubled = new Set(plan.troubles.map((t) => t.at));
  const all = files.map((_, at) => at);
  return {
    puts,
    skipped: all.filter((at) => troubled.has(at) || (put.has(at) && !kept.has(at))),
    right: all.filter((at) => !put.has(at) && !troubled.has(at)),
  };
}
