/** The track in hand on the check list: what was heard, and what it could be instead. */
import { Pause, Play } from 'lucide-react';
import { useEffect, useMemo, useRef } from 'react';
import type { CheckWhat, TrackDetails } from '@early-set/core/api/types';
import { gridOf } from '@early-set/core/analysis/gridOf';
import { shortKey } from '@early-set/core/fields/keys';
import { clickAlong } from '../../audition/click.ts';
import { audition, seek, usePlayer } from '../../audition/player.ts';
import { Waveform } from '../../audition/Waveform.tsx';
import { useWaveform } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { textOf } from '../../ui/format.ts';
import { KeyByHand, TempoByHand } from '../tracks/inspector/Corrections.tsx';
import { sureOf, titleOf } from './CheckLine.tsx';

export function Judge({
  track,
  what,
  playing,
  actions,
}: {
  track: TrackDetails;
  what: CheckWhat;
  playing: boolean;
  actions: { key: string; label: string; keys: string; run: () => void; off: boolean }[];
}) {
  const { result } = track.analysis!;
  const waveform = useWaveform(track.id);
  const player = usePlayer();
  const own = player.track?.id === track.id;
  const [clicking, setClicking] = useRemembered<boolean>('checkClicks', false);
  const grid = useMemo(() => gridOf(result, track.values), [result, track.values]);
  const latest = useRef(grid);
  useEffect(() => {
    latest.current = grid;
  });
  useEffect(() => (clicking ? clickAlong(() => latest.current) : undefined), [clicking]);
  const button = (key: string, kind: 'plain' | 'main' = 'plain') => {
    const a = actions.find((x) => x.key === key)!;
    return (
      <Button key={key} kind={kind} disabled={a.off} onClick={a.run} className="min-h-[34px] px-3.5!">
        {key === ' ' ? playing ? <Pause size={14} /> : <Play size={14} /> : null}
        {a.label}
        <kbd className="ml-1 text-tiny font-normal opacity-75">{a.keys}</kbd>
      </Button>
    );
  };
  return (
    <article className="mx-auto max-w-[820px] border border-line bg-paper p-5">
      <h2 className="heading text-[22px] leading-7">{titleOf(track)}</h2>
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
          sure {sureOf(track, what)}
          {what === 'tempo' && result.tempo.steady === false ? ', drifts or changes' : ''}
        </span>
      </p>
      <div className="mt-3 border border-line bg-sheet p-1.5">
        <Waveform
          waveform={waveform}
          duration={result.durationSeconds}
          position={own ? player.position : 0}
          beats={grid.beats}
          firstDownbeat={grid.firstDownbeatSeconds}
          beatsPerBar={grid.beatsPerBar}
          height={72}
          label={`Waveform of ${titleOf(track)}`}
          onSeek={(t) => {
            if (!own) audition(track);
            seek(t);
          }}
        />
      </div>
      <div className="mt-4 flex flex-wrap gap-2" role="group" aria-label="Judge">
        {button(' ')}
        {button('k', 'main')}
        {what === 'tempo' && [button('h'), button('d')]}
        {button('n')}
        {what === 'tempo' && (
          <Button
            aria-pressed={clicking}
            onClick={() => setClicking(!clicking)}
            className={`min-h-[34px] px-3.5! ${clicking ? 'border-buoy! bg-chosen' : ''}`}
          >
            Click
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
        Keep locks the value, so that nothing measured or read later replaces it. Everything here can be taken back with
        Ctrl Z.
      </p>
    </article>
  );
}
