/** Adding a program by the folder in which it keeps its data. */
import { useState } from 'react';
import { perform } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { FolderBrowser, useFolder } from '../intake/FolderBrowser.tsx';

interface Props {
  open: boolean;
  onClose: () => void;
  onAdded: (id: number) => void;
}

export function AddDestination({ open, onClose, onAdded }: Props) {
  const [path, setPath] = useState<string | null>(null);
  const folder = useFolder(open, path);
  const add = (): void => {
    if (!folder.here) return;
    void perform(post<{ id: number }>('/destinations', { folder: folder.here }), 'Added').then((made) => {
      if (!made) return;
      onAdded(made.id);
      onClose();
    });
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Add a destination"
      note="Choose the folder in which the program keeps its data. Nothing there is changed before you apply something."
      wide
    >
      <FolderBrowser {...folder} onPath={setPath} />
      <div className="mt-3 flex justify-end gap-3">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={!folder.folder} onClick={add}>
          Add what is in this folder
        </Button>
      </div>
    </Dialog>
  );
}
