/** When backups are made, where they lie, and how long they stay. */
import { useState } from 'react';
import type { BackupsHere, BackupSettings } from '@early-set/core/api/backups';
import type { KeepRule } from '@early-set/core/backups/keep';
import { readTimeOfDay } from '@early-set/core/clock/clock';
import { perform } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { useBackups, useSettings } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { SavedInput } from '../../ui/form/SavedInput.tsx';
import { bytes } from '../../ui/format.ts';
import { FolderDialog } from '../intake/FolderDialog.tsx';

const KEEP: [keyof KeepRule, string, number][] = [
  ['days', 'days', 60],
  ['weeks', 'weeks', 60],
  ['months', 'months', 120],
];

export function SchedulePanel({ here }: { here: BackupsHere }) {
  const { data: settings } = useSettings();
  const { mutate } = useBackups();
  const [choosing, setChoosing] = useState(false);
  if (!settings) return null;
  const { backups } = settings;
  const set = async (wish: Partial<BackupSettings>): Promise<boolean> => {
    const next = await perform(patch<BackupsHere>('/backups/settings', { ...backups, ...wish }));
    if (next) void mutate(next, { revalidate: false });
    return next !== undefined;
  };
  return (
    <aside
      aria-label="When and where"
      className="flex w-[262px] shrink-0 flex-col gap-4 overflow-y-auto border-r border-line bg-paper p-3.5 narrow:order-last narrow:w-auto narrow:border-t narrow:border-r-0"
    >
      <section className="flex flex-col gap-1.5">
        <h2 className="heading text-[16px]">When</h2>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={backups.on}
            onChange={(e) => void set({ on: e.target.checked })}
            className="accent-ink"
          />
          <span className="flex-1">Every day at</span>
          <SavedInput
            label="Time of day"
            value={backups.at}
            text={String}
            read={(text) => readTimeOfDay(text) ?? undefined}
            onSave={(at) => at !== null && void set({ at })}
          />
        </label>
        <p className="text-small text-dim">
          If the computer is off then, as soon as it is on again. One is also made before every upgrade and every
          restore.
        </p>
      </section>
      <section className="flex flex-col gap-1.5">
        <h2 className="heading text-[16px]">Where</h2>
        <p className="figures text-small break-all">{here.folder}</p>
        {here.freeBytes !== null && <p className="text-small text-dim">{bytes(here.freeBytes)} free</p>}
        <div className="flex flex-wrap gap-2">
          <Button onClick={() => setChoosing(true)}>Another folder…</Button>
          {backups.folder !== null && (
            <Button kind="link" onClick={() => void set({ folder: null })}>
              In the data folder
            </Button>
          )}
        </div>
        <p className="text-small text-dim">Backups that are there already stay where they are.</p>
      </section>
      <section className="flex flex-col gap-1.5">
        <h2 className="heading text-[16px]">How long</h2>
        <p className="text-small text-dim">The last backup of each of so many</p>
        {KEEP.map(([span, label, most]) => (
          <div key={span} className="flex items-center gap-2">
            <span className="flex-1">{label}</span>
            <SavedInput
              label={`How many ${label}`}
              value={backups.keep[span]}
              text={String}
              read={(text) => {
                const n = Number(text);
                return text !== '' && Number.isInteger(n) && n >= 0 && n <= most ? n : undefined;
              }}
              onSave={(n) => n !== null && void set({ keep: { ...backups.keep, [span]: n } })}
            />
          </div>
        ))}
        <p className="text-small text-dim">
          The newest good one always stays, and those made by hand until you remove them. One that cannot be restored
          takes no other’s place.
        </p>
      </section>
      {choosing && (
        <FolderDialog
          title="Where backups go"
          note="Best a folder on another drive, that is there most of the time."
          onClose={() => setChoosing(false)}
          onChoose={(folder) => void set({ folder }).then((taken) => taken && setChoosing(false))}
        />
      )}
    </aside>
  );
}
