/** The track in hand, with what can be said of it by ear. */
import { Pause, Play } from 'lucide-react';
import type { SheetRow } from '@early-set/core/api/types';
import { isEmpty, type FieldValue } from '@early-set/core/fields/values';
import { TrackWave } from '../../audition/TrackWave.tsx';
import { Button } from '../../ui/Button.tsx';
import { Chip } from '../../ui/Chip.tsx';
import { nameOf, textOf } from '../../ui/format.ts';
import { Stars } from '../../ui/Stars.tsx';
import type { OneByOne } from '../oneByOne/useOneByOne.ts';
import { FreeTags, MoodWords, Notes } from './parts.tsx';

const MOOD_KEYS = 'QWERTASDFG';
const ENERGIES = [10, 20, 30, 40, 50, 60, 70, 80, 90, 100];
const BIG = 'min-h-[34px] px-3.5!';
const KEY = 'ml-1 text-tiny font-normal opacity-75';
const HEAD = 'mt-5 mb-1.5 font-semibold';

interface Props {
  row: SheetRow;
  tracks: OneByOne;
  /** There is none after it. */
  last: boolean;
  moods: string[];
  onMoods: (words: string[]) => void;
  onMood: (mood: string) => void;
  onSet: (field: string, value: FieldValue) => void;
}

export function Rated({ row, tracks, last, moods, onMoods, onMood, onSet }: Props) {
  const { values } = row;
  const list = (field: string): string[] => (Array.isArray(values[field]) ? values[field] : []);
  const known = [
    textOf('artist', values.artist),
    values.version,
    textOf('genre', values.genre),
    values.year,
    values.bpm ? `${Number(values.bpm).toFixed(1)} BPM` : null,
  ];
  return (
    <article className="mx-auto max-w-[820px] border border-line bg-paper p-5 max-sm:p-3">
      <h2 className="heading text-[22px] leading-7">{nameOf(row)}</h2>
      <p className="text-dim">{known.filter(Boolean).map(String).join(' · ')}</p>
      <div className="mt-3">
        <TrackWave track={row} duration={Number(values.durationSeconds ?? 0)} height={72} />
      </div>
      <div className="mt-4 flex gap-2">
        <Button className={BIG} onClick={tracks.toggle}>
          {tracks.playing ? <Pause size={14} /> : <Play size={14} />}
          {tracks.playing ? 'Pause' : 'Audition'}
          <kbd className={KEY}>Space</kbd>
        </Button>
        <Button kind="main" className={BIG} disabled={last} onClick={() => tracks.go(1)}>
          Next<kbd className={KEY}>N</kbd>
        </Button>
      </div>
      <h3 className={HEAD}>
        Energy{' '}
        <span className="ml-1 text-small font-normal text-dim">
          {isEmpty(values.energy) ? 'not set' : `${Number(values.energy)} of 100`}
        </span>
      </h3>
      <Energies energy={isEmpty(values.energy) ? null : Number(values.energy)} onSet={(e) => onSet('energy', e)} />
      <h3 className={HEAD}>Moods</h3>
      <div role="group" aria-label="Moods" className="flex flex-wrap gap-1.5">
        {moods.map((m, i) => (
          <Chip key={m} size="large" on={list('moods').includes(m)} onToggle={() => onMood(m)}>
            {m}
            {MOOD_KEYS[i] && <kbd className="ml-1.5 text-tiny opacity-70">{MOOD_KEYS[i]}</kbd>}
          </Chip>
        ))}
      </div>
      <MoodWords moods={moods} onChange={onMoods} />
      <h3 className={HEAD}>
        Stars <span className="ml-1 text-small font-normal text-dim">Shift and 1 to 5</span>
      </h3>
      <div className="flex flex-wrap items-center gap-4">
        <Stars large value={Number(values.rating ?? 0)} onRate={(n) => onSet('rating', n)} />
        <Chip
          size="large"
          on={values.hearLater === true}
          onToggle={() => onSet('hearLater', values.hearLater !== true)}
        >
          Hear later<kbd className="ml-1.5 text-tiny opacity-70">L</kbd>
        </Chip>
      </div>
      <FreeTags value={list('freeTags')} onChange={(v) => onSet('freeTags', v.length ? v : null)} />
      <Notes
        key={String(values.notes)}
        value={textOf('notes', values.notes)}
        onChange={(v) => onSet('notes', v || null)}
      />
    </article>
  );
}

/** Ten steps, each with its key small beside it. */
function Energies({ energy, onSet }: { energy: number | null; onSet: (energy: number) => void }) {
  return (
    <div role="group" aria-label="Energy" className="flex max-w-[560px] gap-px">
      {ENERGIES.map((value) => {
        const reached = energy !== null && energy >= value - 5,
          here = energy !== null && Math.abs(energy - value) <= 5;
        const tone = reached ? 'bg-energy text-paper' : 'bg-hair hover:bg-tide';
        return (
          <button
            key={value}
            type="button"
            aria-label={`Energy ${value}`}
            aria-pressed={here}
            onClick={() => onSet(value)}
            className={`flex h-[34px] flex-1 items-baseline justify-center gap-1 pt-2 text-small ${tone}`}
          >
            <span className="figures">{value}</span>
            <kbd className="text-tiny opacity-70">{(value / 10) % 10}</kbd>
          </button>
        );
      })}
    </div>
  );
}
