/** A folder, and choosing another one. */
import { useState } from 'react';
import { Button } from '../../ui/Button.tsx';
import { FolderDialog } from '../intake/FolderDialog.tsx';

interface Props {
  folder: string | null;
  title: string;
  /** Of which folder it is said. */
  label?: string;
  onChoose: (folder: string) => void;
}

export function ChosenFolder({ folder, title, label, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <div className="flex min-w-0 items-center gap-2">
      {folder !== null && <span className="figures min-w-0 truncate text-small">{folder}</span>}
      <Button aria-label={label} onClick={() => setOpen(true)}>
        {folder === null ? 'Choose a folder…' : 'Another folder…'}
      </Button>
      {open && (
        <FolderDialog
          start={folder}
          title={title}
          onClose={() => setOpen(false)}
          onChoose={(chosen) => {
            onChoose(chosen);
            setOpen(false);
          }}
        />
      )}
    </div>
  );
}
