/** Choosing a folder that is taken in, or to which a drive has come back. */
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { RootLine } from '@early-set/core/api/types';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useRoots } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { FolderBrowser, useFolder } from './FolderBrowser.tsx';

interface Props {
  open: boolean;
  /** The folder whose drive came back in another place; null to take a new one in. */
  moved: RootLine | null;
  onClose: () => void;
  /** Told of the folder that was taken in, or was there already. */
  onTaken: (rootId: number) => void;
}

const lieIn = (folder: string, path: string): boolean => path.startsWith(folder === '/' ? '/' : `${folder}/`);

export function FolderPicker({ open, moved, onClose, onTaken }: Props) {
  const { data: roots = [] } = useRoots();
  const navigate = useNavigate();
  const [path, setPath] = useState<string | null>(null);
  const [measure, setMeasure] = useState(true);
  const looked = useFolder(open, path);
  const { here, folder } = looked;
  /** The folder itself is taken in already; those below it are. */
  const there = moved ? undefined : roots.find((r) => r.path === here);
  const inside = moved || !here ? [] : roots.filter((r) => r.purpose === 'library' && lieIn(here, r.path));
  const take = (): void => {
    if (!here) return;
    const asked: Promise<{ rootId?: number; runId: number | null } | undefined> = moved
      ? perform(post(`/roots/${moved.id}/path`, { path: here }), `${moved.label} is found again`)
      : there
        ? perform(post(`/roots/${there.id}/scan`), 'Looking for new, changed and missing files')
        : perform(post('/roots', { path: here, measure }), 'The folder is being read');
    void asked.then((answer) => {
      if (!answer) return;
      const taken = there?.id ?? answer.rootId;
      if (taken !== undefined) onTaken(taken);
      onClose();
      setPath(null);
    });
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title={moved ? `Where is ${moved.label} now?` : 'Choose a folder'}
      note={
        moved
          ? 'Choose the folder that holds the same files. Tracks, lists and history follow; no file is moved or changed.'
          : 'Everything below it is read where it is. No file is moved or changed.'
      }
      wide
    >
      <FolderBrowser {...looked} onPath={setPath}>
        <p className="pt-1.5 text-small text-dim">
          {folder &&
            (folder.audioFiles
              ? `${several(folder.audioFiles, 'audio file')} directly in this folder`
              : 'No audio files directly in this folder')}
          {there && '. It is taken in already; it can be scanned again'}
        </p>
        {inside.length > 0 && (
          <p className="text-small">
            {inside.map((r) => r.label).join(', ')} {inside.length === 1 ? 'is' : 'are'} taken in already and{' '}
            {inside.length === 1 ? 'becomes' : 'become'} part of it, with lists and history.
          </p>
        )}
      </FolderBrowser>
      <div className="mt-3 flex items-center gap-3">
        <label className={`flex flex-1 items-center gap-2 ${moved || there ? 'invisible' : ''}`}>
          <input
            type="checkbox"
            checked={measure}
            onChange={(e) => setMeasure(e.target.checked)}
            className="accent-ink"
          />
          Measure tempo, key and loudness straight away
        </label>
        <Button onClick={onClose}>Cancel</Button>
        {!moved && !there && (
          <Button
            disabled={!folder}
            onClick={() => {
              onClose();
              void navigate(`/intake/look?path=${encodeURIComponent(folder!.path)}`);
            }}
          >
            Look first…
          </Button>
        )}
        <Button kind="main" disabled={!folder} onClick={take}>
          {moved ? 'It is this folder' : there ? 'Scan again' : 'Take in this folder'}
        </Button>
      </div>
    </Dialog>
  );
}
