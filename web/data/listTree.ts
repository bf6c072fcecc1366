/** The tree of lists as lines with depth. */
import type { ListLine } from '@early-set/core/api/types';

/** Put away itself, or lying in something that is. */
export function isPutAway(list: ListLine, all: readonly ListLine[]): boolean {
  for (
    let at: ListLine | undefined = list, hops = 0;
    at && hops < 100;
    at = all.find((l) => l.id === at!.parentId), hops++
  )
    if (at.removed) return true;
  return false;
}

/** Lists into which tracks are put by hand: hours are filled place by place. */
export const filledByHand = (all: readonly ListLine[]): ListLine[] =>
  all.filter((l) => (l.kind === 'crate' || l.kind === 'playlist') && l.rule === null && !isPutAway(l, all));

/** The names of the crates that a list lies in, from the top: "Boathouse / Late". Empty at the top. */
export function pathOf(list: ListLine, all: readonly ListLine[]): string {
  const names: string[] = [];
  const parentOf = (l: ListLine): ListLine | undefined => all.find((other) => other.id === l.parentId);
  for (let at = parentOf(list); at && names.length < 100; at = parentOf(at)) names.unshift(at.name);
  return names.join(' / ');
}

export interface TreeLine {
  list: ListLine;
  depth: number;
  /** Whether lists lie in it. */
  holds: boolean;
  folded: boolean;
}

const NONE: ReadonlySet<string> = new Set();

/**
 * Lists of a kind in tree order, with what lies in them. When something is looked for, those stay whose name contains
 * it or that were `found` otherwise, and their parents. What lies in folded ones is left out too.
 */
export function treeLines(
  all: readonly ListLine[],
  kind: ListLine['kind'],
  find = '',
  { folded = NONE, found = NONE }: { folded?: ReadonlySet<string>; found?: ReadonlySet<string> } = {},
): TreeLine[] {
  const needle = find.trim().toLowerCase();
  // What is looked for is seen wherever it lies.
  const isFolded = ({ id }: ListLine): boolean => !needle && folded.has(id);
  const there = all.filter((l) => !isPutAway(l, all));
  const lines = (parentId: string | null, depth: number): TreeLine[] =>
    there
      .filter((l) => l.parentId === parentId && (parentId !== null || l.kind === kind))
      .sort((a, b) => a.kind.localeCompare(b.kind) || a.position - b.position || a.name.localeCompare(b.name))
      .flatMap((list) => {
        const below = lines(list.id, depth + 1);
        return !needle || below.length > 0 || found.has(list.id) || list.name.toLowerCase().includes(needle)
          ? [
              { list, depth, holds: below.length > 0, folded: isFolded(list) && below.length > 0 },
              ...(isFolded(list) ? [] : below),
            ]
          : [];
      });
  return lines(null, 0);
}

/** May `moving` be put into `target`? Into crates only, and never into itself or what lies in it. */
export function mayHold(target: ListLine, moving: ListLine, all: readonly ListLine[]): boolean {
  if (target.kind !== 'crate' || target.rule !== null) return false;
  for (let at: ListLine | undefined = target; at; at = all.find((l) => l.id === at!.parentId))
    if (at.id === moving.id) return false;
  return true;
}

/** Position between two neighbours (undefined at the ends). */
export const positionBetween = (before: number | undefined, after: number | undefined): number =>
  before === undefined ? (after ?? 1) - 1 : after === undefined ? before + 1 : (before + after) / 2;
