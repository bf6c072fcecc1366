/** Adding a date, or changing one. */
import { useState } from 'react';
import type { DateInfo, DateLine } from '@early-set/core/api/types';
import { localDay } from '@early-set/core/clock/clock';
import { perform, several } from '../../data/actions.ts';
import { patch, post } from '../../data/api.ts';
import { useLists } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

const INPUT = 'h-[28px] w-full rounded-xs border border-line bg-sheet px-2';
const KINDS: [DateInfo['kind'], string, DateInfo['asks']][] = [
  ['gig', 'Gig', 'floor'],
  ['show', 'Show', 'playout'],
];

export function DateDialog({ date, onClose }: { date: DateLine | null; onClose: () => void }) {
  const { data: lists = [] } = useLists();
  const [info, setInfo] = useState<DateInfo>(
    date
      ? {
          name: date.name,
          kind: date.kind,
          day: date.day,
          startsAt: date.startsAt,
          asks: date.asks,
          listIds: date.listIds,
        }
      : {
          name: '',
          kind: 'gig',
          day: localDay(new Date(Date.now() + 86_400_000)),
          startsAt: null,
          asks: 'floor',
          listIds: [],
        },
  );
  const set = (change: Partial<DateInfo>): void => setInfo({ ...info, ...change });
  const there = lists.filter((l) => !l.removed);
  const ready = info.name.trim() !== '' && /^\d{4}-\d\d-\d\d$/.test(info.day);
  const save = async (): Promise<void> => {
    // Lists that have gone meanwhile are left out.
    const wish = {
      ...info,
      name: info.name.trim(),
      listIds: info.listIds.filter((id) => there.some((l) => l.id === id)),
    };
    const kept = await perform(
      date ? patch(`/dates/${date.id}`, wish) : post('/dates', wish),
      date ? 'The date is changed' : `“${wish.name}” stands under Today`,
    );
    if (kept) onClose();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={date ? 'Change the date' : 'Add a date'}
      note="How ready the tracks of its crates and playlists are is counted anew all the time."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (ready) void save();
        }}
      >
        <label className="block">
          <span className="mb-0.5 block text-small text-dim">Name</span>
          <input
            value={info.name}
            maxLength={200}
            onChange={(e) => set({ name: e.target.value })}
            placeholder="Slipway, Skerry 98 at seven…"
            className={INPUT}
          />
        </label>
        <div className="grid grid-cols-3 gap-3">
          <label>
            <span className="mb-0.5 block text-small text-dim">What</span>
            <select
              value={info.kind}
              onChange={(e) => {
                const kind = KINDS.find(([k]) => k === e.target.value)!;
                set({ kind: kind[0], asks: kind[2] });
              }}
              className={INPUT}
            >
              {KINDS.map(([k, label]) => (
                <option key={k} value={k}>
                  {label}
                </option>
              ))}
            </select>
          </label>
          <label>
            <span className="mb-0.5 block text-small text-dim">Day</span>
            <input type="date" value={info.day} onChange={(e) => set({ day: e.target.value })} className={INPUT} />
          </label>
          <label>
            <span className="mb-0.5 block text-small text-dim">Begins</span>
            <input
              type="time"
              value={info.startsAt ?? ''}
              onChange={(e) => set({ startsAt: e.target.value || null })}
              className={INPUT}
            />
          </label>
        </div>
        <label>
          <span className="mb-0.5 block text-small text-dim">Its tracks have to be</span>
          <select
            value={info.asks}
            onChange={(e) => set({ asks: e.target.value as DateInfo['asks'] })}
            className={INPUT}
          >
            <option value="floor">ready for the floor</option>
            <option value="playout">ready for playout</option>
          </select>
        </label>
        <fieldset>
          <legend className="mb-0.5 text-small text-dim">Crates and playlists</legend>
          <div className="max-h-[180px] overflow-y-auto border border-line bg-sheet">
            {there.length === 0 && (
              <p className="px-2 py-1.5 text-small text-dim">
                There are none yet: make some under Arrange, and choose them here later.
              </p>
            )}
            {there.map((l) => (
              <label
                key={l.id}
                className="flex items-center gap-2 border-b border-hair px-2 py-1 last:border-0 hover:bg-paper"
              >
                <input
                  type="checkbox"
                  checked={info.listIds.includes(l.id)}
                  onChange={(e) =>
                    set({
                      listIds: e.target.checked ? [...info.listIds, l.id] : info.listIds.filter((id) => id !== l.id),
                    })
                  }
                />
                <span className="min-w-0 flex-1 truncate">{l.name}</span>
                <span className="text-small text-dim">
                  {l.kind}, {several(l.tracks, 'track')}
                </span>
              </label>
            ))}
          </div>
        </fieldset>
        <div className="mt-1 flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button kind="main" type="submit" disabled={!ready}>
            {date ? 'Keep the change' : 'Add the date'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
