/** What a list comes to: length, spread, and where it may lie in the tree. */
import type { Applied, ListContents, ListLine } from '@early-set/core/api/types';
import { oneByOne, schedule } from '@early-set/core/arrange/schedule';
import { clockLength, readLength, readTimeOfDay } from '@early-set/core/clock/clock';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { change, several } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { COLOUR_NAMES } from '../../ui/colours.ts';
import { figure } from '../../ui/format.ts';
import { MARK_COLOURS } from '@early-set/core/fields/marks';
import { DraftCard } from './DraftCard.tsx';
import type { Smoothing } from './useSmoothing.ts';
import { isPutAway, mayHold } from '../../data/listTree.ts';
import { SavedInput } from '../../ui/form/SavedInput.tsx';

const numbers = (list: ListContents, field: string): number[] =>
  list.entries.flatMap((e) => (typeof e.values[field] === 'number' ? [e.values[field]] : []));
const spread = (values: number[], digits: number): string =>
  values.length === 0 ? '–' : `${figure(Math.min(...values), digits)} to ${figure(Math.max(...values), digits)}`;

interface Props {
  list: ListContents;
  lists: ListLine[];
  smoothing: Smoothing;
  /** Above what is said of the list. */
  children?: ReactNode;
}

export function ListInspector({ list, lists, smoothing, children }: Props) {
  const { info, entries } = list;
  const say = (wish: Partial<ListContents['info']>): void => void change(patch<Applied>(`/lists/${list.id}`, wish));
  const own = lists.find((l) => l.id === list.id);
  const { total: seconds } = info.kind === 'playlist' ? schedule(entries) : oneByOne(entries);
  const tracks = entries.filter((e) => e.id > 0);
  const missing = tracks.filter((e) => e.values.fileState === 'missing').length;
  const unmeasured = tracks.filter((e) => e.values.analysisState !== 'done').length;
  const homes = own ? lists.filter((l) => !l.removed && mayHold(l, own, lists)) : [];
  return (
    <aside aria-label="About this list" className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5">
      {children}
      <h2 className="heading border-t border-line pt-3 text-[17px] first:border-0 first:pt-0">
        About this {info.kind}
      </h2>
      <dl className="grid grid-cols-2 border border-line bg-sheet">
        {[
          [several(tracks.length, 'track').split(' ')[0]!, tracks.length === 1 ? 'track' : 'tracks'],
          [clockLength(seconds), 'in all'],
          [spread(numbers(list, 'bpm'), 0), 'BPM'],
          [spread(numbers(list, 'energy'), 0), 'energy'],
        ].map(([big, small], i) => (
          <div
            key={small}
            className={`flex flex-col-reverse px-2.5 py-1.5 ${i % 2 ? 'border-l border-line' : ''} ${i > 1 ? 'border-t border-line' : ''}`}
          >
            <dt className="text-tiny text-dim">{small}</dt>
            <dd className="heading text-[16px] leading-6">{big}</dd>
          </div>
        ))}
      </dl>
      {info.kind === 'playlist' && (
        <label className="flex items-center gap-2">
          <span className="flex-1">Starts at</span>
          <SavedInput
            value={info.startsAt}
            text={(time) => time}
            read={(text) => readTimeOfDay(text) ?? undefined}
            onSave={(startsAt) => say({ startsAt })}
          />
        </label>
      )}
      {info.kind === 'playlist' && (
        <label className="flex items-center gap-2">
          <span className="flex-1">
            Wished length
            {info.wishedSeconds !== null && (
              <span className="figures ml-1.5 text-tiny text-dim">{overOrUnder(seconds - info.wishedSeconds)}</span>
            )}
          </span>
          <SavedInput
            value={info.wishedSeconds}
            text={clockLength}
            read={(text) => (text === '' ? null : readLength(text) || undefined)}
            onSave={(wishedSeconds) => say({ wishedSeconds: wishedSeconds && Math.round(wishedSeconds) })}
            placeholder="none"
          />
        </label>
      )}
      {info.kind === 'playlist' && (
        <label className="flex items-center gap-2">
          <span>Reserve</span>
          <select
            value={info.reserveId ?? ''}
            onChange={(e) => say({ reserveId: e.target.value || null })}
            className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 py-1"
          >
            <option value="">none</option>
            {lists
              .filter((l) => l.kind === 'crate' && !isPutAway(l, lists))
              .map((l) => (
                <option key={l.id} value={l.id}>
                  {l.name}
                </option>
              ))}
          </select>
        </label>
      )}
      {homes.length + (info.parentId ? 1 : 0) > 0 && (!info.mirrorOf || info.mirrorOf === list.id) && (
        <label className="flex items-center gap-2">
          <span>Lies in</span>
          <select
            value={info.parentId ?? ''}
            onChange={(e) => say({ parentId: e.target.value || null })}
            className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 py-1"
          >
            <option value="">no crate</option>
            {homes.map((h) => (
              <option key={h.id} value={h.id}>
                {h.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <label className="flex items-center gap-2">
        <span className="flex-1">Colour</span>
        <select
          value={info.colour ?? ''}
          onChange={(e) => say({ colour: e.target.value || null })}
          className="rounded-xs border border-line bg-sheet px-1.5 py-1"
        >
          <option value="">none</option>
          {MARK_COLOURS.map((c) => (
            <option key={c} value={c}>
              {COLOUR_NAMES[c]}
            </option>
          ))}
        </select>
      </label>
      <Note key={`${list.id} ${info.note}`} value={info.note ?? ''} onSave={(note) => say({ note: note || null })} />
      <section>
        <h3 className="mb-1 text-small font-semibold text-dim">Before it can be played</h3>
        {missing === 0 && unmeasured === 0 && (
          <p>{entries.length ? 'No file is missing, all are measured.' : 'Nothing in it yet.'}</p>
        )}
        {missing > 0 && (
          <p className="text-flare">
            {several(missing, 'missing file')}.{' '}
            <Link className="underline" to="/tracks?needs=missing">
              See them
            </Link>
          </p>
        )}
        {unmeasured > 0 && <p className="text-sodium-text">{several(unmeasured, 'track')} not measured yet.</p>}
      </section>
      <span className="flex-1" />
      <div className="sticky -bottom-3.5 -mx-3.5 -mb-3.5 bg-paper px-3.5 pb-3.5 empty:hidden">
        <DraftCard smoothing={smoothing} />
      </div>
    </aside>
  );
}

/** What has to be known about a list; saved on leaving, Esc brings back what was there. */
function Note({ value, onSave }: { value: string; onSave: (note: string) => void }) {
  const [text, setText] = useState(value);
  return (
    <label className="flex flex-col gap-1">
      <span>Note</span>
      <textarea
        rows={text ? 3 : 1}
        value={text}
        maxLength={4000}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text.trim() !== value && onSave(text.trim())}
        onKeyDown={(e) => {
          if (e.key === 'Escape') setText(value);
        }}
        className="resize-y rounded-xs border border-line bg-sheet px-1.5 py-1"
      />
    </label>
  );
}

/** How far a list is off its wished length. */
const overOrUnder = (seconds: number): string =>
  Math.abs(seconds) < 0.5 ? 'to the second' : `${clockLength(Math.abs(seconds))} ${seconds > 0 ? 'over' : 'under'}`;
