/** Where tracks can be taken from besides folders: programs, playlist files, the pool. */
import { Download, ListMusic, MonitorSpeaker } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useSources } from '../../data/take.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { FolderBrowser, useFolder } from './FolderBrowser.tsx';

export const takeAddress = (source: string): string => `/intake/from?source=${encodeURIComponent(source)}`;

const ROW = 'flex w-full items-center gap-2 border-b border-hair py-1.5 text-left hover:text-buoy-text';

export function OtherCollections() {
  const { data: sources = [] } = useSources();
  const [opening, setOpening] = useState(false);
  return (
    <section aria-label="Other collections">
      <h2 className="heading text-[16px]">Other collections</h2>
      <ul className="mt-1">
        {sources.map(({ key, name, what, trouble }) => {
          const Icon = key === 'pool' ? Download : MonitorSpeaker;
          return (
            <li key={key}>
              {trouble ? (
                <p className={`${ROW} text-dim`} title={trouble}>
                  <Icon size={15} className="shrink-0" />
                  <span className="min-w-0 flex-1 truncate">{name}</span>
                  <span className="text-small text-flare">cannot be read</span>
                </p>
              ) : (
                <Link to={takeAddress(key)} className={ROW}>
                  <Icon size={15} className="shrink-0 text-tide-deep" />
                  <span className="min-w-0 flex-1 truncate">
                    <span className="font-semibold">{name}</span> <span className="text-small text-dim">{what}</span>
                  </span>
                </Link>
              )}
            </li>
          );
        })}
        <li>
          <button type="button" onClick={() => setOpening(true)} className={ROW}>
            <ListMusic size={15} className="shrink-0 text-tide-deep" />
            <span className="font-semibold">A playlist file…</span>
          </button>
        </li>
      </ul>
      <ListPicker open={opening} onClose={() => setOpening(false)} />
    </section>
  );
}

/** Choosing a list file on this machine. */
function ListPicker({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [path, setPath] = useState<string | null>(null);
  const navigate = useNavigate();
  const looked = useFolder(open, path);
  const lists = looked.folder?.lists ?? [];
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Open a playlist file"
      note="M3U, M3U8, PLS, XSPF, JSPF, CUE, CSV, TSV or text. Nothing is taken until you have looked through it."
      wide
    >
      <FolderBrowser {...looked} onPath={setPath}>
        <ul aria-label="Playlist files" className="max-h-[150px] overflow-auto border-t border-line pt-1">
          {lists.map((list) => (
            <li key={list.path}>
              <button
                type="button"
                onClick={() => void navigate(takeAddress(`list:${list.path}`))}
                className="flex w-full items-center gap-2 border-b border-hair px-1.5 py-1.5 text-left hover:bg-hair"
              >
                <ListMusic size={14} className="shrink-0 text-tide-deep" />
                <span className="truncate">{list.name}</span>
              </button>
            </li>
          ))}
          {lists.length === 0 && <li className="p-1.5 text-small text-dim">No playlist files in this folder.</li>}
        </ul>
      </FolderBrowser>
      <div className="mt-3 flex justify-end">
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </Dialog>
  );
}
