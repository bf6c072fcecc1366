/** What can be set right and what is known, beside the waveform. */
import { useState } from 'react';
import type { TrackDetails } from '@early-set/core/api/types';
import { fitThrough, type Grid } from '@early-set/core/analysis/gridOf';
import { marksOf, type Mark } from '@early-set/core/fields/marks';
import { rounded, setField, typed } from '../../data/fields.ts';
import { Button } from '../../ui/Button.tsx';
import { day, figure } from '../../ui/format.ts';
import { KeyByHand, TempoByHand } from '../tracks/inspector/Corrections.tsx';
import { EDGES } from './edges.ts';
import { timeWords } from './Handle.tsx';
import { MarksPanel, type CueActions } from './MarksPanel.tsx';
import { HEAD, Playout } from './Playout.tsx';

interface Props {
  track: TrackDetails;
  analysed: NonNullable<TrackDetails['analysis']>;
  grid: Grid;
  cues: readonly Mark[];
  position: number | null;
  cueActions: CueActions;
}

export function SidePanel({ track, analysed, grid, cues, position, cueActions }: Props) {
  const { result } = analysed;
  return (
    <aside
      aria-label="Inspector"
      className="flex w-[316px] shrink-0 flex-col gap-4 overflow-y-auto border-l border-line bg-paper px-3.5 py-3"
    >
      <h2 className="sr-only">What was measured, and setting it right</h2>
      <div>
        <TempoByHand track={track} result={result} grid={grid} />
        <GridMore track={track} grid={grid} position={position} />
      </div>
      <KeyByHand track={track} result={result} />
      <MarksPanel cues={cues} grid={grid} {...cueActions} />
      <section aria-label="Playout points">
        <h3 className={HEAD}>Playout points</h3>
        <ul>
          {EDGES.map(({ field, label }) => {
            const at = track.values[field];
            return (
              <li key={field} className="flex items-center gap-1 border-b border-hair py-[2px] text-small">
                <button
                  type="button"
                  disabled={typeof at !== 'number'}
                  onClick={() => cueActions.onJump({ at: Number(at) })}
                  className="flex-1 rounded-xs px-1 py-0.5 text-left enabled:hover:bg-hair"
                >
                  {label}
                  {typed(track, field) && <span className="ml-1.5 text-tiny text-buoy-text">by hand</span>}
                </button>
                <span className="figures">{typeof at === 'number' ? timeWords(at) : '–'}</span>
                <Button
                  kind="quiet"
                  disabled={position === null}
                  title="Set it at the playhead"
                  onClick={() => void setField(track, field, rounded(position!, 2))}
                  className="min-h-[22px]! text-tiny!"
                >
                  here
                </Button>
              </li>
            );
          })}
        </ul>
        <p className="mt-1 text-small text-dim">
          {result.edges.ending === 'fade' ? 'Fades out.' : result.edges.ending === 'hard' ? 'Ends cold.' : ''}
          {result.edges.longestSilence &&
            ` Silent for ${result.edges.longestSilence.seconds.toFixed(1)} s at ${timeWords(result.edges.longestSilence.startSeconds)}.`}
        </p>
        {typed(track, 'sectionsByHand') && (
          <Button
            kind="link"
            onClick={() => void setField(track, 'sectionsByHand', null, 'Sections as measured again')}
          >
            Sections as measured
          </Button>
        )}
      </section>
      <Playout track={track} />
      <SoundQuality track={track} analysed={analysed} />
      <p className="text-tiny text-dim">
        Measured {day(analysed.analysedAt)}, engine {analysed.engine}.
      </p>
    </aside>
  );
}

/** Two marked beats, anchors, a typed tempo. */
function GridMore({ track, grid, position }: { track: TrackDetails; grid: Grid; position: number | null }) {
  const [first, setFirst] = useState<number | null>(null);
  const bpm = typeof track.values.bpm === 'number' ? track.values.bpm : null;
  const anchors = marksOf(track.values.gridAnchors);
  const fitted = first === null || position === null || bpm === null ? null : fitThrough(first, position, bpm);
  const applyFit = async (): Promise<void> => {
    if (!fitted) return;
    setFirst(null);
    if (await setField(track, 'bpm', rounded(fitted.bpm, 2)))
      await setField(track, 'gridStartSeconds', rounded(fitted.start, 3), 'The grid goes through both beats');
  };
  return (
    <div className="mt-2">
      <form
        className="flex items-center gap-1"
        onSubmit={(e) => {
          e.preventDefault();
          const value = new FormData(e.currentTarget).get('bpm');
          if (value) void setField(track, 'bpm', String(value));
        }}
      >
        <input
          key={String(bpm)}
          name="bpm"
          inputMode="decimal"
          aria-label="Tempo in BPM"
          defaultValue={bpm ?? ''}
          className="figures w-[84px] rounded-xs border border-line bg-sheet px-1.5 py-[3px]"
        />
        <Button type="submit" className="px-1.5!">
          Set BPM
        </Button>
      </form>
      <div className="mt-1.5 flex flex-wrap gap-1" role="group" aria-label="Set the tempo from two beats">
        <Button
          disabled={position === null || bpm === null}
          onClick={() => setFirst(rounded(position!, 3))}
          title="Stand on a beat, mark it, go to a later one"
          className="px-1.5!"
        >
          {first === null ? 'Mark a beat' : `Marked ${timeWords(first)}`}
        </Button>
        {first !== null && (
          <Button
            disabled={!fitted || Math.abs(position! - first) < 0.2}
            onClick={() => void applyFit()}
            className="px-1.5!"
          >
            Set tempo from here{fitted && Math.abs(position! - first) >= 0.2 ? `: ${fitted.bpm.toFixed(2)}` : ''}
          </Button>
        )}
        <Button
          disabled={position === null || grid.beats.length < 2}
          title="The beat nearest to at the playhead lies exactly here (N)"
          onClick={() =>
            void setField(track, 'gridAnchors', [...anchors, { at: rounded(position!, 3) }], 'A beat is anchored here')
          }
          className="px-1.5!"
        >
          Anchor here
        </Button>
      </div>
      {anchors.length > 0 && (
        <p className="mt-1 text-small text-dim">
          {anchors.length === 1 ? 'One beat is' : `${anchors.length} beats are`} anchored.{' '}
          <Button
            kind="link"
            className="min-h-0!"
            onClick={() => void setField(track, 'gridAnchors', null, 'Anchors removed')}
          >
            Take them away
          </Button>
        </p>
      )}
    </div>
  );
}

function SoundQuality({ track, analysed }: { track: TrackDetails; analysed: NonNullable<TrackDetails['analysis']> }) {
  // not there in results of earlier engines
  const sound = analysed.result.sound as typeof analysed.result.sound | undefined;
  if (!sound) return null;
  const reach =
    sound.bandwidthHz === null ? 'too little to tell' : `up to ${(sound.bandwidthHz / 1000).toFixed(1)} kHz`;
  return (
    <section aria-label="Sound quality">
      <h3 className={HEAD}>Sound quality</h3>
      <p className="text-small">
        {String(track.values.codec ?? '')}, reaches {reach}
        {sound.mono ? ', mono' : ''}
        {sound.phaseCorrelation !== null && !sound.mono ? `, phase ${figure(sound.phaseCorrelation, 2)}` : ''}.
      </p>
      {sound.remarks.length === 0 ? (
        <p className="text-small text-kelp">No problems found.</p>
      ) : (
        <ul className="mt-0.5">
          {sound.remarks.map((r) => (
            <li key={r} className="border-l-[3px] border-sodium py-0.5 pl-2 text-small">
              {r}.
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
