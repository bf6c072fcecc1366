/** Which lists go to a destination: all crates and playlists, or chosen ones with what lies in them. */
import { useState } from 'react';
import type { DestinationSettings } from '@early-set/core/api/handover';
import type { ListLine } from '@early-set/core/api/types';
import { useLists } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

interface Props {
  name: string;
  lists: readonly string[] | null;
  open: boolean;
  onClose: () => void;
  onKeep: (wish: Partial<DestinationSettings>) => void;
}

export function ListsDialog(props: Props) {
  const { name, open, onClose } = props;
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={`Lists that go to ${name}`}
      note="What lies in a chosen crate goes with it. Lists that do not go are neither written nor taken out there."
    >
      {open && <Tree {...props} />}
    </Dialog>
  );
}

/** Lists in the order of a tree, with their depth. */
function rowsOf(
  all: readonly ListLine[],
  parentId: string | null = null,
  depth = 0,
): { list: ListLine; depth: number }[] {
  return all
    .filter((l) => l.parentId === parentId)
    .flatMap((list) => [{ list, depth }, ...rowsOf(all, list.id, depth + 1)]);
}

function Tree({ lists, onClose, onKeep }: Props) {
  const { data = [] } = useLists();
  const [wanted, setWanted] = useState<ReadonlySet<string> | null>(lists === null ? null : new Set(lists));
  const usable = data.filter((l) => !l.removed && (l.kind === 'crate' || l.kind === 'playlist'));
  const rows = rowsOf(usable);
  const byId = new Map(usable.map((l) => [l.id, l]));
  const goesWith = (list: ListLine): boolean => {
    for (let at = list.parentId; at !== null; at = byId.get(at)?.parentId ?? null) if (wanted?.has(at)) return true;
    return false;
  };
  const toggle = (id: string): void => {
    const next = new Set(wanted ?? []);
    if (!next.delete(id)) next.add(id);
    setWanted(next);
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onKeep({ lists: wanted === null ? null : [...wanted].filter((id) => byId.has(id)) });
        onClose();
      }}
    >
      <label className="flex items-center gap-2 py-1">
        <input
          type="radio"
          name="which"
          checked={wanted === null}
          onChange={() => setWanted(null)}
          className="accent-ink"
        />
        All crates and playlists
      </label>
      <label className="flex items-center gap-2 py-1">
        <input
          type="radio"
          name="which"
          checked={wanted !== null}
          onChange={() => setWanted(new Set(lists ?? []))}
          className="accent-ink"
        />
        Only these
      </label>
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
                  onChange={() => toggle(list.id)}
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
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main" disabled={wanted?.size === 0}>
          Save
        </Button>
      </div>
    </form>
  );
}
