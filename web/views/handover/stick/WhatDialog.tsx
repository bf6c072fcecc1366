/** What goes to a stick: lists with what lies in them, those of dates, folders of music; hours to a playout system. */
import { useState } from 'react';
import type { StickLine, StickSettings } from '@early-set/core/api/stick';
import { refKey } from '@early-set/core/files/fileRef';
import { several } from '../../../data/actions.ts';
import { useDates, useFolders, useLists } from '../../../data/hooks.ts';
import { severalRoots } from '../../../data/folders.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { day } from '../../../ui/format.ts';
import { Segmented } from '../../../ui/Segmented.tsx';
import { HourChecks, usableHours } from './HourChecks.tsx';
import { ListChecks, usableLists } from '../ListChecks.tsx';

type What = Pick<StickSettings, 'lists' | 'dates' | 'tracks' | 'folders'>;
type Part = Exclude<keyof What, 'tracks'> | 'hours';
interface Props {
  stick: Pick<StickLine, 'name' | 'settings' | 'isPlayout'>;
  open: boolean;
  onClose: () => void;
  onKeep: (wish: What) => void;
}

export function WhatDialog(props: Props) {
  return (
    <Dialog
      open={props.open}
      onClose={props.onClose}
      title={`What goes to ${props.stick.name}`}
      note="What lies in a chosen crate or folder goes with it. Nothing is written before you say so."
      wide
    >
      {props.open && <Choices {...props} />}
    </Dialog>
  );
}

const HOURS = ['hours', 'Hours'] as const;
const PARTS = [
  ['lists', 'Lists'],
  ['dates', 'Dates'],
  ['folders', 'Folders'],
] as const;

function Choices({ stick, onClose, onKeep }: Props) {
  const [part, setPart] = useState<Part>(stick.isPlayout ? 'hours' : 'lists');
  const { settings } = stick;
  const [lists, setLists] = useState<ReadonlySet<string>>(new Set(settings.lists));
  const [tracks, setTracks] = useState(settings.tracks);
  const [dates, setDates] = useState<ReadonlySet<number>>(new Set(settings.dates));
  const [folders, setFolders] = useState<ReadonlyMap<string, StickSettings['folders'][number]>>(
    new Map(settings.folders.map((f) => [refKey(f), f])),
  );
  const { data: all = [] } = useLists();
  const { data: ahead = [] } = useDates(false);
  const { data: there = [] } = useFolders(true);
  const usable = usableLists(all);
  const hours = stick.isPlayout ? usableHours(all) : [];
  const toggled = <T,>(set: ReadonlySet<T>, id: T): ReadonlySet<T> => {
    const next = new Set(set);
    if (!next.delete(id)) next.add(id);
    return next;
  };
  const total = lists.size + dates.size + folders.size + Math.min(1, tracks.length);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        onKeep({
          lists: [...hours, ...usable].filter((l) => lists.has(l.id)).map((l) => l.id),
          dates: ahead.filter((d) => dates.has(d.id)).map((d) => d.id),
          tracks,
          folders: [...folders.values()],
        });
        onClose();
      }}
    >
      <Segmented
        label="Choose from"
        value={part}
        choices={stick.isPlayout ? [HOURS, ...PARTS] : PARTS}
        onChoose={setPart}
      />
      {part === 'hours' && (
        <HourChecks
          lists={hours}
          wanted={lists}
          onChoose={(ids, on) => {
            const next = new Set(lists);
            for (const id of ids)
              if (on) next.add(id);
              else next.delete(id);
            setLists(next);
          }}
        />
      )}
      {part === 'lists' && <ListChecks lists={usable} wanted={lists} onToggle={(id) => setLists(toggled(lists, id))} />}
      {part === 'dates' && (
        <Checks
          label="Dates"
          none="No date is ahead. Dates are added on Today."
          lines={ahead.map((d) => ({
            key: String(d.id),
            text: `${d.name}, ${day(d.day)}`,
            note: several(d.lists.length, 'list'),
            on: dates.has(d.id),
            toggle: () => setDates(toggled(dates, d.id)),
          }))}
        />
      )}
      {part === 'folders' && (
        <Checks
          label="Folders"
          none="No folder has been taken in yet."
          lines={there.map(({ ref, root, tracks }) => ({
            key: refKey(ref),
            text: severalRoots(there) || ref.path === '' ? [root, ref.path].filter(Boolean).join(' / ') : ref.path,
            note: several(tracks, 'track'),
            on: folders.has(refKey(ref)),
            toggle: () => {
              const next = new Map(folders);
              if (!next.delete(refKey(ref))) next.set(refKey(ref), { rootId: ref.rootId, path: ref.path });
              setFolders(next);
            },
          }))}
        />
      )}
      {settings.tracks.length > 0 && (
        <label className="mt-2 flex items-center gap-2">
          <input
            type="checkbox"
            checked={tracks.length > 0}
            onChange={(e) => setTracks(e.target.checked ? settings.tracks : [])}
            className="accent-ink"
          />
          {several(settings.tracks.length, 'track')} chosen on Tracks
        </label>
      )}
      <div className="mt-3 flex items-center justify-end gap-2">
        <span className="flex-1 text-small text-dim">{several(total, 'choice')}</span>
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main">
          Save
        </Button>
      </div>
    </form>
  );
}

interface Line {
  key: string;
  text: string;
  note: string;
  on: boolean;
  toggle: () => void;
}
const Checks = ({ label, none, lines }: { label: string; none: string; lines: readonly Line[] }) => (
  <ul aria-label={label} className="mt-1 h-[300px] w-full overflow-y-auto border border-line">
    {lines.map(({ key, text, note, on, toggle }) => (
      <li key={key} className="border-b border-hair">
        <label className="flex items-center gap-2 px-2 py-1">
          <input type="checkbox" checked={on} onChange={toggle} className="accent-ink" />
          <span className="min-w-0 flex-1 truncate">{text}</span>
          <span className="figures text-small text-dim">{note}</span>
        </label>
      </li>
    ))}
    {lines.length === 0 && <li className="p-2 text-dim">{none}</li>}
  </ul>
);
