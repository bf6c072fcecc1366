/** A grid laid anew as one of its readings says: other beats, another phase, other bars. */
import type { Features } from '../features.ts';
import { PARTS, timeAt } from './barFold.ts';
import type { BeatGrid } from './beatGrid.ts';
import { fitLine, pointsOf, refineBeats, snapBpm } from './grid.ts';
import type { Reading } from './readings.ts';

/** A fitted line may lie so far, in parts of a beat, from where the reading has its beats. */
const FARTHEST = 0.1;

/** Lays the grid. */
export function reread(
  grid: BeatGrid,
  { ratio, offset, beatsPerBar, firstDownbeat }: Reading,
  { bands, durationSeconds }: Pick<Features, 'bands' | 'durationSeconds'>,
): BeatGrid {
  const at = (beat: number): number => timeAt(grid.beats, (beat + offset / PARTS) * ratio);
  if (ratio === 1 && offset === 0) return { ...grid, beatsPerBar, firstDownbeat: firstDownbeat % beatsPerBar };
  if (grid.steady) {
    const own = (60 / grid.bpm) * ratio;
    const line = fitLine(bands, at(0), own, durationSeconds);
    const off = (line.phase - at(0)) / own,
      beside = off - Math.round(off);
    const holds = line.hits >= 8 && Math.abs(line.period / own - 1) < 0.002 && Math.abs(beside) < FARTHEST;
    // Of what the attacks on other beats say, the tempo that was measured on more of them is kept.
    const bpm = snapBpm(grid.bpm / ratio, grid.bpmError / ratio);
    const middle = Math.round((durationSeconds / 2 - at(0)) / own);
    const centre = holds ? line.phase + Math.round((at(middle) - line.phase) / line.period) * line.period : at(middle);
    const beats = pointsOf(centre, 60 / bpm, durationSeconds);
    const support = holds ? line.support : grid.support;
    return {
      ...grid,
      bpm,
      beats,
      support,
      beatsPerBar,
      firstDownbeat: indexAt(beats, at(firstDownbeat)) % beatsPerBar,
    };
  }
  const first = -Math.ceil(at(0) / (at(1) - at(0)));
  const last = Math.floor((grid.beats.length - 1) / ratio);
  const times: number[] = [];
  for (let beat = first; beat <= last; beat++) {
    const time = at(beat);
    if (time >= 0 && time < durationSeconds) times.push(time);
  }
  const beats = grid.segments.length > 0 ? Float64Array.from(times) : refineBeats(bands, times);
  return {
    ...grid,
    bpm: grid.bpm / ratio,
    beats,
    segments: grid.segments.map((s) => ({ ...s, bpm: s.bpm / ratio })),
    beatsPerBar,
    firstDownbeat: indexAt(beats, at(firstDownbeat)) % beatsPerBar,
  };
}

/** The beat nearest to a time. */
function indexAt(beats: ArrayLike<number>, time: number): number {
  let nearest = 0;
  for (let i = 1; i < beats.length; i++) if (Math.abs(beats[i]! - time) < Math.abs(beats[nearest]! - time)) nearest = i;
  return nearest;
}
