/** Tracks laid over each other: their beats meet, whatever their tempi and wherever they begin. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { planMix, speedsOf, type MixSide } from './mix.ts';

/** A steady track. @param first its first beat; @param bar which of its beats begins a bar */
function steady(bpm: number, first: number, seconds = 240, bar = 0): MixSide {
  const beats = Array.from({ length: Math.floor(((seconds - first) * bpm) / 60) }, (_, i) => first + (i * 60) / bpm);
  return { from: 0, to: seconds, grid: { beats, firstDownbeatSeconds: beats[bar]!, beatsPerBar: 4 } };
}

describe('two tracks laid over each other', () => {
  test('the second takes the tempo of the first, and a bar begins with a bar', () => {
    const a = steady(124, 0.31, 240, 2),
      b = steady(126.3, 0.9, 240, 1);
    const mix = planMix(a, b, { over: 30, rate: 1, meet: 'bar' });
    expect(mix.matched).toBe(true);
    expect(mix.second.rate).toBeCloseTo(124 / 126.3, 6);
    expect(mix.apart).toBeLessThan(1e-6);
    const bar = (4 * 60) / 124;
    const sets = mix.second.at + (b.grid.firstDownbeatSeconds! - b.from) / mix.second.rate;
    const into = (mix.first.from + sets - a.grid.firstDownbeatSeconds!) / bar;
    expect(Math.abs(into - Math.round(into))).toBeLessThan(1e-6);
    expect(Math.abs(mix.fade.to - mix.fade.from - 30)).toBeLessThan(bar / 2 + 1e-6);
  });
  test('half and double are one tempo; tempi far apart are left', () => {
    expect(planMix(steady(87, 0.2), steady(175, 0.1), { over: 20, rate: 1, meet: 'bar' })).toMatchObject({
      matched: true,
    });
    expect(planMix(steady(87, 0.2), steady(110, 0.1), { over: 20, rate: 1, meet: 'bar' })).toMatchObject({
      matched: false,
      apart: null,
      second: { rate: 1 },
    });
  });
  test('the first may be played at another tempo than its own', () => {
    const mix = planMix(steady(124, 0.31), steady(126, 0.9), { over: 30, rate: 1.02, meet: 'bar' });
    expect(mix.second.rate).toBeCloseTo((124 * 1.02) / 126, 6);
    expect(mix.beat).toBeCloseTo(60 / 124 / 1.02, 6);
    expect(mix.apart).toBeLessThan(1e-6);
  });
  test('said to the beat, it sets in on the beat that was meant', () => {
    const [a, b] = [steady(124, 0.31), steady(126.3, 0.9)],
      beat = 60 / 124;
    const over = (beats: number): number => {
      const { fade } = planMix(a, b, { over: beats * beat, rate: 1, meet: 'beat' });
      return fade.to - fade.from;
    };
    expect(over(60) - over(59)).toBeCloseTo(beat, 6);
    expect(over(60) - over(57)).toBeCloseTo(3 * beat, 6);
  });
  test('without beats, and where nothing lies over, one follows the other', () => {
    const silent: MixSide = { from: 2, to: 60, grid: { beats: [], firstDownbeatSeconds: null, beatsPerBar: 4 } };
    const mix = planMix(silent, silent, { over: 0, rate: 1, meet: 'bar' });
    expect(mix).toMatchObject({ matched: false, beat: null, fade: { from: 30, to: 30 }, seconds: 60 });
  });
  test('what is heard lies inside both files, and beats meet within a millisecond', () => {
    const side = fc
      .tuple(fc.double({ min: 85, max: 100, noNaN: true }), fc.double({ min: 0, max: 0.6, noNaN: true }), fc.nat(3))
      .map(([bpm, first, bar]) => steady(bpm, first, 180, bar));
    fc.assert(
      fc.property(side, side, fc.double({ min: 0, max: 60, noNaN: true }), (a, b, over) => {
        const mix = planMix(a, b, { over, rate: 1, meet: 'bar' });
        expect(mix.first.from).toBeGreaterThanOrEqual(a.from);
        expect(mix.second.to).toBeLessThanOrEqual(b.to);
        expect(mix.second.at).toBeGreaterThanOrEqual(0);
        expect(mix.second.at).toBeLessThanOrEqual(mix.fade.to);
        if (mix.matched && mix.apart !== null) expect(mix.apart).toBeLessThan(0.001);
      }),
    );
  });
  test('back to its own tempo it goes from beat to beat', () => {
    const mix = planMix(steady(124, 0.31), steady(126.3, 0.9), { over: 15, rate: 1, meet: 'bar' });
    const speeds = speedsOf(mix, 8);
    expect(speeds[0]).toEqual({ at: 0, rate: mix.second.rate });
    expect(speeds.at(-1)!.rate).toBeCloseTo(1, 9);
    expect(speeds.every((s, i) => i === 0 || s.at > speeds[i - 1]!.at)).toBe(true);
    expect(speedsOf(mix, null)).toHaveLength(1);
  });
});
