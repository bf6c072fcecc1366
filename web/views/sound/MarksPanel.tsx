/**
 * Cues and loops of a track: added at the playhead, named, coloured, put on the beat, jumped to, taken away.
 */
import { Repeat, Trash2 } from 'lucide-react';
import type { Grid } from '@early-set/core/analysis/gridOf';
import { MARK_COLOURS, type Mark } from '@early-set/core/fields/marks';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { timeWords } from './Handle.tsx';
import { COLOUR_NAMES, markColour } from '../../ui/colours.ts';
import { quantised } from './timeline.ts';

/** The end of a loop of some bars from a time on, along the grid. */
export function loopEnd(grid: Grid, at: number, bars: number): number {
  const i = grid.beats.findIndex((t) => t >= at - 0.01);
  const end = i < 0 ? undefined : grid.beats[i + bars * grid.beatsPerBar];
  return end ?? at + 8;
}

export interface CueActions {
  onJump: (mark: Mark) => void;
  repeated: { from: number; to: number } | null;
  onAdd: (loop: boolean) => void;
  onSave: (cues: readonly Mark[], say: string) => void;
}

export function MarksPanel({
  cues,
  grid,
  repeated,
  onJump,
  onAdd,
  onSave,
}: CueActions & { cues: readonly Mark[]; grid: Grid }) {
  const replace = (i: number, part: Partial<Mark>, say: string): void =>
    onSave(
      cues.map((c, k) => (k === i ? { ...c, ...part } : c)),
      say,
    );
  const toBeats = (): void =>
    onSave(
      cues.map((c) => {
        const at = quantised(c.at, grid.beats);
        return { ...c, at, ...(c.end === undefined ? {} : { end: Math.max(at + 0.05, quantised(c.end, grid.beats)) }) };
      }),
      'Every cue put on the beat',
    );
  return (
    <section aria-label="Cues and loops">
      <div className="flex items-center gap-1.5">
        <h3 className="flex-1 text-small font-semibold text-dim">Cues and loops</h3>
        <Button onClick={() => onAdd(false)} title="Add a cue at the playhead (C)" className="px-1.5!">
          Add cue
        </Button>
        <Button onClick={() => onAdd(true)} title="Add a loop of four bars at the playhead (O)" className="px-1.5!">
          <Repeat size={12} />
          Loop
        </Button>
      </div>
      {cues.length === 0 ? (
        <p className="mt-1 text-small text-dim">
          None yet. C adds one at the playhead, O a loop of four bars; 1 to 9 jump to them; a loop is played over and
          over.
        </p>
      ) : (
        <>
          <ul className="mt-1">
            {cues.map((c, i) => (
              <li key={`${c.at}-${c.end ?? ''}`} className="flex items-center gap-1 border-b border-hair py-[3px]">
                <button
                  type="button"
                  onClick={() => onJump(c)}
                  aria-label={`Jump to ${c.end === undefined ? 'cue' : 'loop'} ${i + 1}`}
                  title={`${c.end === undefined ? 'Jump there' : 'Play it over and over'}${i < 9 ? ` (${i + 1})` : ''}`}
                  className="flex items-center gap-1.5 rounded-xs px-1 py-0.5 hover:bg-hair"
                >
                  <Shape loop={c.end !== undefined} colour={markColour(c.colour)} />
                  <span className="figures w-[58px] text-left text-small">{timeWords(c.at)}</span>
                </button>
                {repeated?.from === c.at && repeated.to === c.end && (
                  <Repeat size={12} aria-label="Repeats" className="shrink-0 text-buoy-text" />
                )}
                <input
                  aria-label={`Name of cue ${i + 1}`}
                  defaultValue={c.name ?? ''}
                  placeholder={c.end === undefined ? `Cue ${i + 1}` : `Loop, ${(c.end - c.at).toFixed(1)} s`}
                  maxLength={200}
                  onBlur={(e) => {
                    if (e.target.value.trim() !== (c.name ?? ''))
                      replace(i, { name: e.target.value.trim() }, 'Cue renamed');
                  }}
                  onKeyDown={(e) => {
                    e.stopPropagation();
                    if (e.key === 'Enter') e.currentTarget.blur();
                  }}
                  className="min-w-0 flex-1 rounded-xs border border-transparent bg-transparent px-1 py-0.5 text-small hover:border-line focus:border-tide-deep focus:bg-sheet"
                />
                <select
                  aria-label={`Colour of cue ${i + 1}`}
                  value={c.colour ?? 'buoy'}
                  onChange={(e) => replace(i, { colour: e.target.value }, 'Cue coloured')}
                  className="w-[64px] rounded-xs border border-transparent bg-transparent text-tiny text-dim hover:border-line"
                >
                  {MARK_COLOURS.map((name) => (
                    <option key={name} value={name}>
                      {COLOUR_NAMES[name]}
                    </option>
                  ))}
                </select>
                <button
                  type="button"
                  aria-label={`Delete cue ${i + 1}`}
                  title="Delete"
                  onClick={() =>
                    onSave(
                      cues.filter((_, k) => k !== i),
                      c.end === undefined ? 'Cue deleted' : 'Loop deleted',
                    )
                  }
                  className="rounded-xs p-1 text-dim hover:bg-hair hover:text-flare"
                >
                  <Trash2 size={12} />
                </button>
              </li>
            ))}
          </ul>
          <div className="mt-1 flex items-center gap-2">
            <span className="flex-1 text-tiny text-dim">{cuesAndLoops(cues)}</span>
            <Button kind="link" disabled={grid.beats.length < 2} onClick={toBeats}>
              Put all on the beat
            </Button>
          </div>
        </>
      )}
    </section>
  );
}

/** A flag for a cue, two ends for a loop. */
const Shape = ({ loop, colour }: { loop: boolean; colour: string }) => (
  <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden="true" style={{ fill: `var(--${colour})` }}>
    {loop ? <path d="M0 0h4v2H2v8h2v2H0zM12 0H8v2h2v8H8v2h4z" /> : <path d="M1 0h2l8 3-8 3v6H1z" />}
  </svg>
);

/** "2 cues and 1 loop". */
function cuesAndLoops(marks: readonly Mark[]): string {
  const loops = marks.filter((m) => m.end !== undefined).length,
    cues = marks.length - loops;
  return [cues && several(cues, 'cue'), loops && several(loops, 'loop')].filter(Boolean).join(' and ');
}
