import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fromShares, levelByte, BYTE_LEVELS, QUIETEST_DB } from './waveform.ts';

test('a level comes back from its byte within 0.15 dB, however quiet', () => {
  fc.assert(
    fc.property(fc.double({ min: QUIETEST_DB, max: 0, noNaN: true }), (db) => {
      expect(Math.abs(20 * Math.log10(BYTE_LEVELS[levelByte(10 ** (db / 20))]!) - db)).toBeLessThanOrEqual(0.150001);
    }),
  );
});

test('nothing is nothing, what is quieter than all bytes too; what clips is full scale', () => {
  expect([0, 1e-5, 1, 1.4].map(levelByte)).toEqual([0, 0, 255, 255]);
  expect([BYTE_LEVELS[0], BYTE_LEVELS[255]]).toEqual([0, 1]);
});

test('what an earlier engine stored is at the same levels', () => {
  const shares = Uint8Array.from({ length: 256 }, (_, i) => i);
  fromShares(shares).forEach((byte, share) => expect(BYTE_LEVELS[byte]! * 255 - share).toBeCloseTo(0, -1));
  expect([...fromShares(Uint8Array.of(0, 1, 255))]).toEqual([0, levelByte(1 / 255), 255]);
});
