import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fromShares } from '../analysis/waveform.ts';
import { seeded } from '../signal/random.ts';
import { compareSounds as compare, type Comparison } from './compare.ts';

const RATE = 100;
const compareSounds = (first: Uint8Array, second: Uint8Array): Comparison =>
  compare({ waveform: fromShares(first), fingerprint: null }, { waveform: fromShares(second), fingerprint: null });

interface Made {
  seconds: number;
  seed: number;
  /** Drums, that is the lowest band, are left out. */
  withoutLow?: boolean;
}

/** A waveform as of music: beats with accents of their own, chords that change, three bands. */
function made({ seconds, seed, withoutLow = false }: Made): Uint8Array {
  const random = seeded(seed);
  const beat = 0.4 + 0.2 * random();
  const out = new Uint8Array(seconds * RATE * 3);
  const accents = Array.from({ length: Math.ceil(seconds / beat) + 1 }, () => 0.3 + 0.7 * random());
  const levels = Array.from({ length: Math.ceil(seconds / 2) + 1 }, () => [40 + 60 * random(), 30 + 70 * random()]);
  for (let i = 0; i < seconds * RATE; i++) {
    const at = i / RATE,
      n = Math.floor(at / beat),
      into = at / beat - n;
    const [mid, high] = levels[Math.floor(at / 2)]!;
    out[i * 3] = withoutLow ? 6 : 200 * accents[n]! * Math.exp(-4 * into) + 6;
    out[i * 3 + 1] = mid! * (0.6 + 0.4 * accents[n]!) * (1 - 0.4 * into);
    out[i * 3 + 2] = high! * Math.exp(-6 * ((into * 2) % 1)) + 5;
  }
  return out;
}

const cut = (waveform: Uint8Array, from: number, to?: number): Uint8Array =>
  waveform.slice(Math.round(from * RATE) * 3, to === undefined ? undefined : Math.round(to * RATE) * 3);
const joined = (...parts: Uint8Array[]): Uint8Array => Uint8Array.from(parts.flatMap((p) => [...p]));
const louder = (waveform: Uint8Array, gain: number): Uint8Array =>
  waveform.map((v) => Math.min(255, Math.round(v * gain)));
const silence = (seconds: number): Uint8Array => new Uint8Array(seconds * RATE * 3);

const piece = made({ seconds: 90, seed: 5 });

describe('two recordings', () => {
  test('the same one at another gain and start, in whatever order they are given', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.3, max: 1.1, noNaN: true }),
        fc.integer({ min: 0, max: 950 }),
        fc.boolean(),
        (gain, start, turned) => {
          const other = louder(cut(piece, start / RATE), gain);
          const {
            relation,
            offsetSeconds,
            gain: db,
          } = turned ? compareSounds(other, piece) : compareSounds(piece, other);
          expect(relation).toBe('same recording');
          expect(offsetSeconds).toBeCloseTo((turned ? -start : start) / RATE, 1);
          expect(db * (turned ? -1 : 1)).toBeCloseTo(20 * Math.log10(gain), 0);
        },
      ),
      { numRuns: 12 },
    );
  });

  test('silence before and behind is none of it', () => {
    const { relation, offsetSeconds, lacks, has } = compareSounds(piece, joined(silence(14), piece, silence(20)));
    expect(relation).toBe('same recording');
    expect(offsetSeconds).toBeCloseTo(-14, 1);
    for (const seconds of [lacks.start, lacks.end, has.start, has.end]) expect(seconds).toBeLessThan(0.2);
  });

  test('one that lacks more than ten seconds is cut short, and it is said where', () => {
    const { relation, lacks, has } = compareSounds(piece, cut(piece, 12.4));
    expect(relation).toBe('cut short');
    expect(lacks.start).toBeCloseTo(12.4, 0);
    expect([lacks.end, has.start, has.end].every((s) => s < 0.2)).toBe(true);
    expect(compareSounds(cut(piece, 0, 75), piece)).toMatchObject({ relation: 'cut short' });
    expect(compareSounds(piece, cut(piece, 3, 84)).relation).toBe('same recording');
  });

  test('a jump inside is an edit', () => {
    const { relation, partsAt } = compareSounds(piece, joined(cut(piece, 0, 40), cut(piece, 61)));
    expect(relation).toBe('edit');
    expect(partsAt).not.toBeNull();
  });

  test('another ending, or no drums, is another version', () => {
    const late = compareSounds(piece, joined(cut(piece, 0, 62), cut(made({ seconds: 90, seed: 99 }), 62)));
    expect(late.relation).toBe('another version');
    expect(Math.abs(late.partsAt! - 62)).toBeLessThan(6);
    expect(compareSounds(piece, made({ seconds: 90, seed: 5, withoutLow: true })).relation).not.toBe('same recording');
  });

  test('others have nothing to do with each other; silence, nothing, and a moment of sound are no recording', () => {
    for (let seed = 20; seed < 32; seed++)
      expect(['different', 'another version']).toContain(compareSounds(piece, made({ seconds: 90, seed })).relation);
    for (const empty of [new Uint8Array(), silence(30), cut(piece, 30, 31)]) {
      expect(compareSounds(piece, empty).relation).toBe('different');
      expect(compareSounds(empty, piece).relation).toBe('different');
    }
  });
});
