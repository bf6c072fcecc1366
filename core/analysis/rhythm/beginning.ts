/**
 * The first attack of a track that stands out. Most music begins with the first beat of a bar, or so many beats before
 * it that this can be told.
 */
import { meanOrOne } from '../../signal/statistics.ts';
import type { Onsets } from './onsets.ts';

/** It is at least so strong, as a share of the usual attack. */
const SHARE = 0.5;

/** In seconds; null where nothing is heard. */
export function firstAttack({ bands, frameRate }: Onsets): number | null {
  const length = bands[0]!.length;
  const strength = new Float32Array(length);
  for (const band of bands) {
    const mean = meanOrOne(band);
    for (let i = 0; i < length; i++) strength[i]! += Math.log1p(band[i]! / mean);
  }
  const isPeak = (i: number): boolean =>
    (i === 0 || strength[i]! >= strength[i - 1]!) && (i === length - 1 || strength[i]! > strength[i + 1]!);
  // The usual attack: many faint ones, as of hiss and crackling, hardly count.
  let squares = 0,
    cubes = 0;
  for (let i = 0; i < length; i++)
    if (isPeak(i)) {
      squares += strength[i]! ** 2;
      cubes += strength[i]! ** 3;
    }
  if (squares === 0) return null;
  const least = (SHARE * cubes) / squares;
  for (let i = 0; i < length; i++) if (strength[i]! >= least && isPeak(i)) return i / frameRate;
  return null;
}
