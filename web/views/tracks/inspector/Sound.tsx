/** What was measured: waveform with grid, loudness over time, tempo, grid and key with what can be set right. */
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import type { TrackDetails } from '@early-set/core/api/types';
import { gridOf } from '@early-set/core/analysis/gridOf';
import { audition, seek, usePlayer } from '../../../audition/player.ts';
import { Waveform } from '../../../audition/Waveform.tsx';
import { perform } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useWaveform } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { day, figure } from '../../../ui/format.ts';
import { KeyByHand, TempoByHand } from './Corrections.tsx';

const LoudnessChart = lazy(() => import('../filters/LoudnessChart.tsx'));

export function Sound({ track }: { track: TrackDetails }) {
  const waveform = useWaveform(track.analysis ? track.id : null);
  const player = usePlayer();
  const measure = (): void => {
    void perform(post('/analysis', { selection: { ids: [track.id] } }), 'It will be measured next');
  };
  if (!track.analysis) {
    const failed = track.values.analysisState === 'failed';
    return (
      <div className="py-2 text-dim">
        <p>
          {failed
            ? track.analysisReason
            : track.values.analysisState === 'none'
              ? 'Not measured yet.'
              : 'Waiting to be measured.'}
        </p>
        <Button className="mt-2" onClick={measure}>
          {failed ? 'Try again' : 'Measure now'}
        </Button>
      </div>
    );
  }
  const { result } = track.analysis;
  const { key, loudness, edges } = result;
  const grid = gridOf(result, track.values);
  const own = player.track?.id === track.id;
  return (
    <div className="flex flex-col gap-3.5">
      <div className="border border-line bg-sheet p-1.5">
        <Waveform
          waveform={waveform}
          duration={result.durationSeconds}
          position={own ? player.position : 0}
          beats={grid.beats}
          firstDownbeat={grid.firstDownbeatSeconds}
          beatsPerBar={grid.beatsPerBar}
          height={64}
          label={`Waveform of ${String(track.values.title ?? 'this track')}`}
          onSeek={(seconds) => {
            if (!own) audition(track);
            seek(seconds);
          }}
        />
      </div>
      <Link to={`/tracks/${track.id}/sound`} className="-mt-2 text-small font-semibold text-buoy-text hover:underline">
        Open on a page: zoom, cues, edges
      </Link>
      <section>
        <h3 className="text-small font-semibold text-dim">Loudness, short-term LUFS</h3>
        <Suspense fallback={<div className="h-[110px]" />}>
          <LoudnessChart curve={loudness.shortTermCurve} integrated={loudness.integratedLufs} />
        </Suspense>
        <Facts
          facts={[
            ['Integrated', loudness.integratedLufs === null ? 'silent' : `${figure(loudness.integratedLufs, 1)} LUFS`],
            ['Range', loudness.rangeLu === null ? '–' : `${figure(loudness.rangeLu, 1)} LU`],
            ['True peak', loudness.truePeakDbtp === null ? '–' : `${figure(loudness.truePeakDbtp, 1)} dBTP`],
          ]}
        />
      </section>
      <TempoByHand key={track.id} track={track} result={result} grid={grid} />
      <div>
        <KeyByHand track={track} result={result} />
        <Facts facts={[['Tuning', `${figure(key.tuningCents, 0)} cents`]]} />
      </div>
      <section>
        <h3 className="text-small font-semibold text-dim">Audible</h3>
        <Facts
          facts={[
            ['Starts', edges.audibleStartSeconds === null ? '–' : `${edges.audibleStartSeconds.toFixed(2)} s`],
            ['Ends', edges.audibleEndSeconds === null ? '–' : `${edges.audibleEndSeconds.toFixed(2)} s`],
          ]}
        />
      </section>
      <p className="text-tiny text-dim">
        Measured {day(track.analysis.analysedAt)}, engine {track.analysis.engine}.{' '}
        <Button kind="link" className="min-h-0!" onClick={measure}>
          Measure again
        </Button>
      </p>
    </div>
  );
}

function Facts({ facts }: { facts: [string, string][] }) {
  return (
    <dl className="mt-0.5">
      {facts.map(([k, v]) => (
        <div key={k} className="flex text-small">
          <dt className="w-[92px] text-dim">{k}</dt>
          <dd className="figures">{v}</dd>
        </div>
      ))}
    </dl>
  );
}
