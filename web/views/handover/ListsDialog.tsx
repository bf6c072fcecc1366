/** Which lists go to a destination: all crates and playlists, or chosen ones with what lies in them. */
import { useState } from 'react';
import type { DestinationSettings } from '@early-set/core/api/handover';
import { useLists } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { ListChecks, usableLists } from './ListChecks.tsx';

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

function Tree({ lists, onClose, onKeep }: Props) {
  const { data = [] } = useLists();
  const [wanted, setWanted] = useState<ReadonlySet<string> | null>(lists === null ? null : new Set(lists));
  const usable = usableLists(data);
  const toggle = (id: string): void => {
    const next = new Set(wanted ?? []);
    if (!next.delete(id)) next.add(id);
    setWanted(next);
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onKeep({ lists: wanted === null ? null : usable.filter((l) => wanted.has(l.id)).map((l) => l.id) });
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
      <ListChecks lists={usable} wanted={wanted} onToggle={toggle} />
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main" disabled={wanted?.size === 0}>
          Save
        </Button>
      </div>
    </form>
  );
}
