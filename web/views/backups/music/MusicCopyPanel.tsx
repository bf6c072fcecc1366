/** Where the copy of the music lies, when it is brought up to date, and what of the library is in it. */
import { useState } from 'react';
import type { MusicCopyHere, MusicCopySettings } from '@early-set/core/api/musicCopy';
import { perform, several } from '../../../data/actions.ts';
import { patch } from '../../../data/api.ts';
import { useMusicCopy } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { bytes } from '../../../ui/format.ts';
import { FolderDialog } from '../../intake/FolderDialog.tsx';

export function MusicCopyPanel({ here }: { here: MusicCopyHere }) {
  const { mutate } = useMusicCopy();
  const [choosing, setChoosing] = useState(false);
  const { settings, freeBytes, roots } = here;
  const set = async (wish: Partial<MusicCopySettings>): Promise<boolean> => {
    const next = await perform(patch<MusicCopyHere>('/music-copy/settings', wish));
    if (next) void mutate(next, { revalidate: false });
    return next !== undefined;
  };
  const leave = (rootId: number, left: boolean): void =>
    void set({ leftOut: left ? [...settings.leftOut, rootId] : settings.leftOut.filter((id) => id !== rootId) });
  return (
    <aside
      aria-label="Where and when"
      className="flex w-[262px] shrink-0 flex-col gap-4 overflow-y-auto border-r border-line bg-paper p-3.5 narrow:order-last narrow:w-auto narrow:border-t narrow:border-r-0"
    >
      <section className="flex flex-col gap-1.5">
        <h2 className="heading text-[16px]">Where</h2>
        {settings.folder === null ? (
          <p className="text-small text-dim">No folder has been chosen.</p>
        ) : (
          <p className="figures text-small break-all">{settings.folder}</p>
        )}
        {freeBytes !== null && <p className="text-small text-dim">{bytes(freeBytes)} free</p>}
        <div className="flex flex-wrap gap-2">
          <Button onClick={() => setChoosing(true)}>
            {settings.folder === null ? 'Choose a folder…' : 'Another folder…'}
          </Button>
          {settings.folder !== null && (
            <Button kind="link" onClick={() => void set({ folder: null })}>
              No longer copy
            </Button>
          )}
        </div>
        <p className="text-small text-dim">What lies on a copy stays there when you choose another folder.</p>
      </section>
      <section className="flex flex-col gap-1.5">
        <h2 className="heading text-[16px]">When</h2>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={settings.daily}
            onChange={(e) => void set({ daily: e.target.checked })}
            className="accent-ink"
          />
          Every day, with the backup of the library
        </label>
        <p className="text-small text-dim">Only when its drive is there.</p>
      </section>
      <section aria-label="Library folders" className="flex flex-col gap-1.5">
        <h2 className="heading text-[16px]">What</h2>
        {roots.map(({ rootId, label, path, left, files, bytes: size }) => (
          <label key={rootId} className="flex items-baseline gap-2" title={path}>
            <input
              type="checkbox"
              checked={!left}
              onChange={(e) => leave(rootId, !e.target.checked)}
              className="accent-ink"
            />
            <span className="min-w-0 flex-1">
              <span className="block truncate">{label}</span>
              <span className="block text-small text-dim">
                {files > 0 ? `${several(files, 'file')}, ${bytes(size)} on the copy` : 'Not on the copy'}
              </span>
            </span>
          </label>
        ))}
        <p className="text-small text-dim">All files of a folder, pictures and lists too. Hidden ones are left out.</p>
      </section>
      {choosing && (
        <FolderDialog
          title="Where the music is copied to"
          note="A folder on another drive. A folder of its own is made in it."
          onClose={() => setChoosing(false)}
          onChoose={(folder) => void set({ folder }).then((taken) => taken && setChoosing(false))}
        />
      )}
    </aside>
  );
}
