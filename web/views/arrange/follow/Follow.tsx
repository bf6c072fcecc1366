/** What could follow the entry in hand: ranked, heard by Space, taken by Enter. */
import { Play, Plus } from 'lucide-react';
import { useEffect, useRef } from 'react';
import useSWR from 'swr';
import type { Applied, ListContents, ListLine, SheetPage, SheetRow } from '@early-set/core/api/types';
import { DEFAULT_FOLLOW, ranked, type Follower, type FollowWeights } from '@early-set/core/arrange/follow';
import { useKeys } from '../../../commands/commands.ts';
import { toggleAudition } from '../../../audition/player.ts';
import { change } from '../../../data/actions.ts';
import { get, post } from '../../../data/api.ts';
import { useList } from '../../../data/hooks.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { nameOf, textOf } from '../../../ui/format.ts';
import { isPutAway } from '../../../data/listTree.ts';
import { placeBehind, type FilledPlace } from './place.ts';
import { Fill } from './Fill.tsx';
import { Weights } from '../Weights.tsx';

const COUNTS_FOR: Record<keyof FollowWeights, string> = {
  tempo: 'Tempo',
  key: 'Key',
  energy: 'Energy',
  shape: 'Wished shape',
  rating: 'Stars',
  artist: 'Other artist',
  used: 'Not used lately',
};

/** So many of those that fit best are ranked, and so many shown. */
const LOOKED_AT = 200,
  SHOWN = 6;

/** Stands for the reserve of the list in hand. */
const RESERVE = 'reserve';

interface Props {
  list: ListContents;
  lists: readonly ListLine[];
  /** Entry in hand; null: the end of the list. */
  inHand: string | null;
  /** A track was put in at an index. */
  onTaken: (index: number, trackId: number) => void;
}

export function Follow({ list, lists, inHand, onTaken }: Props) {
  const [source, setSource] = useRemembered<string>('follow-from', '');
  const [kept, setWeights] = useRemembered<FollowWeights>('follow-weights', DEFAULT_FOLLOW);
  // What was kept before a part was new does not name it.
  const weights = { ...DEFAULT_FOLLOW, ...kept };
  const place = placeBehind(list, inHand);
  const { candidates, isOld } = useCandidates(source === RESERVE ? (list.info.reserveId ?? '') : source, place);
  const held = new Set(list.entries.map((e) => e.id));
  const order =
    candidates &&
    ranked(
      candidates.filter((c) => !held.has(c.id)),
      place,
      weights,
    );
  const found = order?.slice(0, SHOWN);
  const take = (row: SheetRow): void => {
    const wish = { selection: { ids: [row.id] }, index: place.index, once: true };
    void change(post<Applied>(`/lists/${list.id}/entries`, wish)).then((done) => {
      if (done) onTaken(place.index, row.id);
    });
  };
  /** Asked for by key while they are still being looked for, or those of the place before are shown. */
  const wanted = useRef(false);
  const reach = (): void => {
    const first = isOld ? null : document.querySelector<HTMLElement>('#follow [data-follower]');
    wanted.current = first === null;
    first?.focus();
  };
  useKeys('arrange', { follow: { run: reach } });
  useEffect(() => {
    if (wanted.current) reach();
  });
  return (
    <section aria-labelledby="follow-title" id="follow">
      <h2 id="follow-title" className="heading text-[17px]">
        What could follow
      </h2>
      <p className="mt-0.5 mb-1.5 text-small text-dim">{placeInWords(place)}</p>
      <label className="flex items-center gap-2 text-small">
        <span className="text-dim">From</span>
        <select
          value={source}
          onChange={(e) => setSource(e.target.value)}
          className="min-w-0 flex-1 rounded-xs border border-line bg-sheet px-1.5 py-0.5"
        >
          <option value="">the whole library</option>
          {list.info.reserveId && <option value={RESERVE}>the reserve</option>}
          {lists
            .filter((l) => l.id !== list.id && !isPutAway(l, lists))
            .map((l) => (
              <option key={l.id} value={l.id}>
                {l.name}
              </option>
            ))}
        </select>
      </label>
      {found?.length === 0 && <p className="mt-2 text-dim">Nothing that is not in the list already.</p>}
      <ul aria-label="Tracks that could follow" className="mt-1" onKeyDown={walk}>
        {found?.map((row) => (
          <Line key={row.id} row={row} onTake={() => take(row)} />
        ))}
      </ul>
      <Fill list={list} place={place} candidates={order?.slice(0, LOOKED_AT) ?? []} weights={weights} />
      <Weights labels={COUNTS_FOR} weights={weights} defaults={DEFAULT_FOLLOW} onChange={setWeights} />
    </section>
  );
}

interface Candidates {
  candidates: SheetRow[] | null;
  /** They are those of another place, until those of this one come. */
  isOld: boolean;
}

/** Tracks to rank: the best by fit of the library, or all of a list. */
function useCandidates(source: string, { from, to }: FilledPlace): Candidates {
  const known = useList(source || null);
  const reference = (from ?? to)?.id ?? null;
  const where = JSON.stringify({ field: 'fileState', test: 'one of', values: ['here'] });
  const sorted = reference === null ? 'sort=energy' : `sort=fit&descending=true&fitTo=${reference}`;
  const { data, isLoading } = useSWR<SheetPage>(
    source ? null : `/tracks?where=${encodeURIComponent(where)}&limit=${LOOKED_AT}&${sorted}`,
    (path: string) => get<SheetPage>(path),
    { keepPreviousData: true },
  );
  if (source) return { candidates: known.data ? known.data.entries.filter((e) => e.id > 0) : null, isOld: false };
  return { candidates: data?.rows ?? null, isOld: isLoading };
}

function placeInWords({ from, to, wished }: FilledPlace): string {
  const parts = [from && `after ${nameOf(from)}`, to && `before ${nameOf(to)}`].filter(Boolean);
  const text = parts.length ? parts.join(', ') : 'to begin with';
  const wish = wished === null ? '' : `, on the way to energy ${Math.round(wished)}`;
  return `${text[0]!.toUpperCase()}${text.slice(1)}${wish}.`;
}

/** Arrows go along the lines. */
function walk(e: React.KeyboardEvent<HTMLElement>): void {
  const by = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0;
  if (by === 0) return;
  const lines = [...e.currentTarget.querySelectorAll<HTMLElement>('[data-follower]')],
    at = lines.indexOf(document.activeElement as HTMLElement);
  e.preventDefault();
  lines[Math.max(0, Math.min(lines.length - 1, at + by))]?.focus();
}

function Line({ row, onTake }: { row: SheetRow & { follower: Follower }; onTake: () => void }) {
  const { score, reasons } = row.follower;
  const name = nameOf(row);
  return (
    <li className="group relative border-b border-line">
      <button
        type="button"
        data-follower={row.id}
        aria-label={`${name}, ${score} of 100: add it`}
        onDoubleClick={onTake}
        onKeyDown={(e) => {
          if (e.key === 'Enter') onTake();
          else if (e.key === ' ') toggleAudition(row);
          else return;
          e.preventDefault();
          e.stopPropagation();
        }}
        className="flex w-full items-center gap-2 py-1.5 text-left"
      >
        <span className="min-w-0 flex-1">
          <span className="block truncate font-semibold">{name}</span>
          <span className="block truncate text-small text-dim">{textOf('artist', row.values.artist)}</span>
        </span>
        <span className="shrink-0 text-right text-tiny text-dim">
          {reasons.slice(0, 3).map((reason) => (
            <span key={reason} className="block">
              {reason}
            </span>
          ))}
        </span>
        <span className="heading w-7 shrink-0 text-right text-[15px]">{score}</span>
      </button>
      <span className="absolute inset-y-1 right-8 hidden items-center gap-1 bg-paper pl-2 group-hover:flex">
        <Small label={`Audition ${name}`} onClick={() => toggleAudition(row)}>
          <Play size={13} />
        </Small>
        <Small label={`Add ${name}`} onClick={onTake}>
          <Plus size={14} />
        </Small>
      </span>
    </li>
  );
}

const Small = ({ label, ...rest }: { label: string; onClick: () => void; children: React.ReactNode }) => (
  <button
    type="button"
    tabIndex={-1}
    aria-label={label}
    title={label}
    className="flex size-6 items-center justify-center rounded-xs border border-line bg-sheet hover:border-tide-deep"
    {...rest}
  />
);
