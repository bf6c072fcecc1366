/** Asks before files in quarantine are deleted for good: nothing takes that back. */
import { useState } from 'react';
import { toast } from 'sonner';
import type { Emptied, QuarantinedFile } from '@early-set/core/api/disk';
import { perform, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { bytes } from '../../../ui/format.ts';

interface Props {
  /** Null: nothing is asked. */
  files: readonly QuarantinedFile[] | null;
  onClose: () => void;
  onDone: (report: Emptied) => void;
}

export function DeleteDialog({ files, onClose, onDone }: Props) {
  const [busy, setBusy] = useState(false);
  const some = files ?? [];
  const alone = some.filter((f) => f.main).length;
  const remove = async (): Promise<void> => {
    setBusy(true);
    const done = await perform(post<Emptied>('/disk/quarantine/empty', { fileIds: some.map((f) => f.fileId) })).finally(
      () => setBusy(false),
    );
    if (!done) return;
    if (done.files > 0) toast(`${several(done.files, 'file')} deleted, ${bytes(done.bytes)} free`, { duration: 3000 });
    onDone(done);
    onClose();
  };
  return (
    <Dialog
      open={files !== null}
      onClose={onClose}
      title="Delete for good"
      note={`${several(some.length, 'file')}, ${bytes(some.reduce((sum, f) => sum + f.size, 0))}. This cannot be undone.`}
    >
      {alone > 0 && (
        <p className="text-sodium-text">
          {several(alone, 'track has', 'tracks have')} no other file: what a list holds will be listed under Missing
          files, the rest leaves the library.
        </p>
      )}
      <div className="mt-3 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={busy} onClick={() => void remove()}>
          Delete {several(some.length, 'file')}
        </Button>
      </div>
    </Dialog>
  );
}
