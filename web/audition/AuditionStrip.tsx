import { Pause, Play, X } from 'lucide-react';
import { clockLength } from '@early-set/core/clock/clock';
import { useWaveform } from '../data/hooks.ts';
import { figure } from '../ui/format.ts';
import { Button } from '../ui/Button.tsx';
import { endAudition, jump, seek, toggleAudition, usePlayer } from './player.ts';
import { Waveform } from './Waveform.tsx';

/** The strip at the bottom, there as soon as something has been auditioned. */
export function AuditionStrip() {
  const { track, playing, position, duration, gainDb, trouble } = usePlayer();
  const waveform = useWaveform(track?.id ?? null);
  if (!track) return null;
  const matched =
    track.lufs === null
      ? 'not measured, as it is'
      : Math.abs(gainDb) < 0.05
        ? 'as loud as all'
        : `${figure(gainDb, 1).replace(/^(?=\d)/, '+')} dB to match`;
  return (
    <section
      aria-label="Audition"
      className="flex h-[62px] shrink-0 items-center gap-3.5 border-t border-line bg-paper px-4"
    >
      <button
        type="button"
        aria-label={playing ? 'Pause' : 'Play'}
        onClick={() => toggleAudition(null)}
        className="flex h-[38px] w-[38px] shrink-0 items-center justify-center rounded-full bg-inverse text-inverse-ink"
      >
        {playing ? <Pause size={16} fill="currentColor" /> : <Play size={16} fill="currentColor" className="ml-0.5" />}
      </button>
      <div className="w-[232px] shrink-0">
        <p className="truncate font-semibold" title={`${track.title}${track.artist ? `, ${track.artist}` : ''}`}>
          {track.title}
        </p>
        {trouble ? (
          <p role="alert" className="truncate text-tiny text-flare" title={trouble}>
            {trouble}
          </p>
        ) : (
          <p className="figures truncate text-tiny text-dim">
            {clockLength(position)} / {clockLength(duration)} · {matched}
          </p>
        )}
      </div>
      <div className="min-w-0 flex-1">
        <Waveform
          waveform={waveform}
          duration={duration}
          position={position}
          onSeek={seek}
          height={44}
          label={`Position in ${track.title}`}
        />
      </div>
      <Button onClick={() => jump(-30)} aria-label="Back 30 seconds" className="figures">
        −30 <kbd className="text-dim">,</kbd>
      </Button>
      <Button onClick={() => jump(30)} aria-label="On 30 seconds" className="figures">
        +30 <kbd className="text-dim">.</kbd>
      </Button>
      <Button kind="quiet" onClick={endAudition} aria-label="End audition">
        <X size={15} />
      </Button>
    </section>
  );
}
