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
  // The usual attack: many faint ones, as of hiss and crackling, hardly count.
  let squares = 0,
    cubes = 0;
  findPeak(bands, (strength) => {
    squares += strength ** 2;
    cubes += strength ** 3;
    return false;
  });
  if (squares === 0) return null;
  const least = (SHARE * cubes) / squares;
  const first = findPeak(bands, (strength) => strength >= least);
  return first === null ? null : first / frameRate;
}

/**
 * The first frame at which attacks, all bands together, are stronger than before and after, and that is wanted. Nothing
 * is kept: tracks may be hours long.
 */
function findPeak(bands: readonly Float32Array[], wanted: (strength: number) => boolean): number | null {
  const means = bands.map(meanOrOne);
  const length = bands[0]!.length;
  const strengthAt = (i: number): number => {
    let sum = 0;
    for (let b = 0; i < length && b < bands.length; b++) sum += Math.log1p(bands[b]![i]! / means[b]!);
    return sum;
  };
  let before = 0,
    strength = strengthAt(0);
  for (let at = 0; at < length; at++) {
    const after = strengthAt(at + 1);
    if (strength >= before && strength > after && wanted(strength)) return at;
    before = strength;
    strength = after;
  }
  return null;
}
