import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../signal/random.ts';
import { BEFORE_FIRST, barBegun, firstAttack } from './beginning.ts';
import { ONSET_BAND_COUNT, type Onsets } from './onsets.ts';

const RATE = 100;
function onsets(seconds: number, hiss: number, at: readonly number[]): Onsets {
  const random = seeded(2);
  const bands = Array.from({ length: ONSET_BAND_COUNT }, () =>
    Float32Array.from({ length: seconds * RATE }, () => hiss * random()),
  );
  for (const time of at) for (const band of bands) band[Math.round(time * RATE)]! += 1;
  return { bands, centroidHz: new Uint16Array(0), frameRate: RATE, startSeconds: 0 };
}
const beats = Array.from({ length: 80 }, (_, k) => 1.27 + k / 2);

const first = (...at: Parameters<typeof onsets>) => firstAttack(onsets(...at));

describe('the first attack of a track', () => {
  test('is the first that stands out, out of silence or of hiss', () => {
    expect(first(45, 0, beats)).toEqual({ seconds: 1.27, after: 'silence' });
    expect(first(45, 0.0001, beats)).toEqual({ seconds: 1.27, after: 'silence' });
    expect(first(45, 0.03, beats)).toEqual({ seconds: 1.27, after: 'sound' });
  });
  test('may be at the very start, with nothing before it', () => {
    expect(first(10, 0, [0, 1, 2, 3])).toEqual({ seconds: 0, after: 'nothing' });
    expect(first(10, 0.03, [0.02, 1, 2, 3])).toEqual({ seconds: 0.02, after: 'nothing' });
  });
  test('is none in silence', () => {
    expect(first(10, 0, [])).toBeNull();
    expect(first(0, 0, [])).toBeNull();
  });
});

test('the bar that music begins with is the nearest to its first attack, less sure where something may be cut off', () => {
  const bars = [1, 3, 5, 7];
  const begun = (seconds: number) => barBegun(bars, { seconds, after: 'silence' })?.bar;
  // In a bar, a little early or late, a pick-up before the second, before all and after all.
  expect([begun(3), begun(2.8), begun(3.4), begun(2.2), begun(0), begun(30)]).toEqual([1, 1, 1, 1, 0, 3]);
  const sure = BEFORE_FIRST.map((after) => barBegun(bars, { seconds: 3, after })!.sure);
  expect(sure).toEqual([1, expect.any(Number), 0]);
  expect(sure[1]).toBeLessThan(0.5);
  expect([barBegun(bars, null), barBegun([], { seconds: 1, after: 'silence' })]).toEqual([null, null]);
});
