/** The chip that says which tracks are being cleaned, and lets others be chosen. */
import { ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { refKey } from '@early-set/core/files/fileRef';
import { folderLabel, severalRoots } from '../../data/folders.ts';
import { useFolders, useLists } from '../../data/hooks.ts';
import { scopeLabel, type Scope } from './scope.ts';

export function ScopePicker({ scope, onChange }: { scope: Scope; onChange: (scope: Scope) => void }) {
  const [open, setOpen] = useState(false);
  const [find, setFind] = useState('');
  const { data: folders = [] } = useFolders(open);
  const { data: lists = [] } = useLists();
  const fits = (text: string): boolean => text.toLowerCase().includes(find.trim().toLowerCase());
  const line = (key: string, label: string, next: Scope, count?: number) => (
    <li key={key}>
      <button
        type="button"
        aria-current={scopeLabel(scope) === label}
        onClick={() => {
          onChange(next);
          setOpen(false);
        }}
        className="flex w-full items-baseline gap-2 px-2 py-1 text-left hover:bg-chosen aria-[current=true]:font-semibold"
      >
        <span className="min-w-0 flex-1 truncate" title={label}>
          {label}
        </span>
        {count !== undefined && <span className="figures text-small text-dim">{count.toLocaleString('en-GB')}</span>}
      </button>
    </li>
  );
  const several = severalRoots(folders);
  const shownFolders = folders.map((f) => ({ ...f, label: folderLabel(f, several) })).filter((f) => fits(f.label)),
    shownLists = lists.filter((l) => l.kind !== 'clock' && !l.removed && fits(l.name));
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className="flex max-w-[190px] items-center gap-1 rounded-xs bg-chosen px-2 py-1 text-small font-semibold text-buoy-text"
        aria-label={`Which tracks: ${scopeLabel(scope)}`}
      >
        <span className="truncate">{scopeLabel(scope)}</span>
        <ChevronDown size={12} className="shrink-0" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={5}
          aria-label="Which tracks"
          className="floating flex max-h-[60vh] w-[320px] flex-col p-2"
        >
          <input
            autoFocus
            value={find}
            onChange={(e) => setFind(e.target.value)}
            aria-label="Find a folder, crate or playlist"
            placeholder="Find a folder, crate or playlist"
            className="mb-2 rounded-xs border border-line bg-sheet px-2 py-1"
          />
          <div className="min-h-0 overflow-y-auto">
            <ul>
              {fits('All tracks') && line('all', 'All tracks', { what: 'all' })}
              {fits('Tracks with gaps') && line('gaps', 'Tracks with gaps', { what: 'gaps' })}
              {scope.what === 'chosen' && line('chosen', scope.label, scope)}
            </ul>
            {shownFolders.length > 0 && <h3 className="px-2 pt-2 pb-0.5 text-tiny text-dim">Folders</h3>}
            <ul>
              {shownFolders.map((f) =>
                line(refKey(f.ref), f.label, { what: 'folder', ref: f.ref, label: f.label }, f.tracks),
              )}
            </ul>
            {shownLists.length > 0 && <h3 className="px-2 pt-2 pb-0.5 text-tiny text-dim">Crates and playlists</h3>}
            <ul>{shownLists.map((l) => line(l.id, l.name, { what: 'list', id: l.id, name: l.name }, l.tracks))}</ul>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
