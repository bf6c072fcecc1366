import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { AnalysisResult } from './engine.ts';
import { gridOf, tappedBpm } from './gridOf.ts';

const tempo = (over: Partial<AnalysisResult['tempo']> = {}): AnalysisResult['tempo'] => ({
  bpm: 120,
  confidence: 0.9,
  steady: true,
  candidates: [],
  beatsPerBar: 4,
  firstBeatSeconds: 0.25,
  firstDownbeatSeconds: 1.25,
  segments: [],
  driftingBeats: null,
  ...over,
});
const result = (over: Partial<AnalysisResult['tempo']> = {}) => ({ tempo: tempo(over), durationSeconds: 30 });
const drifting = Array.from({ length: 50 }, (_, i) => 0.25 + i * 0.5 + 0.02 * Math.sin(i / 6));
const close = (a: number[], b: number[]): void => {
  expect(a).toHaveLength(b.length);
  a.forEach((t, i) => expect(t).toBeCloseTo(b[i]!, 6));
};

describe('the grid as it stands', () => {
  test('nothing set by hand: as measured', () => {
    const grid = gridOf(result(), { bpm: 120, gridStartSeconds: 1.25, beatsPerBar: 4 });
    expect(grid).toMatchObject({ firstDownbeatSeconds: 1.25, beatsPerBar: 4, byHand: false });
    close(
      grid.beats,
      Array.from({ length: 60 }, (_, k) => 0.25 + k * 0.5),
    );
  });

  test('values from before these fields were there: as measured too', () => {
    expect(gridOf(result(), { bpm: 120 }).byHand).toBe(false);
  });

  test('half and double keep the first bar; a nudge moves every beat', () => {
    close(
      gridOf(result(), { bpm: 60, gridStartSeconds: 1.25 }).beats,
      Array.from({ length: 30 }, (_, k) => 0.25 + k),
    );
    expect(gridOf(result(), { bpm: 240, gridStartSeconds: 1.25 }).beats).toContain(1.25);
    const nudged = gridOf(result(), { bpm: 120, gridStartSeconds: 1.26 });
    expect(nudged.byHand).toBe(true);
    close(
      nudged.beats,
      Array.from({ length: 60 }, (_, k) => 0.26 + k * 0.5),
    );
  });

  test('a drifting grid keeps its drift at half, double and a nudge', () => {
    const r = result({ steady: false, driftingBeats: drifting, firstDownbeatSeconds: drifting[2]!, bpm: 120 });
    close(
      gridOf(r, { bpm: 60, gridStartSeconds: drifting[2]! }).beats,
      drifting.filter((_, i) => i % 2 === 0),
    );
    const doubled = gridOf(r, { bpm: 240, gridStartSeconds: drifting[2]! }).beats;
    expect(doubled).toHaveLength(99);
    close(
      doubled.filter((_, i) => i % 2 === 0),
      drifting,
    );
    close(
      gridOf(r, { bpm: 120, gridStartSeconds: drifting[2]! + 0.01 }).beats,
      drifting.map((t) => t + 0.01),
    );
  });

  test('another tempo altogether is a steady grid from the first bar', () => {
    const { beats } = gridOf(result({ steady: false, driftingBeats: drifting, firstDownbeatSeconds: drifting[2]! }), {
      bpm: 100,
      gridStartSeconds: 2,
    });
    close(
      beats,
      Array.from({ length: 50 }, (_, k) => 0.2 + k * 0.6),
    );
  });

  test('no tempo, no beats', () => {
    expect(gridOf(result(), { bpm: null })).toMatchObject({ beats: [], firstDownbeatSeconds: null, byHand: true });
    expect(gridOf(result({ bpm: null, firstDownbeatSeconds: null }), { bpm: null }).byHand).toBe(false);
  });

  test('whatever is set, beats rise, lie inside the track, and the first bar is one of them when it can be', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 20, max: 400, noNaN: true }),
        fc.double({ min: 0, max: 29, noNaN: true }),
        fc.boolean(),
        (bpm, first, drift) => {
          const { beats } = gridOf(
            drift ? result({ steady: false, driftingBeats: drifting, firstDownbeatSeconds: drifting[2]! }) : result(),
            { bpm, gridStartSeconds: first },
          );
          for (let i = 0; i < beats.length; i++) {
            expect(beats[i]!).toBeGreaterThanOrEqual(0);
            expect(beats[i]!).toBeLessThan(30);
            if (i) expect(beats[i]!).toBeGreaterThan(beats[i - 1]!);
          }
          expect(beats.reduce((best, t) => Math.min(best, Math.abs(t - first)), Infinity)).toBeLessThan(
            drift ? 3 : 1e-6,
          );
        },
      ),
    );
  });
});

describe('tapping', () => {
  test('needs four taps; a pause begins anew', () => {
    expect(tappedBpm([0, 0.5, 1])).toBeNull();
    expect(tappedBpm([0, 0.5, 1, 1.5])).toBeCloseTo(120, 6);
    expect(tappedBpm([0, 0.5, 1, 1.5, 6, 6.4, 6.8])).toBeNull();
    expect(tappedBpm([0, 0.5, 1, 1.5, 6, 6.4, 6.8, 7.2])).toBeCloseTo(150, 6);
  });

  test('uneven taps even out', () => {
    const taps = Array.from({ length: 16 }, (_, i) => i * 0.5 + (i % 3 === 0 ? 0.02 : -0.01));
    expect(Math.abs(tappedBpm(taps)! - 120)).toBeLessThan(0.6);
  });
});
