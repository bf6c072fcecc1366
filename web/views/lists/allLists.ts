/** The lines of the page of all lists, and how they are sorted and found. */
import type { ListOverview } from '@early-set/core/api/lists';
import type { ListLine } from '@early-set/core/api/types';
import type { ListKind } from '@early-set/core/changes/snapshot';
import { KIND_WORDS } from '../../data/kindWords.ts';
import type { SortState } from '../../ui/grid/GridHead.tsx';
import { isPutAway, pathOf } from '../../data/listTree.ts';

export interface AllListsLine extends ListLine {
  /** The crates that it lies in. */
  path: string;
  /** What it is called on the page. */
  what: 'self-filling crate' | (typeof KIND_WORDS)[ListKind];
  more: ListOverview;
}

const NOTHING_KNOWN: Omit<ListOverview, 'id'> = { held: 0, missing: 0, floor: 0, playout: 0, dates: [], given: null };

export const whatOf = ({ kind, rule }: Pick<ListLine, 'kind' | 'rule'>): AllListsLine['what'] =>
  rule === null ? KIND_WORDS[kind] : 'self-filling crate';

/** Share of its tracks that are ready; null for an empty list. */
export const readyShare = ({ held }: ListOverview, ready: number): number | null => (held > 0 ? ready / held : null);

const VALUES: Record<string, (line: AllListsLine) => number | string | null> = {
  name: (l) => l.name.toLowerCase(),
  kind: (l) => l.what,
  tracks: (l) => l.tracks,
  length: (l) => l.durationSeconds,
  changed: (l) => l.updatedAt,
  dates: (l) => l.more.dates.at(-1)?.day ?? null,
  floor: (l) => readyShare(l.more, l.more.floor),
  playout: (l) => readyShare(l.more, l.more.playout),
  missing: (l) => l.more.missing,
  given: (l) => l.more.given?.at ?? null,
};

/** Lists that hold tracks, are there and whose name or crate holds the words; sorted, what says nothing last. */
export function allListsLines(
  lists: readonly ListLine[],
  overview: readonly ListOverview[],
  find: string,
  { id, descending }: SortState,
): AllListsLine[] {
  const more = new Map(overview.map((o) => [o.id, o]));
  const needle = find.trim().toLowerCase();
  const value = VALUES[id ?? 'name'] ?? VALUES.name!;
  const sign = descending ? -1 : 1;
  return lists
    .filter((l) => l.kind !== 'clock' && !isPutAway(l, lists))
    .map((l) => ({
      ...l,
      path: pathOf(l, lists),
      what: whatOf(l),
      more: more.get(l.id) ?? { id: l.id, ...NOTHING_KNOWN },
    }))
    .filter((l) => !needle || `${l.path} / ${l.name}`.toLowerCase().includes(needle))
    .sort((a, b) => {
      const [x, y] = [value(a), value(b)];
      if (x === y) return a.name.localeCompare(b.name);
      if (x === null || y === null) return x === null ? 1 : -1;
      return (typeof x === 'string' ? x.localeCompare(String(y)) : x - Number(y)) * sign;
    });
}
