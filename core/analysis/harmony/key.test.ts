import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { ALL_KEYS, keyOf, keyParts } from '../../fields/keys.ts';
import { FINE_BINS, FINE_UNITS, foldChroma, type Chroma } from './chroma.ts';
import { estimateKey, pitchKnown, seenFrom, type Bars } from './key.ts';

const FRAME_RATE = 5;
const NO_BARS: Bars = { times: [], change: [], begins: null };

/** Chords of one bar each (2 s), as pitch classes from C with the root first, at a tuning. */
function chordsPlayed(chords: number[][], repeats: number, cents = 0): { chroma: Chroma; bars: Bars } {
  const perBar = 2 * FRAME_RATE;
  const frameCount = chords.length * repeats * perBar;
  const frames = new Uint16Array(frameCount * FINE_BINS),
    bass = new Uint16Array(frameCount * FINE_BINS);
  const put = (into: Uint16Array, frame: number, pitchClass: number, weight: number): void => {
    const at = ((pitchClass + 3) % 12) * 5 + cents / 20; // A is bin 0
    const low = Math.floor(at),
      part = at - low;
    into[frame * FINE_BINS + ((low + FINE_BINS) % FINE_BINS)]! += weight * (1 - part);
    into[frame * FINE_BINS + ((low + 1 + FINE_BINS) % FINE_BINS)]! += weight * part;
  };
  for (let f = 0; f < frameCount; f++) {
    const chord = chords[Math.floor(f / perBar) % chords.length]!;
    chord.forEach((pitch) => put(frames, f, pitch % 12, FINE_UNITS));
    put(bass, f, chord[0]! % 12, FINE_UNITS);
  }
  const count = chords.length * repeats;
  return {
    chroma: { frames, bass, frameCount, frameRate: FRAME_RATE, tuningCents: cents },
    bars: {
      times: Array.from({ length: count }, (_, i) => i * 2),
      change: Array.from({ length: count }, (_, i) => (i % 4 === 0 ? 1 : 0)),
      begins: null,
    },
  };
}

const triad = (root: number, third: number): number[] => [root, root + third, root + 7];
const MAJOR = [triad(0, 4), triad(5, 4), triad(7, 4), triad(0, 4)];
const MINOR = [triad(0, 3), triad(5, 3), triad(7, 4), triad(0, 3)];
const up = (chords: number[][], by: number): number[][] => chords.map((c) => c.map((p) => (p + by) % 12));

describe('key', () => {
  test.each(Array.from({ length: 12 }, (_, i) => i))(
    'cadences in major and minor on tonic %i are found, at any tuning',
    (tonic) => {
      for (const cents of [-40, 0, 35]) {
        const major = chordsPlayed(up(MAJOR, tonic), 5, cents),
          minor = chordsPlayed(up(MINOR, tonic), 5, cents);
        expect(estimateKey(major.chroma, major.bars).key).toBe(keyOf(tonic, 'major'));
        expect(estimateKey(minor.chroma, minor.bars).key).toBe(keyOf(tonic, 'minor'));
      }
    },
  );

  test('transposing the music transposes every candidate and leaves its weight', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(11), fc.constantFrom(3, 4)), { minLength: 1, maxLength: 6 }),
        fc.nat(11),
        (chords, by) => {
          const here = chordsPlayed(
              chords.map(([r, t]) => triad(r, t)),
              3,
            ),
            there = chordsPlayed(
              up(
                chords.map(([r, t]) => triad(r, t)),
                by,
              ),
              3,
            );
          const a = estimateKey(here.chroma, here.bars),
            b = estimateKey(there.chroma, there.bars);
          const moved = new Map(b.candidates.map((c) => [c.key, c.weight]));
          const { tonic, mode } = keyParts(a.candidates[0]!.key)!;
          expect(moved.get(keyOf((tonic + by) % 12, mode))).toBeCloseTo(a.candidates[0]!.weight, 4);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('silence has no key; weights of the candidates sum to at most 1', () => {
    const { chroma } = chordsPlayed([[]], 6);
    chroma.bass.fill(0);
    expect(estimateKey(chroma, NO_BARS)).toMatchObject({ key: null, confidence: 0, candidates: [] });
    const { chroma: one } = chordsPlayed(MAJOR, 4);
    const { candidates, overTime } = estimateKey(one, NO_BARS);
    expect(candidates).toHaveLength(5);
    expect(candidates.reduce((s, c) => s + c.weight, 0)).toBeLessThanOrEqual(1 + 1e-9);
    for (const key of overTime) expect(ALL_KEYS).toContain(key);
  });

  test('seen from each tonic in turn, a profile comes round', () => {
    const { chroma, bars } = chordsPlayed(MINOR, 4);
    const known = pitchKnown(chroma, 0, chroma.frameCount, bars);
    let turned = known;
    for (let i = 0; i < 12; i++) turned = seenFrom(turned, 1);
    expect(turned).toEqual(known);
    expect(seenFrom(known, 0)).toEqual(known);
  });

  test('phrases begin where the density changes most, or else with the music', () => {
    const roots = [0, 2, 4, 5];
    const { chroma, bars } = chordsPlayed(
      roots.map((root) => [root]),
      4,
    );
    const phraseRoot = (own: Partial<Bars>): number => {
      const known = pitchKnown(chroma, 0, chroma.frameCount, { ...bars, ...own }).subarray(24, 36);
      return known.indexOf(Math.max(...known));
    };
    const change = new Float64Array(16),
      begins = { bar: 1, sure: 1 };
    expect([phraseRoot({}), phraseRoot({ change, begins })]).toEqual([0, 2]);
    // What changes clearly counts for more than what is expected, and that for more than chance.
    expect(phraseRoot({ begins })).toBe(0);
    expect(phraseRoot({ change: change.map((_, i) => (i % 4 === 3 ? 0.2 : 0.1)), begins })).toBe(2);
    expect(phraseRoot({ change: change.map((_, i) => (i % 4 === 3 ? 0.2 : 0.1)), begins: null })).toBe(5);
  });

  test('folding puts a note between two semitones into both', () => {
    const { chroma } = chordsPlayed([[9]], 1, 0);
    const exact = foldChroma(chroma.frames, 0, 4, 0),
      off = foldChroma(chroma.frames, 0, 4, 50);
    expect(exact.indexOf(Math.max(...exact))).toBe(9);
    expect(off[9]! + off[8]!).toBeGreaterThan(0.9 * off.reduce((a, b) => a + b, 0));
  });
});
