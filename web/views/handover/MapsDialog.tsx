/** Where the same files lie under other paths at a destination: which folder there is which here. */
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { DestinationSettings } from '@early-set/core/api/handover';
import { plainPath, type PathMap } from '@early-set/core/relink/pathMap';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { INPUT } from '../../ui/form/fields.tsx';

interface Props {
  name: string;
  maps: readonly PathMap[];
  /** A path there that is nowhere here, as an example. */
  example: string | null;
  open: boolean;
  onClose: () => void;
  onKeep: (wish: Partial<DestinationSettings>) => void;
}

export function MapsDialog(props: Props) {
  const { name, open, onClose } = props;
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={`Paths at ${name}`}
      note="Where its files lie under other paths than here: what lies below the one folder lies below the other."
      wide
    >
      {open && <Lines {...props} />}
    </Dialog>
  );
}

function Lines({ name, maps, example, onClose, onKeep }: Props) {
  const [lines, setLines] = useState<PathMap[]>(maps.length > 0 ? [...maps] : [{ from: '', to: '' }]);
  const set = (at: number, wish: Partial<PathMap>): void =>
    setLines(lines.map((line, i) => (i === at ? { ...line, ...wish } : line)));
  const whole = lines.filter((l) => l.from.trim() !== '' && l.to.trim() !== '');
  const half = lines.some((l) => (l.from.trim() === '') !== (l.to.trim() === ''));
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onKeep({ maps: whole.map(({ from, to }) => ({ from: plainPath(from), to: plainPath(to) })) });
        onClose();
      }}
    >
      {example && (
        <p className="mb-2 text-small text-dim">
          A path there that is nowhere here: <span className="figures text-ink">{example}</span>
        </p>
      )}
      <ul className="flex flex-col gap-1.5">
        {lines.map((line, i) => (
          <li key={i} className="flex items-center gap-2">
            <input
              aria-label={`Folder at ${name}, ${i + 1}`}
              value={line.from}
              placeholder={`/Users/odi/Music, as ${name} writes it`}
              onChange={(e) => set(i, { from: e.target.value })}
              className={INPUT}
            />
            <span className="shrink-0 text-dim">is</span>
            <input
              aria-label={`The same folder here, ${i + 1}`}
              value={line.to}
              placeholder="/srv/music"
              onChange={(e) => set(i, { to: e.target.value })}
              className={INPUT}
            />
            <button
              type="button"
              aria-label={`Remove line ${i + 1}`}
              onClick={() => setLines(lines.filter((_, at) => at !== i))}
              className="shrink-0 text-dim hover:text-ink"
            >
              <X size={15} />
            </button>
          </li>
        ))}
      </ul>
      <div className="mt-3 flex items-center gap-2">
        <Button onClick={() => setLines([...lines, { from: '', to: '' }])} disabled={lines.length >= 50}>
          <Plus size={14} /> Another
        </Button>
        <span className="flex-1">
          {half && (
            <span role="alert" className="text-small text-flare">
              Both sides of a line are needed.
            </span>
          )}
        </span>
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main" disabled={half}>
          Save
        </Button>
      </div>
    </form>
  );
}
