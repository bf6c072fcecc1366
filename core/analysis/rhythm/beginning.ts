/**
 * The first attack of a track that stands out. Most music begins with the first beat of a bar, or so many beats before
 * it that this can be told; a recording that was cut within its music does not. Where silence comes before the attack,
 * nothing was cut off.
 */
import { meanOrOne } from '../../signal/statistics.ts';
import type { Onsets } from './onsets.ts';

export interface FirstAttack {
  seconds: number;
  /** What comes before it: silence, nothing (the recording begins with it), or sound. */
  after: (typeof BEFORE_FIRST)[number];
}
export const BEFORE_FIRST = ['silence', 'nothing', 'sound'] as const;

/** It is at least so strong, as a share of the usual attack. */
const SHARE = 0.5;
/** So early the recording begins with it, in seconds. */
const AT_ONCE = 0.06;
/** It is silent before it where that is so much of what is heard on average. */
const SILENT = 0.04;
/** Frames at the start that say nothing, since there is nothing before them; frames of an attack before its top. */
const OPENING = 3,
  RISING = 3;

/** Null where nothing is heard. */
export function firstAttack({ bands, frameRate }: Onsets): FirstAttack | null {
  const means = bands.map(meanOrOne);
  const length = bands[0]!.length;
  /** How strong an attack is, all bands together; nothing is kept, as tracks may be hours long. */
  const strengthAt = (i: number): number => {
    let sum = 0;
    for (let b = 0; i < length && b < bands.length; b++) sum += Math.log1p(bands[b]![i]! / means[b]!);
    return sum;
  };
  // The usual attack: many faint ones, as of hiss and crackling, hardly count.
  let all = 0,
    squares = 0,
    cubes = 0;
  eachFrame(length, strengthAt, (strength, isPeak) => {
    all += strength;
    if (isPeak) squares += strength ** 2;
    if (isPeak) cubes += strength ** 3;
    return false;
  });
  if (squares === 0) return null;
  const least = (SHARE * cubes) / squares;
  const first = eachFrame(length, strengthAt, (strength, isPeak) => isPeak && strength >= least);
  if (first === null) return null;
  const seconds = first / frameRate;
  if (seconds < AT_ONCE) return { seconds, after: 'nothing' };
  let before = 0;
  for (let at = OPENING; at < first - RISING; at++) before += strengthAt(at);
  const silent = before / first <= (SILENT * all) / length;
  return { seconds, after: silent ? 'silence' : 'sound' };
}

/** How sure it is that nothing was cut off before the first attack. */
const SURE: Record<FirstAttack['after'], number> = { silence: 1, nothing: 0.3, sound: 0 };

/** The bar that begins closest to the first attack; null without bars or attacks. @param bars seconds */
export function barBegun(bars: ArrayLike<number>, first: FirstAttack | null): { bar: number; sure: number } | null {
  if (first === null || bars.length === 0) return null;
  let nearest = 0;
  for (let i = 1; i < bars.length && bars[i]! < first.seconds; i++) nearest = i;
  const next = nearest + 1;
  const isNext = next < bars.length && bars[next]! - first.seconds < first.seconds - bars[nearest]!;
  return { bar: isNext ? next : nearest, sure: SURE[first.after] };
}

/** The first frame that is found, of all with their strengths; peaks are stronger than before and after. */
function eachFrame(
  length: number,
  strengthAt: (i: number) => number,
  found: (strength: number, isPeak: boolean) => boolean,
): number | null {
  let before = 0,
    strength = strengthAt(0);
  for (let at = 0; at < length; at++) {
    const after = strengthAt(at + 1);
    if (found(strength, strength >= before && strength > after)) return at;
    before = strength;
    strength = after;
  }
  return null;
}
