/** Listening: tracks one after the other, judged by ear with single keys: energy, moods, stars, next. */
import { ArrowLeft, Pause, Play } from 'lucide-react';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import useSWR from 'swr';
import type { Selection, SheetRow } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import { isEmpty, type FieldValue } from '@early-set/core/fields/values';
import { useCommands, useKeys } from '../../app/commands.ts';
import { audition, seek, toggleAudition, usePlayer } from '../../audition/player.ts';
import { post } from '../../data/api.ts';
import { useServerEvents } from '../../data/events.ts';
import { useAsked } from '../../data/asked.ts';
import { setField } from '../../data/fields.ts';
import { handed } from '../../data/handed.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { textOf } from '../../ui/format.ts';
import { FreeTags, Line, MoodWords, nameOf, Notes, Wave } from './parts.tsx';

/** Under this name the sheet hands over what was chosen there. */
export const LISTEN = 'listen-selection';
const empty = (field: string): Condition => ({ field, test: 'empty' });
const WHATS: { id: string; label: string; where: Condition | null }[] = [
  { id: 'stars', label: 'Without stars', where: empty('rating') },
  { id: 'moods', label: 'Without moods', where: empty('moods') },
  { id: 'later', label: 'To hear later', where: { field: 'hearLater', test: 'is', value: true } },
  { id: 'chosen', label: 'From Tracks', where: null },
];
const MAX_TRACKS = 500;
const MOOD_KEYS = [...'qwertasdfg'];
const FIRST_MOODS = ['bright', 'dark', 'warm', 'driving', 'dreamy', 'tense', 'playful', 'rough', 'calm', 'wistful'];
const NOTHING: Selection = { ids: [] };
const NONE: SheetRow[] = [];

export function ListenView() {
  const [params, setParams] = useSearchParams();
  const what = WHATS.find((w) => w.id === params.get('what')) ?? WHATS[0]!;
  const selection: Selection = what.where ? { where: what.where, except: [] } : handed<Selection>(LISTEN, NOTHING);
  // The tracks stay as they were on coming here; what has been judged keeps its place.
  const {
    data: ids,
    error,
    mutate: askAgain,
  } = useSWR<number[], Error>(
    ['listen', JSON.stringify(selection)],
    async () => (await post<{ ids: number[] }>('/tracks/ids', { selection })).ids,
    { revalidateOnFocus: false },
  );
  const shown = (ids ?? []).slice(0, MAX_TRACKS);
  const { data: told = NONE, mutate } = useSWR<SheetRow[], Error>(
    shown.length ? ['rows', shown.join()] : null,
    () => post<SheetRow[]>('/tracks/rows', { ids: shown }),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  useServerEvents(['tracks'], () => void mutate(), 150);
  const asked = useAsked(told);
  const rows = told.map(asked);
  const [chosen, setChosen] = useState<number | null>(null);
  const at = Math.max(
      0,
      rows.findIndex((r) => r.id === chosen),
    ),
    row = rows[at];
  const [moods, setMoods] = useRemembered<string[]>('mood-keys', FIRST_MOODS);
  const player = usePlayer();
  const navigate = useNavigate();
  const playing = player.playing && player.track?.id === row?.id;

  const hear = (next: SheetRow): void => {
    audition(next);
    seek(Number(next.values.durationSeconds ?? 0) * 0.35);
  };
  const go = (by: number): void => {
    const next = rows[at + by];
    if (next) {
      setChosen(next.id);
      hear(next);
    }
  };
  const set = (field: string, value: FieldValue): void => {
    if (row) void setField(row, field, value);
  };
  const listOf = (field: string): string[] => {
    const v = row?.values[field];
    return Array.isArray(v) ? v : [];
  };
  const toggleMood = (mood: string): void => {
    const has = listOf('moods');
    const next = has.includes(mood) ? has.filter((m) => m !== mood) : [...has, mood];
    set('moods', next.length ? next : null);
  };
  const energy = (digit: number): void => set('energy', digit === 0 ? 100 : digit * 10);
  const stars = (n: number): void => set('rating', row?.values.rating === n ? null : n);
  useCommands([
    { id: 'listen-next', label: 'Next track', keys: 'N', group: 'Listening', run: () => go(1) },
    { id: 'listen-back', label: 'Previous track', keys: 'P', group: 'Listening', run: () => go(-1) },
    {
      id: 'listen-tracks',
      label: 'Back to the tracks',
      keys: 'Esc',
      group: 'Listening',
      run: () => void navigate('/tracks'),
    },
  ]);
  useKeys((e) => {
    const digit = /^Digit(\d)$/.exec(e.code)?.[1],
      mood = MOOD_KEYS.indexOf(e.key.toLowerCase());
    const onButton = e.target instanceof HTMLElement && e.target.closest('button, a') !== null;
    const act =
      digit !== undefined
        ? e.shiftKey
          ? Number(digit) >= 1 && Number(digit) <= 5
            ? () => stars(Number(digit))
            : null
          : () => energy(Number(digit))
        : mood >= 0 && moods[mood]
          ? () => toggleMood(moods[mood]!)
          : (
              {
                n: () => go(1),
                ArrowDown: () => go(1),
                p: () => go(-1),
                ArrowUp: () => go(-1),
                l: () => set('hearLater', row?.values.hearLater !== true),
                Escape: () => void navigate('/tracks'),
                ...(onButton
                  ? {}
                  : {
                      ' ': () => {
                        if (row) {
                          if (player.track?.id === row.id) toggleAudition(row);
                          else hear(row);
                        }
                      },
                    }),
              } as Record<string, () => void>
            )[e.key.length === 1 ? e.key.toLowerCase() : e.key];
    if (!act || !row) return;
    e.preventDefault();
    act();
  });

  const judged = (r: SheetRow): boolean => !isEmpty(r.values.rating) || !isEmpty(r.values.moods);
  if (error) return <Trouble error={error} />;
  return (
    <div className="flex h-full flex-col bg-fog">
      <header className="flex min-h-[50px] flex-wrap items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
        <Button kind="quiet" aria-label="Back to the tracks" onClick={() => void navigate('/tracks')}>
          <ArrowLeft size={16} />
        </Button>
        <h1 className="heading text-[17px]">Listen</h1>
        <span className="text-small text-dim" aria-live="polite">
          {ids && rows.length
            ? `${(at + 1).toLocaleString('en-GB')} of ${ids.length.toLocaleString('en-GB')}${ids.length > MAX_TRACKS ? `, the first ${MAX_TRACKS} here` : ''}, ${rows.filter(judged).length} judged`
            : ''}
        </span>
        <span className="flex-1" />
        <div role="radiogroup" aria-label="What to hear" className="flex border border-line">
          {WHATS.filter((w) => w.where || w === what || 'ids' in handed<Selection>(LISTEN, NOTHING)).map((w) => (
            <button
              key={w.id}
              type="button"
              role="radio"
              aria-checked={w === what}
              onClick={() => {
                if (w === what) void askAgain();
                else setParams({ what: w.id });
                setChosen(null);
              }}
              className={`px-2.5 py-1 text-[12.5px] font-semibold ${w === what ? 'bg-inverse text-inverse-ink' : 'hover:bg-hair'}`}
            >
              {w.label}
            </button>
          ))}
        </div>
      </header>
      {ids && ids.length === 0 ? (
        <Empty title="Nothing to hear here">
          <p>
            {what.id === 'later'
              ? 'Nothing is marked to hear later. Press L on a track to mark it.'
              : 'Every track has been judged already.'}
          </p>
        </Empty>
      ) : (
        <div className="flex min-h-0 flex-1">
          <ol aria-label="To hear" className="w-[300px] shrink-0 overflow-y-auto border-r border-line bg-sheet">
            {rows.map((r, i) => (
              <Line
                key={r.id}
                row={r}
                chosen={i === at}
                judged={judged(r)}
                onChoose={() => {
                  setChosen(r.id);
                  hear(r);
                }}
              />
            ))}
          </ol>
          <div className="min-w-0 flex-1 overflow-y-auto p-5">
            {row && (
              <article key={row.id} className="mx-auto max-w-[820px] border border-line bg-paper p-5">
                <h2 className="heading text-[22px] leading-7">{nameOf(row)}</h2>
                <p className="text-dim">
                  {[
                    textOf('artist', row.values.artist),
                    row.values.version,
                    textOf('genre', row.values.genre),
                    row.values.year,
                    row.values.bpm ? `${Number(row.values.bpm).toFixed(1)} BPM` : null,
                  ]
                    .filter(Boolean)
                    .map(String)
                    .join(' · ')}
                </p>
                <Wave row={row} />
                <div className="mt-4 flex gap-2">
                  <Button
                    className="min-h-[34px] px-3.5!"
                    onClick={() => {
                      if (player.track?.id === row.id) toggleAudition(row);
                      else hear(row);
                    }}
                  >
                    {playing ? <Pause size={14} /> : <Play size={14} />}
                    {playing ? 'Pause' : 'Audition'}
                    <kbd className="ml-1 text-tiny font-normal opacity-75">Space</kbd>
                  </Button>
                  <Button
                    kind="main"
                    className="min-h-[34px] px-3.5!"
                    disabled={at >= rows.length - 1}
                    onClick={() => go(1)}
                  >
                    Next<kbd className="ml-1 text-tiny font-normal opacity-75">N</kbd>
                  </Button>
                </div>
                <h3 className="mt-5 mb-1.5 font-semibold">
                  Energy{' '}
                  <span className="ml-1 text-small font-normal text-dim">
                    {isEmpty(row.values.energy) ? 'not set' : `${Number(row.values.energy)} of 100`}; keys 1 to 9, and 0
                    for 100
                  </span>
                </h3>
                <div role="group" aria-label="Energy" className="flex max-w-[520px] gap-px">
                  {[1, 2, 3, 4, 5, 6, 7, 8, 9, 0].map((d) => {
                    const value = d === 0 ? 100 : d * 10,
                      on = Number(row.values.energy ?? -1) >= value - 5;
                    return (
                      <button
                        key={d}
                        type="button"
                        aria-label={`Energy ${value}`}
                        aria-pressed={Math.abs(Number(row.values.energy ?? -99) - value) <= 5}
                        onClick={() => energy(d)}
                        className={`figures h-[30px] flex-1 text-small ${on ? 'bg-energy text-paper' : 'bg-hair text-dim hover:bg-tide'}`}
                      >
                        {d}
                      </button>
                    );
                  })}
                </div>
                <h3 className="mt-5 mb-1.5 font-semibold">Moods</h3>
                <div role="group" aria-label="Moods" className="flex flex-wrap gap-1.5">
                  {moods.map((m, i) => (
                    <button
                      key={m}
                      type="button"
                      aria-pressed={listOf('moods').includes(m)}
                      onClick={() => toggleMood(m)}
                      className="flex items-baseline gap-1.5 rounded-xs border border-line bg-sheet px-2.5 py-1.5 hover:border-tide-deep aria-pressed:border-ink aria-pressed:bg-inverse aria-pressed:text-inverse-ink"
                    >
                      {m}
                      {MOOD_KEYS[i] && <kbd className="text-tiny uppercase opacity-70">{MOOD_KEYS[i]}</kbd>}
                    </button>
                  ))}
                </div>
                <MoodWords moods={moods} onChange={setMoods} />
                <h3 className="mt-5 mb-1.5 font-semibold">
                  Stars <span className="ml-1 text-small font-normal text-dim">Shift and 1 to 5</span>
                </h3>
                <div role="radiogroup" aria-label="Stars" className="flex">
                  {[1, 2, 3, 4, 5].map((n) => (
                    <button
                      key={n}
                      type="button"
                      role="radio"
                      aria-checked={row.values.rating === n}
                      aria-label={`${n} ${n === 1 ? 'star' : 'stars'}`}
                      onClick={() => stars(n)}
                      className={`px-1 text-[22px] leading-7 ${n <= Number(row.values.rating ?? 0) ? 'text-sodium-text' : 'text-tide-deep'}`}
                    >
                      {n <= Number(row.values.rating ?? 0) ? '★' : '☆'}
                    </button>
                  ))}
                </div>
                <FreeTags
                  key={`tags ${row.id}`}
                  value={listOf('freeTags')}
                  onChange={(v) => set('freeTags', v.length ? v : null)}
                />
                <Notes
                  key={`notes ${row.id} ${String(row.values.notes)}`}
                  value={textOf('notes', row.values.notes)}
                  onChange={(v) => set('notes', v || null)}
                />
              </article>
            )}
          </div>
        </div>
      )}
    </div>
  );
}
