/** Making a folder mirror, or changing how one follows its folder. */
import { X } from 'lucide-react';
import { useMemo, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import type { Mirrored } from '@early-set/core/api/lists';
import type { Applied } from '@early-set/core/api/types';
import { DEFAULT_MIRROR, type MirrorSettings } from '@early-set/core/arrange/mirror';
import { refKey } from '@early-set/core/files/fileRef';
import { change } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { everyFolder, folderLabel, severalRoots } from '../../../data/folders.ts';
import { useFacets } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';

const BOX = 'h-[28px] min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5';
/** Depths that can be chosen. */
const DEPTHS = [1, 2, 3, 4, 5];

export interface MirrorAsk {
  /** The topmost crate; null for a new mirror. */
  listId: string | null;
  name: string;
  settings: MirrorSettings | null;
}

export function MirrorDialog({ ask, onClose }: { ask: MirrorAsk | null; onClose: () => void }) {
  return (
    <Dialog
      open={ask !== null}
      onClose={onClose}
      title={ask?.listId ? `Folder mirror ${ask.name}` : 'New folder mirror'}
      note="A crate for each folder, holding what lies in it. Files are not touched."
    >
      {ask && <MirrorForm ask={ask} onClose={onClose} />}
    </Dialog>
  );
}

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  <label className="flex items-center gap-2">
    <span className="w-[92px] shrink-0">{label}</span>
    {children}
  </label>
);

function MirrorForm({ ask, onClose }: { ask: MirrorAsk; onClose: () => void }) {
  const navigate = useNavigate();
  const { data: facets } = useFacets({});
  const folders = useMemo(() => everyFolder(facets?.folders ?? []), [facets]);
  const several = severalRoots(folders);
  const [name, setName] = useState(ask.name);
  const [chosen, setChosen] = useState<MirrorSettings | null>(ask.settings);
  const first = folders[0]?.ref;
  const settings = chosen ?? (first ? { ...DEFAULT_MIRROR, rootId: first.rootId, path: first.path } : null);
  if (!settings) return <p className="text-dim">Choose a folder under Intake first.</p>;
  const set = (part: Partial<MirrorSettings>): void => setChosen({ ...settings, ...part });
  const below = folders.filter(
    ({ ref }) =>
      ref.rootId === settings.rootId &&
      ref.path !== settings.path &&
      (settings.path === '' || ref.path.startsWith(`${settings.path}/`)) &&
      !settings.leftOut.includes(ref.path),
  );
  const save = async (): Promise<void> => {
    const asked = ask.listId
      ? post<Applied & Mirrored>(`/mirrors/${ask.listId}/update`, { settings })
      : post<Applied & Mirrored>('/mirrors', { name, settings });
    const made = await change(asked);
    if (!made) return;
    onClose();
    if (!ask.listId) void navigate(`/arrange/${made.listId}`);
  };
  return (
    <form
      className="flex flex-col gap-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <Line label="Folder">
        <select
          value={refKey(settings)}
          disabled={ask.listId !== null}
          onChange={(e) => {
            const found = folders.find((f) => refKey(f.ref) === e.target.value);
            if (found) set({ rootId: found.ref.rootId, path: found.ref.path, leftOut: [] });
          }}
          className={BOX}
        >
          {folders.map((f) => (
            <option key={refKey(f.ref)} value={refKey(f.ref)}>
              {folderLabel(f, several)} ({f.tracks.toLocaleString('en-GB')})
            </option>
          ))}
        </select>
      </Line>
      {ask.listId === null && (
        <Line label="Name">
          <input
            value={name}
            placeholder="as the folder is called"
            maxLength={1000}
            onChange={(e) => setName(e.target.value)}
            className={BOX}
          />
        </Line>
      )}
      <Line label="Depth">
        <select
          value={settings.depth ?? ''}
          onChange={(e) => set({ depth: e.target.value === '' ? null : Number(e.target.value) })}
          className={BOX}
        >
          <option value="">all folders below</option>
          <option value="0">this folder only, with what lies below</option>
          {DEPTHS.map((n) => (
            <option key={n} value={n}>
              {n === 1 ? 'one level' : `${n} levels`}; deeper ones go into the last
            </option>
          ))}
        </select>
      </Line>
      <Line label="Names">
        <input
          value={settings.name ?? ''}
          placeholder="as folders are called, or {{ parent }} {{ folder }}"
          maxLength={500}
          onChange={(e) => set({ name: e.target.value || null })}
          className={BOX}
        />
      </Line>
      <Line label="Follows">
        <select
          value={settings.follow}
          onChange={(e) => set({ follow: e.target.value as MirrorSettings['follow'] })}
          className={BOX}
        >
          <option value="each scan">after each scan</option>
          <option value="by hand">when I update it</option>
        </select>
      </Line>
      <Line label="Folder gone">
        <select
          value={settings.gone}
          onChange={(e) => set({ gone: e.target.value as MirrorSettings['gone'] })}
          className={BOX}
        >
          <option value="stay">its crate stays</option>
          <option value="remove">its crate is removed</option>
        </select>
      </Line>
      <label className="flex items-center gap-1.5 pl-[100px]">
        <input
          type="checkbox"
          checked={settings.onlyWithTracks}
          onChange={(e) => set({ onlyWithTracks: e.target.checked })}
          className="accent-ink"
        />
        only folders with tracks in them
      </label>
      <div className="flex items-start gap-2">
        <span className="w-[92px] shrink-0 pt-1">Left out</span>
        <div className="flex min-w-0 flex-1 flex-col gap-1">
          {settings.leftOut.map((path) => (
            <span key={path} className="flex items-center gap-1">
              <span className="min-w-0 flex-1 truncate" title={path}>
                {path}
              </span>
              <Button
                kind="quiet"
                aria-label={`Take ${path} in again`}
                onClick={() => set({ leftOut: settings.leftOut.filter((p) => p !== path) })}
              >
                <X size={13} />
              </Button>
            </span>
          ))}
          <select
            aria-label="Leave a folder out"
            value=""
            onChange={(e) => set({ leftOut: [...settings.leftOut, e.target.value] })}
            className={`${BOX} flex-none`}
          >
            <option value="">Leave a folder out…</option>
            {below.map(({ ref }) => (
              <option key={ref.path} value={ref.path}>
                {ref.path}
              </option>
            ))}
          </select>
        </div>
      </div>
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main">
          {ask.listId ? 'Save and update' : 'Make the crates'}
        </Button>
      </div>
    </form>
  );
}
