/** Choosing a folder: the allowed places, and a way down into them. */
import { ChevronUp, Folder } from 'lucide-react';
import { useState } from 'react';
import type { RootLine } from '@early-set/core/api/types';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useBrowse, usePlaces, useRoots } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

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
  const { data: places = [] } = usePlaces(open);
  const [path, setPath] = useState<string | null>(null);
  const [measure, setMeasure] = useState(true);
  const here = path ?? places[0]?.path ?? null;
  const { data: folder, error } = useBrowse(open ? here : null);
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
            <input
              key={here ?? ''}
              aria-label="Path; Enter goes there"
              defaultValue={here ?? ''}
              spellCheck={false}
              onKeyDown={(e) => {
                if (e.key === 'Enter' && e.currentTarget.value.trim()) setPath(e.currentTarget.value.trim());
              }}
              className="figures min-w-0 flex-1 rounded-xs border border-transparent bg-transparent px-1 py-0.5 text-small hover:border-line focus:border-tide-deep focus:bg-sheet"
            />
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
            {there && '. It is taken in already; it can be scanned again'}
          </p>
          {inside.length > 0 && (
            <p className="text-small">
              {inside.map((r) => r.label).join(', ')} {inside.length === 1 ? 'is' : 'are'} taken in already and{' '}
              {inside.length === 1 ? 'becomes' : 'become'} part of it, with lists and history.
            </p>
          )}
        </div>
      </div>
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
        <Button kind="main" disabled={!folder} onClick={take}>
          {moved ? 'It is this folder' : there ? 'Scan again' : 'Take in this folder'}
        </Button>
      </div>
    </Dialog>
  );
}
