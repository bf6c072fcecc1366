/** Settings of the desk that count for everything. */
import { Settings2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { DeskSettings } from '@early-set/core/api/settings';
import { perform } from '../data/actions.ts';
import { patch } from '../data/api.ts';
import { useSettings } from '../data/hooks.ts';
import { Button } from '../ui/Button.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import { Hint } from '../ui/Hint.tsx';
import { EditsGoTo } from '../views/changes/EditsGoTo.tsx';
import { SettingsFile } from './SettingsFile.tsx';
import { SignedIn } from './SignedIn.tsx';
import { Workers } from './Workers.tsx';
import { useCommands } from '../commands/commands.ts';

const SELECT = 'w-full rounded-xs border border-line bg-sheet px-1 py-px';

export function Settings() {
  const [open, setOpen] = useState(false);
  const { data: settings } = useSettings();
  useCommands([{ id: 'settings', label: 'Settings', group: 'Page', run: () => setOpen(true) }]);
  const set = (wish: Partial<DeskSettings>): void => void perform(patch<DeskSettings>('/settings', wish));
  return (
    <>
      <Hint text="Settings">
        <button
          type="button"
          aria-label="Settings"
          onClick={() => setOpen(true)}
          className="rounded-xs p-1.5 text-dim hover:bg-hair hover:text-ink"
        >
          <Settings2 size={15} />
        </button>
      </Hint>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        title="Settings"
        note="They count at once, for every page that is open."
      >
        {settings && (
          <div className="flex flex-col gap-4">
            <Line
              label="Where edits go"
              note="Into the library only: a count then says how many files are behind, and they are written when you want."
            >
              <EditsGoTo />
            </Line>
            <Line
              label="When a file says something else than the library"
              note="Found when a folder is read again. What you typed or locked is never replaced without this."
            >
              <select
                aria-label="When a file says something else"
                value={settings.changedFiles}
                onChange={(e) => set({ changedFiles: e.target.value as DeskSettings['changedFiles'] })}
                className={SELECT}
              >
                <option value="fill gaps">fill gaps only, report the differences</option>
                <option value="replace">the file is right, unless the field is locked</option>
              </select>
            </Line>
            <Line
              label="Tags for MP3, WAV and AIFF that have none yet"
              note="Tags that are there keep their version; v2.2 becomes v2.3."
            >
              <select
                aria-label="Version of new ID3 tags"
                value={settings.newId3Version}
                onChange={(e) => set({ newId3Version: Number(e.target.value) as DeskSettings['newId3Version'] })}
                className={SELECT}
              >
                <option value={4}>ID3v2.4</option>
                <option value={3}>ID3v2.3, for older programs</option>
              </select>
            </Line>
            <Line
              label="Stars"
              note="Where tags have a place for them (ID3 and Vorbis comments). A scan takes them from files that are new or changed, too."
            >
              <label className="flex items-center gap-1.5 text-small">
                <input
                  type="checkbox"
                  checked={settings.starsInFiles}
                  onChange={(e) => set({ starsInFiles: e.target.checked })}
                  className="accent-ink"
                />
                go into the files
              </label>
            </Line>
            <Line label="Backups and other computers" note="Kept copies of the library, and the library for elsewhere.">
              <span className="flex gap-4 text-small font-semibold text-buoy-text">
                <Link to="/backups" onClick={() => setOpen(false)} className="hover:underline">
                  Backups
                </Link>
                <Link to="/bundles" onClick={() => setOpen(false)} className="hover:underline">
                  Bundles
                </Link>
              </span>
            </Line>
            <Line label="These settings on another computer" note="By category, with cleaning presets and layouts.">
              <SettingsFile settings={settings} />
            </Line>
            <Workers />
            <SignedIn />
            <div className="flex justify-end">
              <Button kind="main" onClick={() => setOpen(false)}>
                Done
              </Button>
            </div>
          </div>
        )}
      </Dialog>
    </>
  );
}

function Line({ label, note, children }: { label: string; note: string; children: ReactNode }) {
  return (
    <div>
      <p className="mb-1 font-semibold">{label}</p>
      {children}
      <p className="mt-1 text-small text-dim">{note}</p>
    </div>
  );
}
