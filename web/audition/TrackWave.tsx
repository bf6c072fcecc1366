/** The waveform of one track; a click plays it from there. */
import type { SheetRow } from '@early-set/core/api/types';
import type { Grid } from '@early-set/core/analysis/gridOf';
import { useWaveform } from '../data/hooks.ts';
import { nameOf } from '../ui/format.ts';
import { audition, seek, usePlayer } from './player.ts';
import { Waveform } from './Waveform.tsx';

interface Props {
  track: SheetRow;
  /** Seconds. */
  duration: number;
  grid?: Grid;
  height: number;
}

export function TrackWave({ track, duration, grid, height }: Props) {
  const waveform = useWaveform(track.id);
  const player = usePlayer();
  const own = player.track?.id === track.id;
  return (
    <div className="border border-line bg-sheet p-1.5">
      <Waveform
        waveform={waveform}
        duration={duration}
        position={own ? player.position : 0}
        {...(grid
          ? { beats: grid.beats, firstDownbeat: grid.firstDownbeatSeconds, beatsPerBar: grid.beatsPerBar }
          : {})}
        height={height}
        label={`Waveform of ${nameOf(track)}`}
        onSeek={(seconds) => {
          if (!own) audition(track);
          seek(seconds);
        }}
      />
    </div>
  );
}
