/** The track in hand on the check list: what was heard, and what it could be instead. */
import { Pause, Play } from 'lucide-react';
import { useMemo } from 'react';
import type { CheckWhat, SheetRow, TrackDetails } from '@early-set/core/api/types';
import { gridOf } from '@early-set/core/analysis/gridOf';
import { shortKey } from '@early-set/core/fields/keys';
import type { KeyActions } from '../../commands/commands.ts';
import { keyOf, type KeyOf } from '../../commands/keys.ts';
import { useMetronome } from '../../audition/metronome.ts';
import { TrackWave } from '../../audition/TrackWave.tsx';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { nameOf, textOf } from '../../ui/format.ts';
import type { OneByOne } from '../oneByOne/useOneByOne.ts';
import { KeyByHand, TempoByHand } from '../tracks/inspector/Corrections.tsx';

/** How sure a measured value is, 0 to 1, as text. */
export const confidenceOf = (row: SheetRow, what: CheckWhat): string => {
  const v = row.values[what === 'tempo' ? 'tempoConfidence' : 'keyConfidence'];
  return typeof v === 'number' ? v.toFixed(2) : '–';
};

const BIG = 'min-h-[34px] px-3.5!';
const Key = ({ keys }: { keys: string }) => <kbd className="ml-1 text-tiny font-normal opacity-75">{keys}</kbd>;

interface Props {
  track: TrackDetails;
  what: CheckWhat;
  tracks: OneByOne;
  /** There is none after it. */
  last: boolean;
  keys: KeyActions<'check'>;
}

export function Judge({ track, what, tracks, last, keys }: Props) {
  const { result } = track.analysis!;
  const [clicking, setClicking] = useRemembered<boolean>('checkClicks', false);
  const grid = useMemo(() => gridOf(result, track.values), [result, track.values]);
  useMetronome(grid, clicking);
  const button = (id: KeyOf<'check'>, kind: 'plain' | 'main' = 'plain') => (
    <Button
      key={id}
      kind={kind}
      disabled={keys[id]?.disabled ?? false}
      onClick={() => keys[id]!.run('')}
      className={BIG}
    >
      {keyOf('check', id).label}
      <Key keys={keyOf('check', id).keys[0]!} />
    </Button>
  );
  return (
    <article className="mx-auto max-w-[820px] border border-line bg-paper p-5">
      <h2 className="heading text-[22px] leading-7">{nameOf(track)}</h2>
      <p className="text-dim">
        {[textOf('artist', track.values.artist), textOf('genre', track.values.genre), track.values.year]
          .filter(Boolean)
          .map(String)
          .join(' · ')}
      </p>
      <p className="mt-3 flex items-baseline gap-2.5">
        <span className="heading text-[34px] leading-10" data-testid="judged-value">
          {what === 'tempo' ? `${textOf('bpm', track.values.bpm)} BPM` : shortKey(String(track.values.key ?? ''))}
        </span>
        <span className="text-dim">
          confidence {confidenceOf(track, what)}
          {what === 'tempo' && result.tempo.steady === false ? ', drifts or changes' : ''}
        </span>
      </p>
      <div className="mt-3">
        <TrackWave track={track} duration={result.durationSeconds} grid={grid} height={72} />
      </div>
      <div className="mt-4 flex flex-wrap gap-2" role="group" aria-label="Judge">
        <Button onClick={tracks.toggle} className={BIG}>
          {tracks.playing ? <Pause size={14} /> : <Play size={14} />}
          {tracks.playing ? 'Pause' : 'Audition'}
          <Key keys="Space" />
        </Button>
        {button('keep', 'main')}
        {what === 'tempo' && [button('half'), button('double')]}
        <Button disabled={last} onClick={() => tracks.go(1)} className={BIG}>
          Next
          <Key keys="N" />
        </Button>
        {what === 'tempo' && (
          <Button
            aria-pressed={clicking}
            onClick={() => setClicking(!clicking)}
            className={`${BIG} ${clicking ? 'border-buoy! bg-chosen' : ''}`}
          >
            Metronome
          </Button>
        )}
      </div>
      <div className="mt-5 max-w-[420px]">
        {what === 'tempo' ? (
          <TempoByHand track={track} result={result} grid={grid} />
        ) : (
          <KeyByHand track={track} result={result} />
        )}
      </div>
      <p className="mt-4 text-tiny text-dim">
        Keep locks the value, so that nothing measured or read later replaces it. Ctrl Z undoes what is done here.
      </p>
    </article>
  );
}
