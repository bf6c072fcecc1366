/** Several lists made one, in an order that can be changed before. */
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Applied, ListLine } from '@early-set/core/api/types';
import type { ListKind } from '@early-set/core/changes/snapshot';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { Segmented } from '../../ui/Segmented.tsx';

const KINDS = [
  ['playlist', 'Playlist'],
  ['crate', 'Crate'],
] as const;

export function JoinDialog({ lists, onClose }: { lists: readonly ListLine[] | null; onClose: () => void }) {
  return (
    <Dialog
      open={lists !== null}
      onClose={onClose}
      title="Join lists"
      note="Makes a new list of them, one after the other. They stay as they are. A crate holds each track once."
    >
      {lists && <JoinForm lists={lists} onClose={onClose} />}
    </Dialog>
  );
}

function JoinForm({ lists, onClose }: { lists: readonly ListLine[]; onClose: () => void }) {
  const navigate = useNavigate();
  const [order, setOrder] = useState(lists);
  const [kind, setKind] = useState<ListKind>(lists.some((l) => l.kind === 'playlist') ? 'playlist' : 'crate');
  const [name, setName] = useState(lists.map((l) => l.name).join(' + '));
  const swap = (i: number, j: number): void => {
    const next = [...order];
    [next[i], next[j]] = [next[j]!, next[i]!];
    setOrder(next);
  };
  const join = async (): Promise<void> => {
    const listIds = order.map((l) => l.id);
    const made = await change(post<Applied & { listId: string }>('/lists/join', { kind, name: name.trim(), listIds }));
    if (!made) return;
    onClose();
    void navigate(`/arrange/${made.listId}`);
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        void join();
      }}
    >
      <label className="flex items-center gap-2">
        <span className="w-14">Name</span>
        <input
          value={name}
          maxLength={1000}
          onChange={(e) => setName(e.target.value)}
          className="h-[28px] min-w-0 flex-1 rounded-xs border border-line bg-sheet px-2"
        />
      </label>
      <Segmented label="Kind" value={kind} choices={KINDS} onChoose={setKind} className="self-start" />
      <ol aria-label="Order" className="max-h-[300px] overflow-y-auto border-t border-line">
        {order.map((l, i) => (
          <li key={l.id} className="flex items-center gap-2 border-b border-line py-1">
            <span className="min-w-0 flex-1 truncate">{l.name}</span>
            <span className="figures text-small text-dim">{several(l.tracks, 'track')}</span>
            <Button kind="quiet" aria-label={`${l.name} up`} disabled={i === 0} onClick={() => swap(i, i - 1)}>
              <ArrowUp size={13} />
            </Button>
            <Button
              kind="quiet"
              aria-label={`${l.name} down`}
              disabled={i === order.length - 1}
              onClick={() => swap(i, i + 1)}
            >
              <ArrowDown size={13} />
            </Button>
          </li>
        ))}
      </ol>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main" disabled={!name.trim()}>
          Join into a new {kind}
        </Button>
      </div>
    </form>
  );
}
