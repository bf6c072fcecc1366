/** Crates and playlists as a tree in which some are chosen; what lies in a chosen crate goes with it. */
import type { ListLine } from '@early-set/core/api/types';

interface Props {
  lists: readonly ListLine[];
  /** Ids of those that are chosen; null: all. */
  wanted: ReadonlySet<string> | null;
  onToggle: (id: string) => void;
}

/** Those that can be chosen. */
export const usableLists = (all: readonly ListLine[]): ListLine[] =>
  all.filter((l) => !l.removed && (l.kind === 'crate' || l.kind === 'playlist'));

/** In the order of a tree, with their depth. */
function rowsOf(
  all: readonly ListLine[],
  parentId: string | null = null,
  depth = 0,
): { list: ListLine; depth: number }[] {
  return all
    .filter((l) => l.parentId === parentId)
    .flatMap((list) => [{ list, depth }, ...rowsOf(all, list.id, depth + 1)]);
}

export function ListChecks({ lists, wanted, onToggle }: Props) {
  const byId = new Map(lists.map((l) => [l.id, l]));
  const goesWith = (list: ListLine): boolean => {
    for (let at = list.parentId; at !== null; at = byId.get(at)?.parentId ?? null) if (wanted?.has(at)) return true;
    return false;
  };
  const rows = rowsOf(lists);
  return (
    <ul aria-label="Lists" className="mt-1 h-[300px] overflow-y-auto border border-line">
      {rows.map(({ list, depth }) => {
        const along = wanted !== null && goesWith(list);
        return (
          <li key={list.id} className="border-b border-hair">
            <label className="flex items-center gap-2 py-1 pr-2" style={{ paddingLeft: 8 + depth * 16 }}>
              <input
                type="checkbox"
                disabled={wanted === null || along}
                checked={wanted === null || along || wanted.has(list.id)}
                onChange={() => onToggle(list.id)}
                className="accent-ink"
              />
              <span className="min-w-0 flex-1 truncate">{list.name}</span>
              <span className="figures text-small text-dim">{list.tracks.toLocaleString('en-GB')}</span>
            </label>
          </li>
        );
      })}
      {rows.length === 0 && <li className="p-2 text-dim">There are no crates or playlists yet.</li>}
    </ul>
  );
}
