import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compareFingerprints, fingerprintWords, ITEM_SECONDS, sameRecording } from './fingerprint.ts';

const words = (n: number, seed: number): Uint32Array => {
  let x = seed >>> 0;
  return Uint32Array.from({ length: n }, () => {
    x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
    return (x ^ (x >>> 13)) >>> 0;
  });
};
/** Turns about `share` of the bits over. */
const worn = (a: Uint32Array, share: number): Uint32Array => {
  const noise = words(a.length * 32, 99);
  return a.map((w, i) => {
    let out = w;
    for (let b = 0; b < 32; b++) if (noise[i * 32 + b]! / 2 ** 32 < share) out ^= 1 << b;
    return out >>> 0;
  });
};

describe('fingerprints', () => {
  test('of one recording agree at their offset, also when worn', () => {
    fc.assert(
      fc.property(fc.integer({ min: -80, max: 80 }), fc.double({ min: 0, max: 0.18, noNaN: true }), (offset, share) => {
        const whole = words(600, 7);
        const a = whole.subarray(Math.max(0, -offset)),
          b = worn(whole.subarray(Math.max(0, offset)), share);
        const found = compareFingerprints(a, b)!;
        expect(found.offsetSeconds).toBeCloseTo(offset * ITEM_SECONDS, 6);
        expect(Math.abs(found.equalBits - (1 - share))).toBeLessThan(0.03);
        expect(sameRecording(a, b)).toBe(true);
      }),
      { numRuns: 25 },
    );
  });

  test('of other sound do not, nor of one that is the same only for a quarter', () => {
    expect(sameRecording(words(600, 1), words(600, 2))).toBe(false);
    const mixed = words(600, 1);
    mixed.set(words(450, 5), 150);
    expect(sameRecording(words(600, 1), mixed)).toBe(false);
  });

  test('too short an overlap says nothing', () => {
    expect(compareFingerprints(words(40, 1), words(40, 1))).toBeNull();
    expect(sameRecording(new Uint32Array(0), words(600, 1))).toBe(false);
  });

  test('bytes are read as little-endian words, a rest is left out', () => {
    expect(Array.from(fingerprintWords(Uint8Array.from([1, 0, 0, 0, 0, 1, 0, 0, 9])))).toEqual([1, 256]);
  });
});
