/** What was measured: waveform with grid, loudness over time, tempo, grid and key with what can be set right. */
import { lazy, Suspense } from 'react';
import { Link } from 'react-router';
import type { TrackDetails } from '@early-set/core/api/types';
import { gridOf } from '@early-set/core/analysis/gridOf';
import { TrackWave } from '../../../audition/TrackWave.tsx';
import { perform } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { Button } from '../../../ui/Button.tsx';
import { day, figure } from '../../../ui/format.ts';
import { KeyByHand, TempoByHand } from './Corrections.tsx';

const LoudnessChart = lazy(() => import('../filters/LoudnessChart.tsx'));

export function Sound({ track }: { track: TrackDetails }) {
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
  return (
    <div className="flex flex-col gap-3.5">
      <TrackWave track={track} duration={result.durationSeconds} grid={grid} height={64} />
      <Link to={`/tracks/${track.id}/sound`} className="-mt-2 text-small font-semibold text-buoy-text hover:underline">
        Open on a page: zoom, cues, playout points
      </Link>
      <section>
        <h3 className="text-small font-semibold text-dim">Loudness, short-term LUFS</h3>
        <Suspense fallback={<div className="h-[110px]" />}>
          <LoudnessChart curve={loudness.shortTermCurve} integrated={loudness.integratedLufs} />
        </Suspense>
        <Facts
          facts={[
            ['Integrated', loudness.integratedLufs === null ? 'silent' : `${figure(loudness.integratedLufs, 1)} LUFS`],
            ['Loudness range', loudness.rangeLu === null ? '–' : `${figure(loudness.rangeLu, 1)} LU`],
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
        <h3 className="text-small font-semibold text-dim">Playout points</h3>
        <Facts
          facts={[
            ['Audible start', edges.audibleStartSeconds === null ? '–' : `${edges.audibleStartSeconds.toFixed(2)} s`],
            ['Audible end', edges.audibleEndSeconds === null ? '–' : `${edges.audibleEndSeconds.toFixed(2)} s`],
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
