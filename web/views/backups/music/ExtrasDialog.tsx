/** Asks before files are taken from the copy: into its quarantine, which can be undone, or for good. */
import { useState } from 'react';
import { toast } from 'sonner';
import type { Emptied } from '@early-set/core/api/disk';
import type { CopyExtra } from '@early-set/core/api/musicCopy';
import type { Applied } from '@early-set/core/api/types';
import { change, perform, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { bytes } from '../../../ui/format.ts';

const SHOWN = 200;

interface Props {
  /** Null: nothing is asked. All are of one state. */
  files: readonly CopyExtra[] | null;
  onClose: () => void;
  onLeft: (left: Emptied['left']) => void;
}

export function ExtrasDialog({ files, onClose, onLeft }: Props) {
  const [busy, setBusy] = useState(false);
  const some = files ?? [];
  const forGood = some[0]?.state === 'aside';
  const ids = some.map(({ id }) => id);
  const count = several(some.length, 'file');
  const go = async (): Promise<void> => {
    setBusy(true);
    try {
      if (!forGood) {
        if (await change(post<Applied>('/music-copy/remove', { ids }), `${count} removed from the copy`)) onClose();
        return;
      }
      const done = await perform(post<Emptied>('/music-copy/empty', { ids }));
      if (!done) return;
      if (done.files > 0)
        toast(`${several(done.files, 'file')} deleted, ${bytes(done.bytes)} free`, { duration: 3000 });
      onLeft(done.left);
      onClose();
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog
      open={files !== null}
      onClose={onClose}
      title={forGood ? 'Delete for good' : 'Remove from the copy'}
      note={`${count}, ${bytes(some.reduce((sum, { size }) => sum + size, 0))}. ${
        forGood
          ? 'This cannot be undone.'
          : 'They go into quarantine on that drive, and can be put back under Changes until they are deleted there.'
      }`}
    >
      <ul
        aria-label="Files"
        tabIndex={0}
        className="figures max-h-[40vh] overflow-y-auto border-t border-hair text-small"
      >
        {some.slice(0, SHOWN).map(({ id, root, path }) => (
          <li key={id} className="truncate border-b border-hair py-0.5" title={path}>
            {root}: {path}
          </li>
        ))}
        {some.length > SHOWN && <li className="py-0.5 text-dim">{several(some.length - SHOWN, 'more file')}</li>}
      </ul>
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={busy} onClick={() => void go()}>
          {forGood ? 'Delete' : 'Remove'} {count}
        </Button>
      </div>
    </Dialog>
  );
}
