/**
 * Tempo, grid and key set right by hand: candidates to choose, simple ratios, taps, nudges. Each is a change that can
 * be taken back.
 */
import { useState } from 'react';
import type { TrackDetails } from '@early-set/core/api/types';
import { tappedBpm, type Grid } from '@early-set/core/analysis/gridOf';
import { ALL_KEYS, shortKey } from '@early-set/core/fields/keys';
import { usePlayer } from '../../../audition/player.ts';
import { playChord } from '../../../audition/chord.ts';
import { rounded, setField, typed } from '../../../data/fields.ts';
import { Button } from '../../../ui/Button.tsx';
import { Choices, Heading, Listen } from './Candidates.tsx';

type Analysed = NonNullable<TrackDetails['analysis']>['result'];

export function TempoByHand({ track, result, grid }: { track: TrackDetails; result: Analysed; grid: Grid }) {
  const bpm = typeof track.values.bpm === 'number' ? track.values.bpm : null;
  const player = usePlayer();
  const own = player.track?.id === track.id;
  const start = grid.firstDownbeatSeconds;
  const scale = (ratio: number): void => {
    if (bpm !== null) void setField(track, 'bpm', rounded(bpm * ratio, 2));
  };
  const nudge = (ms: number): void => {
    if (start !== null) void setField(track, 'gridStartSeconds', rounded(Math.max(0, start + ms / 1000), 3));
  };
  return (
    <section aria-label="Tempo">
      <Heading byHand={typed(track, 'bpm', 'gridStartSeconds', 'beatsPerBar')}>Tempo</Heading>
      <Choices
        empty="No beat was found"
        items={result.tempo.candidates.slice(0, 4).map((c) => ({
          name: c.bpm.toFixed(2),
          weight: c.weight,
          now: bpm !== null && Math.abs(c.bpm - bpm) < 0.006,
          use: () => void setField(track, 'bpm', rounded(c.bpm, 2)),
        }))}
      />
      <div className="mt-1.5 flex flex-wrap items-center gap-1" role="group" aria-label="Tempo by a ratio">
        {(
          [
            ['½', 1 / 2, 'Half'],
            ['⅔', 2 / 3, 'Two thirds'],
            ['1½', 3 / 2, 'Three halves'],
            ['×2', 2, 'Double'],
          ] as const
        ).map(([sign, ratio, words]) => (
          <Button
            key={sign}
            aria-label={`${words} the tempo`}
            title={bpm === null ? words : `${words}: ${(bpm * ratio).toFixed(2)}`}
            disabled={bpm === null || bpm * ratio < 20 || bpm * ratio > 400}
            onClick={() => scale(ratio)}
            className="min-w-[38px] px-1.5!"
          >
            {sign}
          </Button>
        ))}
        <Tap onUse={(value) => void setField(track, 'bpm', rounded(value, 2))} />
      </div>
      {bpm !== null && (
        <>
          <p className="mt-2.5 text-small">
            <span className="text-dim">
              {result.tempo.driftingBeats && !grid.byHand ? 'Grid follows the drift; first bar at' : 'First bar at'}
            </span>{' '}
            <span className="figures font-semibold">{start?.toFixed(3) ?? '–'} s</span>
            <span className="text-dim">, {grid.beatsPerBar} beats a bar</span>
          </p>
          <div className="mt-1 flex flex-wrap gap-1" role="group" aria-label="Move the grid">
            {[-10, -1, 1, 10].map((ms) => (
              <Button
                key={ms}
                aria-label={`Move the grid ${Math.abs(ms)} ms ${ms < 0 ? 'earlier' : 'later'}`}
                disabled={start === null}
                onClick={() => nudge(ms)}
                className="min-w-[38px] px-1.5!"
              >
                {ms < 0 ? '−' : '+'}
                {Math.abs(ms)}
              </Button>
            ))}
            <span className="self-center text-tiny text-dim">ms</span>
            <Button
              disabled={!own}
              title={own ? 'The first bar begins at the playhead' : 'Audition this track first'}
              onClick={() => void setField(track, 'gridStartSeconds', rounded(player.position, 3))}
              className="px-1.5!"
            >
              First bar here
            </Button>
            {[2, 3, 4]
              .filter((n) => n !== grid.beatsPerBar)
              .map((n) => (
                <Button key={n} onClick={() => void setField(track, 'beatsPerBar', n)} className="px-1.5!">
                  {n} a bar
                </Button>
              ))}
          </div>
        </>
      )}
    </section>
  );
}

export function KeyByHand({ track, result }: { track: TrackDetails; result: Analysed }) {
  return (
    <section aria-label="Key">
      <Heading byHand={typed(track, 'key')}>Key</Heading>
      <Choices
        empty="Nothing pitched was found"
        items={result.key.candidates.slice(0, 4).map((c) => ({
          name: shortKey(c.key),
          weight: c.weight,
          now: c.key === track.values.key,
          use: () => void setField(track, 'key', c.key),
          listen: () => playChord(c.key),
        }))}
      />
      <OtherKey key={String(track.values.key)} track={track} />
    </section>
  );
}

/** Any of the 24, heard before it is used. */
function OtherKey({ track }: { track: TrackDetails }) {
  const [key, setKey] = useState(String(track.values.key ?? ''));
  const known = (ALL_KEYS as readonly string[]).includes(key);
  return (
    <div className="mt-1.5 flex items-center gap-1">
      <select
        aria-label="Another key"
        value={known ? key : ''}
        onChange={(e) => {
          setKey(e.target.value);
          playChord(e.target.value);
        }}
        className="min-h-[26px] flex-1 rounded-xs border border-line bg-paper px-1.5 text-[12.5px]"
      >
        {!known && <option value="">Another key</option>}
        {ALL_KEYS.map((k) => (
          <option key={k} value={k}>
            {shortKey(k)}
          </option>
        ))}
      </select>
      {known && <Listen name={shortKey(key)} onListen={() => playChord(key)} />}
      <Button
        disabled={!known || key === track.values.key}
        onClick={() => void setField(track, 'key', key)}
        className="px-1.5!"
      >
        Use
      </Button>
    </div>
  );
}

/** Tapping along: four taps give a tempo, more make it surer. */
function Tap({ onUse }: { onUse: (bpm: number) => void }) {
  const [taps, setTaps] = useState<number[]>([]);
  const bpm = tappedBpm(taps);
  const usable = bpm !== null && bpm >= 20 && bpm <= 400;
  return (
    <>
      <Button
        onClick={(e) => {
          const now = e.timeStamp / 1000;
          setTaps((t) => [...t.slice(-63), now]);
        }}
        title="Tap along with the beat, at least four times"
        className="px-1.5!"
      >
        Tap
      </Button>
      {usable && (
        <Button
          kind="link"
          onClick={() => {
            onUse(bpm);
            setTaps([]);
          }}
        >
          Use {bpm.toFixed(1)}
        </Button>
      )}
    </>
  );
}
