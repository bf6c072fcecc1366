/** How a track ends: by a fade or hard, and where the next one should come in. */
import { quantile } from '../../signal/statistics.ts';

export interface Ending {
  kind: 'fade' | 'hard' | null;
  /** Where the sound has fallen for good by SEGUE_FALL below what came before; null for silence. */
  segueSeconds: number | null;
}

/** LU under the level of the last part at which the next track may take over. */
const SEGUE_FALL = 10;
const HIGH = 5;
const LOW = 22;
/** Seconds that the fall from HIGH to LOW takes in a fade, at the least. */
const FADE_SECONDS = 1.6;
/** Seconds before the end whose level counts. */
const LAST_SECONDS = 40;
const STEP = 0.1;
const WINDOW = 4;

/**
 * Looks at the end.
 * @param powers mean K-weighted power of each 100 ms
 */
export function endingOf(powers: ArrayLike<number>, audibleEnd: number | null): Ending {
  if (audibleEnd === null) return { kind: null, segueSeconds: null };
  const count = Math.min(powers.length, Math.ceil(audibleEnd / STEP)) - WINDOW + 1;
  if (count < 10) return { kind: null, segueSeconds: audibleEnd };
  // Momentary loudness, without its constant.
  const levels = Float64Array.from({ length: count }, (_, i) => {
    let sum = 0;
    for (let k = 0; k < WINDOW; k++) sum += powers[i + k]!;
    return 10 * Math.log10(sum / WINDOW + 1e-12);
  });
  const reference = quantile(levels.subarray(Math.max(0, count - Math.round(LAST_SECONDS / STEP))), 0.75);
  const lastAbove = (fall: number): number => {
    let i = count - 1;
    while (i > 0 && levels[i]! < reference - fall) i--;
    return i;
  };
  const fall = (lastAbove(LOW) - lastAbove(HIGH)) * STEP;
  return {
    kind: fall >= FADE_SECONDS ? 'fade' : 'hard',
    segueSeconds: Math.min(audibleEnd, (lastAbove(SEGUE_FALL) + WINDOW) * STEP),
  };
}
