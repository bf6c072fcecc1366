/** The right column: the track in hand. */
import { Tabs } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { Selection, TrackDetails } from '@early-set/core/api/types';
import { ItemWords } from '../../changes/ItemWords.tsx';
import { dayAndTime, nameOf, textOf } from '../../../ui/format.ts';
import { several } from '../../../data/actions.ts';
import { useTrack } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { Empty, Trouble } from '../../../ui/Empty.tsx';
import { Figures, Together } from './Figures.tsx';
import { FieldEditor } from './FieldEditor.tsx';
import { PictureButton } from './PictureButton.tsx';
import { Sound } from './Sound.tsx';

interface Props {
  trackId: number | null;
  count: number;
  selection: Selection;
  /** All that the filters leave. */
  everything: Selection;
  ask: { what: 'open' | 'edit'; n: number };
  onAdd: () => void;
  onFit: (id: number | null) => void;
  fitTo: number | null;
}

export function Inspector({ trackId, count, selection, everything, ask, onAdd, onFit, fitTo }: Props) {
  const { data: track, error } = useTrack(trackId);
  const [tab, setTab] = useState('fields');
  const frame = useRef<HTMLElement>(null);
  const seen = useRef(ask.n);
  useEffect(() => {
    if (ask.n === seen.current) return;
    seen.current = ask.n;
    if (ask.what === 'edit') {
      setTab('fields');
      requestAnimationFrame(() => frame.current?.querySelector<HTMLElement>('[data-field="title"]')?.click());
    } else frame.current?.querySelector<HTMLElement>('[role="tab"][data-state="active"]')?.focus();
  }, [ask]);
  if (trackId === null || count === 0)
    return (
      <aside aria-label="Inspector" className="flex h-full flex-col bg-paper">
        <Together selection={everything} title="All that match" counted />
        <div className="min-h-0 flex-1">
          <Empty title="No track chosen">
            <p>Choose a row to see its sound, fields and lists here.</p>
          </Empty>
        </div>
      </aside>
    );
  if (error && !track)
    return (
      <aside aria-label="Inspector" className="h-full bg-paper">
        <Trouble error={error} />
      </aside>
    );
  if (!track) return <aside aria-label="Inspector" aria-busy="true" className="h-full bg-paper" />;
  const v = track.values;
  const title = nameOf(track);
  return (
    <aside
      ref={frame}
      aria-label="Inspector"
      className="flex h-full flex-col bg-paper"
      onKeyDown={(e) => {
        if (e.key === 'Escape' && !e.defaultPrevented) document.getElementById('sheet')?.focus();
      }}
    >
      {count > 1 ? (
        <Together selection={selection} title={`${several(count, 'track')} chosen`}>
          <PictureButton track={track} selection={selection} count={count} title={title} />
        </Together>
      ) : (
        <div className="flex gap-3 p-3.5 pb-3">
          <PictureButton track={track} selection={selection} count={count} title={title} />
          <div className="min-w-0">
            <h2 className="heading line-clamp-2 text-[16.5px] leading-tight break-words">{title}</h2>
            <p className="mt-0.5 truncate">
              {textOf('artist', v.artist) || <span className="text-flare">no artist</span>}
            </p>
            <p className="line-clamp-2 text-small text-dim">
              {[v.version, textOf('genre', v.genre), v.year].filter(Boolean).map(String).join(' · ')}
            </p>
          </div>
        </div>
      )}
      {count > 1 && (
        <p className="mx-3.5 mt-2 bg-chosen px-2 py-1 text-small">What you type below goes to all of them.</p>
      )}
      {count === 1 && <Figures track={track} />}
      <Tabs.Root value={tab} onValueChange={setTab} className="flex min-h-0 flex-1 flex-col">
        <Tabs.List aria-label="About this track" className="mx-3.5 mt-3 flex gap-4 border-b border-line">
          {[
            ['fields', 'Fields'],
            ['sound', 'Sound'],
            ['lists', 'Lists'],
            ['past', 'History'],
          ].map(([id, label]) => (
            <Tabs.Trigger
              key={id}
              value={id!}
              className="-mb-px border-b-2 border-transparent py-1.5 font-semibold text-dim data-[state=active]:border-buoy data-[state=active]:text-ink"
            >
              {label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <div className="min-h-0 flex-1 overflow-y-auto px-3.5 py-2.5">
          <Tabs.Content value="fields">
            <FieldEditor track={track} selection={selection} count={count} />
          </Tabs.Content>
          <Tabs.Content value="sound">
            <Sound track={track} />
          </Tabs.Content>
          <Tabs.Content value="lists">
            <ListsOf track={track} />
          </Tabs.Content>
          <Tabs.Content value="past">
            <Past track={track} />
          </Tabs.Content>
        </div>
      </Tabs.Root>
      <div className="flex gap-2 border-t border-line p-2.5">
        <Button className="flex-1" onClick={() => onFit(fitTo === track.id ? null : track.id)}>
          {fitTo === track.id ? 'Hide what fits' : 'Show what fits'}
        </Button>
        <Button className="flex-1" onClick={onAdd}>
          Add to…
        </Button>
      </div>
    </aside>
  );
}

function ListsOf({ track }: { track: TrackDetails }) {
  if (track.lists.length === 0)
    return <p className="py-2 text-dim">In no crate or playlist yet. Press A to add it to one.</p>;
  return (
    <ul>
      {track.lists.map((l) => (
        <li key={l.id} className="border-b border-hair">
          <Link to={`/arrange/${l.id}`} className="flex gap-2 py-1.5 hover:text-buoy-text">
            <span className="flex-1 truncate font-medium">{l.name}</span>
            <span className="text-small text-dim">
              {l.kind}
              {l.times > 1 && `, ${l.times} times`}
            </span>
          </Link>
        </li>
      ))}
    </ul>
  );
}

function Past({ track }: { track: TrackDetails }) {
  if (track.past.length === 0)
    return (
      <p className="py-2 text-dim">
        Nothing was changed by hand. Everything here comes from the file or from measuring.
      </p>
    );
  return (
    <ul>
      {track.past.map((set) => (
        <li key={set.changeSetId} className="border-b border-hair py-1.5">
          <Link to={`/changes?set=${set.changeSetId}`} className="font-medium hover:text-buoy-text">
            {set.title}
          </Link>
          <span className="ml-2 text-tiny text-dim">{dayAndTime(set.madeAt)}</span>
          {set.items.map((item, i) => (
            <ItemWords key={i} item={item} />
          ))}
        </li>
      ))}
    </ul>
  );
}
