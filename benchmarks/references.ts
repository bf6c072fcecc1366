/** Plain ways to a tempo and a key, measured beside the engine, so that what it adds is seen. */
import { autocorrelation } from '@early-set/core/signal/fft';
import { foldChroma } from '@early-set/core/analysis/harmony/chroma';
import { normaliseNovelty } from '@early-set/core/analysis/rhythm/tempo';
import { keyOf, type MusicalKey } from '@early-set/core/fields/keys';
import type { Heard } from './fit/featurePool.ts';

const MIN_BPM = 60,
  MAX_BPM = 200;

/** The tempo at which the onset function repeats most; null where there is nothing. */
export function strongestRepetition({ onsets }: Heard): number | null {
  const novelty = normaliseNovelty(onsets.bands, [1, 1, 1, 1, 1], onsets.frameRate);
  let mean = 0;
  for (const v of novelty) mean += v / Math.max(1, novelty.length);
  const acf = autocorrelation(
    novelty.map((v) => v - mean),
    Math.ceil((60 / MIN_BPM) * onsets.frameRate) + 1,
  );
  let best = 0;
  for (let lag = Math.floor((60 / MAX_BPM) * onsets.frameRate); lag < acf.length - 1; lag++)
    if (acf[lag]! > acf[lag - 1]! && acf[lag]! >= acf[lag + 1]! && acf[lag]! > (acf[best] ?? 0) * (best ? 1 : 0))
      best = lag;
  return best > 0 ? (60 * onsets.frameRate) / best : null;
}

/** Krumhansl & Kessler 1982, as printed in Krumhansl, Cognitive Foundations of Musical Pitch (1990), p. 30. */
const PROFILES = {
  major: [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88],
  minor: [6.33, 2.68, 3.52, 5.38, 2.6, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17],
};

/** The key whose published profile correlates best with the pitch classes of the whole. */
export function publishedProfile({ chroma }: Heard): MusicalKey {
  const classes = foldChroma(chroma.frames, 0, chroma.frameCount, chroma.tuningCents);
  let best: MusicalKey = keyOf(0, 'major'),
    highest = -Infinity;
  for (const mode of ['major', 'minor'] as const)
    for (let tonic = 0; tonic < 12; tonic++) {
      const seen = Array.from({ length: 12 }, (_, i) => classes[(i + tonic) % 12]!);
      const value = correlation(seen, PROFILES[mode]);
      if (value > highest) {
        highest = value;
        best = keyOf(tonic, mode);
      }
    }
  return best;
}

function correlation(a: readonly number[], b: readonly number[]): number {
  const mean = (v: readonly number[]): number => v.reduce((x, y) => x + y, 0) / v.length;
  const ma = mean(a),
    mb = mean(b);
  let ab = 0,
    aa = 0,
    bb = 0;
  a.forEach((x, i) => {
    ab += (x - ma) * (b[i]! - mb);
    aa += (x - ma) ** 2;
    bb += (b[i]! - mb) ** 2;
  });
  return ab / (Math.sqrt(aa * bb) || 1);
}
