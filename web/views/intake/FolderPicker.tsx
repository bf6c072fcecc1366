/** Choosing a folder: the allowed places, and a way down into them. */
import { ChevronUp, Folder } from 'lucide-react';
import { useState } from 'react';
import type { RootLine } from '@early-set/core/api/types';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useBrowse, usePlaces } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

interface Props {
  open: boolean;
  /** The folder whose drive came back in another place; null to take a new one in. */
  moved: RootLine | null;
  onClose: () => void;
}

export function FolderPicker({ open, moved, onClose }: Props) {
  const { data: places = [] } = usePlaces(open);
  const [path, setPath] = useState<string | null>(null);
  const [measure, setMeasure] = useState(true);
  const here = path ?? places[0]?.path ?? null;
  const { data: folder, error } = useBrowse(open ? here : null);
  const take = (): void => {
    if (!here) return;
    const asked = moved
      ? perform(post(`/roots/${moved.id}/path`, { path: here }), `${moved.label} is found again`)
      : perform(post('/roots', { path: here, measure }), 'The folder is being read');
    void asked.then((answer) => {
      if (answer) {
        onClose();
        setPath(null);
      }
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
      <div className="flex gap-4">
        <ul className="w-[170px] shrink-0" aria-label="Places">
          {places.map((p) => (
            <li key={p.path}>
              <button
                type="button"
                onClick={() => setPath(p.path)}
                title={p.path}
                aria-pressed={here === p.path}
                className={`w-full border-b border-hair px-2 py-1.5 text-left ${here?.startsWith(p.path) ? 'font-semibold' : ''} hover:bg-hair`}
              >
                {p.label}
              </button>
            </li>
          ))}
        </ul>
        <div className="min-w-0 flex-1">
          <div className="flex items-center gap-2 border-b border-line pb-1.5">
            <Button
              kind="quiet"
              aria-label="One folder up"
              disabled={!folder?.parent}
              onClick={() => setPath(folder!.parent)}
            >
              <ChevronUp size={15} />
            </Button>
            <p className="figures min-w-0 flex-1 truncate text-small" title={here ?? ''} dir="ltr">
              {here}
            </p>
          </div>
          <ul className="h-[250px] overflow-auto" aria-label="Folders inside">
            {error && <li className="p-2 text-flare">{error.message}</li>}
            {folder?.folders.map((f) => (
              <li key={f.path}>
                <button
                  type="button"
                  onClick={() => setPath(f.path)}
                  className="flex w-full items-center gap-2 border-b border-hair px-1.5 py-1.5 text-left hover:bg-hair"
                >
                  <Folder size={14} className="shrink-0 text-tide-deep" />
                  <span className="truncate">{f.name}</span>
                </button>
              </li>
            ))}
            {folder?.folders.length === 0 && <li className="p-2 text-dim">No folders inside.</li>}
          </ul>
          <p className="pt-1.5 text-small text-dim">
            {folder &&
              (folder.audioFiles
                ? `${several(folder.audioFiles, 'audio file')} directly in this folder`
                : 'No audio files directly in this folder')}
          </p>
        </div>
      </div>
      <div className="mt-3 flex items-center gap-3">
        <label className={`flex flex-1 items-center gap-2 ${moved ? 'invisible' : ''}`}>
          <input
            type="checkbox"
            checked={measure}
            onChange={(e) => setMeasure(e.target.checked)}
            className="accent-ink"
          />
          Measure tempo, key and loudness straight away
        </label>
        <Button onClick={onClose}>Cancel</Button>
        <Button kind="main" disabled={!folder} onClick={take}>
          {moved ? 'It is this folder' : 'Take in this folder'}
        </Button>
      </div>
    </Dialog>
  );
}
