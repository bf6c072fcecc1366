import { describe, expect, test } from '@jest/globals';
import { seeded } from '../../signal/random.ts';
import { firstAttack } from './beginning.ts';
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

describe('the first attack of a track', () => {
  test('is the first that stands out of the hiss before it', () => {
    expect(firstAttack(onsets(45, 0, beats))).toBeCloseTo(1.27, 6);
    expect(firstAttack(onsets(45, 0.03, beats))).toBeCloseTo(1.27, 6);
  });
  test('may be at the very start', () => expect(firstAttack(onsets(10, 0, [0, 1, 2, 3]))).toBe(0));
  test('is none in silence', () => {
    expect(firstAttack(onsets(10, 0, []))).toBeNull();
    expect(firstAttack(onsets(0, 0, []))).toBeNull();
  });
});
