/** Cases in memory that all threads share. */
import { BARS, type BarBeats } from '@early-set/core/analysis/rhythm/barFold';
import { picturesOf, pictureSize } from '@early-set/core/analysis/rhythm/readings';
import type { ReadingCase } from './readingCases.ts';

export interface KeptCase {
  /** KNOWN_OF_TEMPO values a period. */
  known: Float32Array;
  bars: Record<BarBeats, { pictures: Float32Array; right: Uint8Array }>;
}

/** Lays a case into shared memory. */
export function kept({ periods, right }: ReadingCase): KeptCase {
  const shared = (length: number): Float32Array => new Float32Array(new SharedArrayBuffer(4 * length));
  const width = periods[0]!.known.length;
  const known = shared(periods.length * width);
  periods.forEach((p, i) => known.set(p.known, i * width));
  const bars = Object.fromEntries(
    BARS.map((bar, b) => {
      const size = pictureSize(bar);
      const answers = right.flatMap((of) => of[b]!);
      const pictures = shared(answers.length * size);
      periods
        .flatMap((p) => picturesOf(p, bar))
        .forEach(({ seen }, i) => {
          pictures.set(seen, i * size);
        });
      const marks = new Uint8Array(new SharedArrayBuffer(answers.length));
      marks.set(answers);
      return [bar, { pictures, right: marks }];
    }),
  ) as KeptCase['bars'];
  return { known, bars };
}
