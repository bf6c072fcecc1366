/** A piece as any of the benchmark's sources gives it, before it is played. */
import type { Message } from '../pieces/midiFile.ts';

export interface Arrangement {
  /** By time in quarters; the first bar begins at 0, a pick-up lies before it. */
  messages: Message[];
  /** Length in quarters, whole bars. */
  quarters: number;
  /** Quarters in one beat: 1, or 1.5 in 6/8. */
  quartersPerBeat: number;
  beatsPerBar: number;
  /** Quarters of the pick-up. */
  pickup: number;
  /** Chords by where they begin; none where a source has none. */
  chords: { at: number; tones: number[] }[];
}
