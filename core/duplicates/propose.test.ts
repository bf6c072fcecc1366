import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../signal/random.ts';
import { proposals } from './propose.ts';

const random = seeded(4);
const print = (length = 900): Uint32Array => Uint32Array.from({ length }, () => Math.floor(random() * 2 ** 32));
/** Each bit of a word is turned with this probability. */
const worn = (words: Uint32Array, errors: number): Uint32Array =>
  words.map((word) => {
    let out = word;
    for (let bit = 0; bit < 32; bit++) if (random() < errors) out ^= 1 << bit;
    return out >>> 0;
  });

const prints = Array.from({ length: 400 }, () => print());
const index = proposals();
for (const words of prints) index.add(words);

test('a recording that is encoded anew and begins later is proposed first', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 399 }), fc.integer({ min: 0, max: 80 }), (which, later) => {
      expect(index.near(worn(prints[which]!.subarray(later), 0.03), 3)[0]).toBe(which);
    }),
  );
});

test('others are not proposed, nor is what everybody has', () => {
  for (let i = 0; i < 40; i++) expect(index.near(print(), 5)).toEqual([]);
  const quiet = proposals();
  const silence = new Uint32Array(900).fill(627_964_279);
  for (let i = 0; i < 300; i++) quiet.add(silence);
  expect(quiet.near(silence, 5)).toEqual([]);
});

test('it grows, and knows what was added last', () => {
  const growing = proposals();
  for (let i = 0; i < 1200; i++) growing.add(print(700));
  const last = print();
  expect(growing.add(last)).toBe(1200);
  expect(growing.near(last, 1)).toEqual([1200]);
});
