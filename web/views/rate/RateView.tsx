/** Rating by ear: tracks one after the other, by single keys: energy, moods, stars, next. */
import { useSearchParams } from 'react-router';
import useSWR from 'swr';
import type { Selection, SheetRow } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import { isEmpty, type FieldValue } from '@early-set/core/fields/values';
import { useKeys } from '../../commands/commands.ts';
import { post } from '../../data/api.ts';
import { useAsked } from '../../data/asked.ts';
import { useServerEvents } from '../../data/events.ts';
import { setField } from '../../data/fields.ts';
import { handed, TO_RATE, type ToRate } from '../../data/handed.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { Segmented } from '../../ui/Segmented.tsx';
import { OneByOneLayout } from '../oneByOne/OneByOneLayout.tsx';
import { useOneByOne } from '../oneByOne/useOneByOne.ts';
import { Rated } from './Rated.tsx';

const NOTHING: ToRate = { selection: { ids: [] }, inHand: null };
const empty = (field: string): Condition => ({ field, test: 'empty' });
const WHATS: { id: string; label: string; where: Condition | null }[] = [
  { id: 'stars', label: 'Without stars', where: empty('rating') },
  { id: 'moods', label: 'Without moods', where: empty('moods') },
  { id: 'later', label: 'To hear later', where: { field: 'hearLater', test: 'is', value: true } },
  { id: 'chosen', label: 'From Tracks', where: null },
];
const MAX_TRACKS = 500;
const MOOD_KEYS = [...'QWERTASDFG'];
const FIRST_MOODS = ['bright', 'dark', 'warm', 'driving', 'dreamy', 'tense', 'playful', 'rough', 'calm', 'wistful'];
const NONE: SheetRow[] = [];

/** The tracks of a selection, as they were on coming here; what is rated since keeps its place. */
function useTracks(selection: Selection) {
  const name = `rate ${JSON.stringify(selection)}`;
  const {
    data: ids,
    error,
    mutate: askAgain,
  } = useSWR<number[], Error>(name, async () => (await post<{ ids: number[] }>('/tracks/ids', { selection })).ids, {
    revalidateOnFocus: false,
  });
  const shown = (ids ?? []).slice(0, MAX_TRACKS);
  const { data: told = NONE, mutate } = useSWR<SheetRow[], Error>(
    shown.length ? ['rows', shown.join()] : null,
    () => post<SheetRow[]>('/tracks/rows', { ids: shown }),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  useServerEvents(['tracks'], () => void mutate(), 150);
  const asked = useAsked(told);
  return { name, ids, error, askAgain, rows: shown.length ? told.map(asked) : NONE };
}

export function RateView() {
  const [params, setParams] = useSearchParams();
  const what = WHATS.find((w) => w.id === params.get('what')) ?? WHATS[0]!;
  const chosen = handed<ToRate>(TO_RATE, NOTHING);
  const selection: Selection = what.where ? { where: what.where, except: [] } : chosen.selection;
  const { name, ids, error, askAgain, rows } = useTracks(selection);
  const tracks = useOneByOne(name, rows, what.id === 'chosen' ? chosen.inHand : null);
  const { at, row } = tracks;
  const [moods, setMoods] = useRemembered<string[]>('mood-keys', FIRST_MOODS);

  const set = (field: string, value: FieldValue): void => {
    if (row) void setField(row, field, value);
  };
  const toggleMood = (mood: string): void => {
    const v = row?.values.moods;
    const has = Array.isArray(v) ? v : [];
    const next = has.includes(mood) ? has.filter((m) => m !== mood) : [...has, mood];
    set('moods', next.length ? next : null);
  };
  const stars = (n: number): void => set('rating', row?.values.rating === n ? null : n);
  const noRow = !row;
  useKeys('audition', {
    play: { run: tracks.toggle, disabled: noRow },
    next: { run: () => tracks.go(1), disabled: noRow },
    previous: { run: () => tracks.go(-1), disabled: noRow },
  });
  useKeys('rate', {
    down: { run: () => tracks.go(1), disabled: noRow },
    up: { run: () => tracks.go(-1), disabled: noRow },
    energy: { run: (digit) => set('energy', digit === '0' ? 100 : Number(digit) * 10), disabled: noRow },
    stars: { run: (press) => stars(Number(press.at(-1))), disabled: noRow },
    mood: {
      run: (letter) => {
        const mood = moods[MOOD_KEYS.indexOf(letter)];
        if (mood) toggleMood(mood);
      },
      disabled: noRow,
    },
    hearLater: { run: () => set('hearLater', row?.values.hearLater !== true), disabled: noRow },
    leave: { run: tracks.leave },
  });

  const judged = (r: SheetRow): boolean => !isEmpty(r.values.rating) || !isEmpty(r.values.moods);
  if (error) return <Trouble error={error} />;
  const beyond = ids && ids.length > MAX_TRACKS ? `, the first ${MAX_TRACKS} here` : '';
  const place = ids && `${(at + 1).toLocaleString('en-GB')} of ${ids.length.toLocaleString('en-GB')}`;
  return (
    <OneByOneLayout
      title="Rate by ear"
      label="To rate"
      count={rows.length ? `${place}${beyond}, ${rows.filter(judged).length} rated` : ''}
      rows={rows}
      tracks={tracks}
      judged={judged}
      options={
        <Segmented
          label="What to rate"
          value={what.id}
          choices={WHATS.filter((w) => w.where || w === what || chosen !== NOTHING).map((w) => [w.id, w.label])}
          onChoose={(id) => setParams({ what: id })}
        />
      }
      nothing={
        ids?.length === 0 && (
          <Empty title="Nothing to rate here">
            <p>
              {what.id === 'later'
                ? 'Nothing is marked to hear later. Press L on a track to mark it.'
                : 'Every track has been rated already.'}
            </p>
            <button type="button" className="mt-2 underline hover:text-ink" onClick={() => void askAgain()}>
              Look again
            </button>
          </Empty>
        )
      }
    >
      {row && (
        <Rated
          key={row.id}
          row={row}
          tracks={tracks}
          last={at >= rows.length - 1}
          moods={moods}
          onMoods={setMoods}
          onMood={toggleMood}
          onSet={set}
        />
      )}
    </OneByOneLayout>
  );
}
