/** Adding a destination: a program by the folder in which it keeps its data, or a stick or folder for a player. */
import { useState } from 'react';
import { perform } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { usePlayers } from '../../data/sticks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { INPUT } from '../../ui/form/fields.tsx';
import { Segmented } from '../../ui/Segmented.tsx';
import { FolderBrowser, useFolder } from '../intake/FolderBrowser.tsx';

interface Props {
  open: boolean;
  onClose: () => void;
  /** @param path of its page */
  onAdded: (path: string) => void;
}

const KINDS = [
  ['program', 'A program'],
  ['stick', 'A stick or folder'],
  ['playout', 'A playout system'],
] as const;
type Kind = (typeof KINDS)[number][0];

const NOTES: Readonly<Record<Kind, string>> = {
  program:
    'Choose the folder in which the program keeps its data. Nothing there is changed before you apply something.',
  stick:
    'Choose the stick, or an empty folder. What lies there already stays, and nothing is written before you say so.',
  playout:
    'Choose the folder of the playout system. What lies there already stays, and nothing is written before you say so.',
};

export function AddDestination({ open, onClose, onAdded }: Props) {
  const [kind, setKind] = useState<Kind>('program');
  const [path, setPath] = useState<string | null>(null);
  const [player, setPlayer] = useState<string | null>(null);
  const { data: players = [] } = usePlayers();
  const folder = useFolder(open, path);
  const isStick = kind !== 'program';
  const fitting = players.filter((p) => (p.playout !== null) === (kind === 'playout'));
  const wanted = (fitting.find((p) => p.kind === player) ?? fitting[0])?.kind;
  const add = (): void => {
    if (!folder.here) return;
    const [to, wish] = isStick
      ? (['/sticks', { folder: folder.here, player: wanted }] as const)
      : (['/destinations', { folder: folder.here }] as const);
    void perform(post<{ id: number }>(to, wish), 'Added').then((made) => {
      if (!made) return;
      onAdded(isStick ? `/handover/stick/${made.id}` : `/handover/${made.id}`);
      onClose();
    });
  };
  return (
    <Dialog open={open} onClose={onClose} title="Add a destination" note={NOTES[kind]} wide>
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <Segmented label="What is added" value={kind} choices={KINDS} onChoose={setKind} />
        {isStick && (
          <label className="flex items-center gap-2">
            <span className="text-small text-dim">{kind === 'playout' ? 'System' : 'Player'}</span>
            <select value={wanted} onChange={(e) => setPlayer(e.target.value)} className={INPUT}>
              {fitting.map((p) => (
                <option key={p.kind} value={p.kind}>
                  {p.name}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      <FolderBrowser {...folder} onPath={setPath} />
      <div className="mt-3 flex justify-end gap-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={!folder.folder || (isStick && wanted === undefined)} onClick={add}>
          {isStick ? 'Write to this folder' : 'Add what is in this folder'}
        </Button>
      </div>
    </Dialog>
  );
}
