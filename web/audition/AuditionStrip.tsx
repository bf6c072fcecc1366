import { ListEnd, Pause, Play, SkipBack, SkipForward, X } from 'lucide-react';
import { clockLength } from '@early-set/core/clock/clock';
import { useWaveform } from '../data/hooks.ts';
import { useRemembered } from '../data/remembered.ts';
import { figure } from '../ui/format.ts';
import { Button } from '../ui/Button.tsx';
import { Hint } from '../ui/Hint.tsx';
import { useNarrow } from '../ui/useNarrow.ts';
import { auditionNext, endAudition, jump, PLAY_ON, seek, toggleAudition, usePlayer } from './player.ts';
import { Waveform } from './Waveform.tsx';

/** The strip at the bottom, there as soon as something has been auditioned. */
export function AuditionStrip() {
  const { track, playing, position, duration, gainDb, trouble } = usePlayer();
  const narrow = useNarrow();
  const [playOn, setPlayOn] = useRemembered<boolean>(PLAY_ON, false);
  const waveform = useWaveform(track && track.id > 0 ? track.id : null);
  if (!track) return null;
  const matched =
    track.lufs === null
      ? 'not measured, not level-matched'
      : Math.abs(gainDb) < 0.05
        ? 'level-matched'
        : `level-matched, ${figure(gainDb, 1).replace(/^(?=\d)/, '+')} dB`;
  const wave = (
    <div className={narrow ? 'w-full' : 'min-w-0 flex-1'}>
      <Waveform
        waveform={waveform}
        duration={duration}
        position={position}
        onSeek={seek}
        height={narrow ? 30 : 44}
        label={`Position in ${track.title}`}
      />
    </div>
  );
  return (
    <section
      aria-label="Audition"
      className={`flex shrink-0 items-center gap-3.5 border-t border-line bg-paper ${narrow ? 'flex-wrap gap-y-1 px-3 py-1.5' : 'h-[62px] px-4'}`}
    >
      {narrow && wave}
      <Step by={-1} label="Previous track" keys="P" />
      <button
        type="button"
        aria-label={playing ? 'Pause' : 'Play'}
        onClick={() => toggleAudition(null)}
        className="flex h-[38px] w-[38px] shrink-0 items-center justify-center rounded-full bg-inverse text-inverse-ink"
      >
        {playing ? <Pause size={16} fill="currentColor" /> : <Play size={16} fill="currentColor" className="ml-0.5" />}
      </button>
      <Step by={1} label="Next track" keys="N" />
      <div className={narrow ? 'min-w-0 flex-1' : 'w-[266px] shrink-0'}>
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
      {!narrow && wave}
      {!narrow && (
        <>
          <Button onClick={() => jump(-30)} aria-label="Back 30 seconds" className="figures">
            −30 <kbd className="text-dim">,</kbd>
          </Button>
          <Button onClick={() => jump(30)} aria-label="Forward 30 seconds" className="figures">
            +30 <kbd className="text-dim">.</kbd>
          </Button>
        </>
      )}
      <Hint text="Continuous play">
        <Button
          kind="quiet"
          aria-label="Continuous play"
          aria-pressed={playOn}
          onClick={() => setPlayOn(!playOn)}
          className={playOn ? 'bg-inverse text-inverse-ink' : ''}
        >
          <ListEnd size={15} />
        </Button>
      </Hint>
      <Button kind="quiet" onClick={endAudition} aria-label="End audition">
        <X size={15} />
      </Button>
    </section>
  );
}

function Step({ by, label, keys }: { by: 1 | -1; label: string; keys: string }) {
  const { order } = usePlayer();
  const Icon = by > 0 ? SkipForward : SkipBack;
  return (
    <Button
      kind="quiet"
      aria-label={label}
      title={`${label} (${keys})`}
      disabled={!order || order.at + by < 0}
      onClick={() => void auditionNext(by)}
      className="-mx-2"
    >
      <Icon size={15} />
    </Button>
  );
}
