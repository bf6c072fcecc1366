/**
 * The sound of one track on a page of its own: waveform to zoom into, grid, edges, sections, cues, loudness, energy,
 * key.
 */
import { Link, useParams } from 'react-router';
import type { TrackDetails } from '@early-set/core/api/types';
import { SEGMENT_SECONDS } from '@early-set/core/analysis/harmony/key';
import { Waveform } from '../../audition/Waveform.tsx';
import { useTrack, useWaveform } from '../../data/hooks.ts';
import { useLoudnessTarget } from '../../data/loudnessTarget.ts';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { useSize } from '../../ui/useSize.ts';
import { EnergyLane, KeyLane, LoudnessLane } from './Lanes.tsx';
import { SectionStrip } from './SectionStrip.tsx';
import { SidePanel } from './SidePanel.tsx';
import { SoundHeader } from './SoundHeader.tsx';
import { useSoundPage, useWheel, type Analysed } from './useSoundPage.ts';
import { WaveEditor } from './WaveEditor.tsx';

export function SoundView() {
  const { trackId } = useParams();
  const id = Number(trackId);
  const { data: track, error } = useTrack(Number.isInteger(id) && id > 0 ? id : null);
  if (error && !track) return <Trouble error={error} />;
  if (!track || track.id !== id) return <div aria-busy="true" className="h-full bg-paper" />;
  if (!track.analysis) {
    return (
      <Empty title="Not measured yet">
        <p>{track.analysisReason ?? 'The waveform, grid and key of this track are here once it has been measured.'}</p>
        <Link to="/tracks" className="mt-2 inline-block font-semibold text-buoy-text">
          Back to the tracks
        </Link>
      </Empty>
    );
  }
  return <Page key={track.id} track={track} analysed={track.analysis} />;
}

function Page({ track, analysed }: { track: TrackDetails; analysed: Analysed }) {
  const page = useSoundPage(track, analysed);
  const { result, duration, grid, cues, span, position } = page;
  const waveform = useWaveform(track.id);
  const [target] = useLoudnessTarget();
  const [box, { width }, theme] = useSize<HTMLDivElement>();
  const lanes = useWheel(duration, page.setSpan);
  const shown = { span, width };
  return (
    <div className="flex h-full bg-fog">
      <div className="flex min-w-0 flex-1 flex-col">
        <SoundHeader page={page} />
        <div className="min-h-0 flex-1 overflow-y-auto p-3.5">
          <div className="border border-line bg-sheet p-1.5" title="The whole track; click to go there">
            <div className="relative">
              <Waveform
                waveform={waveform}
                duration={duration}
                position={position ?? 0}
                height={38}
                label="The whole track"
                onSeek={page.jumpTo}
              />
              <span
                aria-hidden="true"
                className="pointer-events-none absolute inset-y-0 border-x-2 border-ink bg-ink/8"
                style={{
                  left: `${(span.from / duration) * 100}%`,
                  width: `${((span.to - span.from) / duration) * 100}%`,
                }}
              />
            </div>
          </div>
          <div ref={box} className="mt-2.5 border border-line bg-sheet">
            <div ref={lanes} data-testid="lanes">
              <SectionStrip
                track={track}
                sections={result.sections ?? []}
                beats={grid.beats}
                duration={duration}
                {...shown}
              />
              <WaveEditor page={page} waveform={waveform} width={width} theme={theme} />
              {width > 0 && (
                <>
                  <LoudnessLane
                    curve={result.loudness.shortTermCurve}
                    target={target.lufs}
                    integrated={result.loudness.integratedLufs}
                    {...shown}
                  />
                  <EnergyLane curve={result.energy.curve} {...shown} />
                  <KeyLane
                    keys={result.key.overTime}
                    seconds={SEGMENT_SECONDS}
                    own={typeof track.values.key === 'string' ? track.values.key : null}
                    {...shown}
                  />
                </>
              )}
            </div>
          </div>
          <p className="mt-2 text-tiny text-dim">Wheel zooms, Shift and wheel scrolls. Press ? for all keys.</p>
        </div>
      </div>
      <SidePanel
        track={track}
        analysed={analysed}
        grid={grid}
        cues={cues}
        position={position}
        cueActions={{ onJump: page.toMark, repeated: page.repeated, onAdd: page.add, onSave: page.saveCues }}
      />
    </div>
  );
}
