/** Choosing a folder in the places that may be looked into. */
import { useState } from 'react';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { FolderBrowser, useFolder } from './FolderBrowser.tsx';

interface Props {
  /** Null: the first place. */
  start?: string | null;
  title: string;
  note?: string;
  onClose: () => void;
  onChoose: (folder: string) => void;
}

export function FolderDialog({ start = null, title, note, onClose, onChoose }: Props) {
  const [path, setPath] = useState<string | null>(start);
  const looked = useFolder(true, path);
  return (
    <Dialog open onClose={onClose} title={title} {...(note ? { note } : {})} wide>
      <FolderBrowser {...looked} onPath={setPath} />
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={!looked.folder} onClick={() => looked.here && onChoose(looked.here)}>
          Use this folder
        </Button>
      </div>
    </Dialog>
  );
}
