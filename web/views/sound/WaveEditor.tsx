/** The waveform with everything on it that can be moved: edges, cues, loops. */
import type { Mark } from '@early-set/core/fields/marks';
import type { WaveformData } from '../../data/hooks.ts';
import { rounded, setField } from '../../data/fields.ts';
import { EDGES } from './edges.ts';
import { Handle } from './Handle.tsx';
import { markColour } from '../../ui/colours.ts';
import type { SoundPage } from './useSoundPage.ts';
import { NUMBERS, Wave, WAVE_HEIGHT } from './Wave.tsx';

/** Loops are longer than this, in seconds. */
const SHORTEST_LOOP = 0.05;

/** A cue elsewhere; a loop keeps its length. */
const movedTo = (mark: Mark, at: number): Mark => ({
  ...mark,
  at: rounded(at, 3),
  ...(mark.end === undefined ? {} : { end: rounded(mark.end + at - mark.at, 3) }),
});

interface Props {
  page: SoundPage;
  waveform: WaveformData | null;
  /** Pixels. */
  width: number;
  theme: number;
}

export function WaveEditor({ page, waveform, width, theme }: Props) {
  const { track, duration, grid, cues, saveCues, span, jumpTo, position } = page;
  const shown = { span, width };
  const change = (index: number, next: Mark, say: string): void =>
    saveCues(
      cues.map((c, k) => (k === index ? next : c)),
      say,
    );
  // The wave is for the pointer; the keyboard has its keys, the screen reader the handles and lists.
  return (
    <div
      className="relative overflow-hidden"
      style={{ height: WAVE_HEIGHT }}
      onPointerDown={(e) => {
        if (e.button !== 0) return;
        // As it lies at this moment: the width that was told may be of a moment ago.
        const { left, width: now } = e.currentTarget.getBoundingClientRect();
        jumpTo(span.from + ((e.clientX - left) / now) * (span.to - span.from));
      }}
    >
      <Wave
        waveform={waveform}
        duration={duration}
        grid={grid}
        position={position}
        cues={cues}
        theme={theme}
        {...shown}
      />
      {EDGES.map(({ field, label, flag, top, colour }) => {
        const at = track.values[field];
        return (
          typeof at === 'number' && (
            <Handle
              key={field}
              label={label}
              flag={flag}
              at={at}
              duration={duration}
              beats={grid.beats}
              colour={colour}
              top={top}
              onMove={(t) => void setField(track, field, rounded(t, 2))}
              {...shown}
            />
          )
        );
      })}
      {cues.map((c, i) => (
        <Handle
          key={`cue-${i}-${c.at}`}
          label={`${c.end === undefined ? 'Cue' : 'Loop'} ${i + 1}${c.name ? `, ${c.name}` : ''}`}
          flag={`${c.end === undefined ? '' : '⟲ '}${c.name ?? i + 1}`}
          at={c.at}
          duration={duration}
          beats={grid.beats}
          colour={markColour(c.colour)}
          top={NUMBERS}
          onMove={(t) => change(i, movedTo(c, t), 'Cue moved')}
          {...shown}
        />
      ))}
      {cues.map(
        (c, i) =>
          c.end !== undefined && (
            <Handle
              key={`end-${i}-${c.at}`}
              label={`End of loop ${i + 1}`}
              flag="⟲"
              at={c.end}
              duration={duration}
              beats={grid.beats}
              colour={markColour(c.colour)}
              top={NUMBERS}
              onMove={(t) => {
                if (t > c.at + SHORTEST_LOOP) change(i, { ...c, end: rounded(t, 3) }, 'Loop changed');
              }}
              {...shown}
            />
          ),
      )}
    </div>
  );
}
