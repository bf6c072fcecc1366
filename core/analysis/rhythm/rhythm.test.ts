import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { ONSET_BAND_COUNT, type Onsets } from './onsets.ts';
import { estimateTempo, normaliseNovelty } from './tempo.ts';
import { changesOf } from './tempoChanges.ts';
import { zoomedSpectrum } from './refinePeriod.ts';
import { followPeriod, periodsOf, strengthsOf, trackBeats } from './beatTracking.ts';

const RATE = 100;

/** Onset bands of a plain beat: kick on one and three, snare on two and four, hats on eighths. */
function played(beats: number[], seconds: number): Onsets {
  const bands = Array.from({ length: ONSET_BAND_COUNT }, () => new Float32Array(Math.round(seconds * RATE)));
  const hit = (time: number, band: number, height: number): void => {
    const i = Math.round(time * RATE);
    if (i >= 0 && i < bands[band]!.length) bands[band]![i]! += height;
  };
  beats.forEach((t, k) => {
    if (k % 2 === 0) {
      hit(t, 0, 3);
      hit(t, 1, 1);
    } else for (const b of [1, 2, 3, 4]) hit(t, b, 2);
    hit(t, 4, 0.6);
    const next = beats[k + 1];
    if (next !== undefined) hit((t + next) / 2, 4, 0.6);
  });
  return { bands, centroidHz: new Uint16Array(bands[0]!.length), frameRate: RATE, startSeconds: 0 };
}

const line = (bpm: number, seconds: number, first = 0.3): number[] =>
  Array.from({ length: Math.floor(((seconds - first) * bpm) / 60) }, (_, k) => first + (k * 60) / bpm);
const noveltyOf = (onsets: Onsets): Float32Array => normaliseNovelty(onsets.bands, [1.5, 0.8, 1, 1, 0.7], RATE);
const closest = (times: ArrayLike<number>, t: number): number =>
  Array.from(times).reduce((best, x) => Math.min(best, Math.abs(x - t)), Infinity);

describe('tempo', () => {
  test.each([72, 90, 104, 118, 126, 133, 150, 172])('a plain beat at %i repeats at it, its half or double', (bpm) => {
    const found = estimateTempo(played(line(bpm, 40), 40)).bpm!;
    expect([0.5, 1, 2].some((r) => Math.abs(found / bpm / r - 1) < 0.02)).toBe(true);
  });

  test('silence and four seconds of anything have no tempo', () => {
    expect(estimateTempo(played([], 30)).bpm).toBeNull();
    expect(estimateTempo(played(line(120, 3), 3)).bpm).toBeNull();
  });

  test('slow swells with noise between have the tempo of their tops', () => {
    const onsets = played([], 60);
    let state = 7;
    const chance = (): number => {
      state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
      return state / 2_147_483_648;
    };
    const bpm = 80;
    for (const band of onsets.bands)
      band.forEach((_, i) => {
        band[i] =
          0.15 * chance() +
          (chance() < 0.35 ? Math.exp(-0.5 * ((((((i / RATE) * bpm) / 60) % 1) - 0.5) / 0.1) ** 2) : 0);
      });
    const { bpm: found, pulse } = estimateTempo(onsets);
    expect(pulse).toBeGreaterThan(0.03);
    expect([0.5, 1, 2].some((r) => Math.abs(found! / bpm / r - 1) < 0.02)).toBe(true);
  });
});

const localPeriods = (novelty: Float32Array, period: number): Float64Array =>
  periodsOf(followPeriod(strengthsOf(novelty, RATE, period), 'wanders'), period);

describe('following a tempo that changes', () => {
  const changing = (() => {
    const beats = line(120, 30);
    let t = beats.at(-1)!;
    while (t < 59) beats.push((t += 60 / 129.6));
    return beats;
  })();

  test('the local period is 120 before and 129.6 after', () => {
    const periods = localPeriods(noveltyOf(played(changing, 60)), 60 / 124);
    expect(periods).toHaveLength(60);
    for (const s of [5, 10, 20]) expect(Math.abs(60 / periods[s]! / 120 - 1)).toBeLessThan(0.012);
    for (const s of [38, 45, 52]) expect(Math.abs(60 / periods[s]! / 129.6 - 1)).toBeLessThan(0.012);
  });

  test('every beat is met, and none is added', () => {
    const onsets = played(changing, 60),
      novelty = noveltyOf(onsets);
    const beats = trackBeats(novelty, RATE, localPeriods(novelty, 60 / 124));
    const inner = changing.filter((t) => t > 2 && t < 57);
    expect(inner.filter((t) => closest(beats, t) < 0.04).length / inner.length).toBeGreaterThan(0.97);
    expect(Math.abs(beats.length - changing.length)).toBeLessThanOrEqual(3);
  });

  test('a change for good is found where it is, also a large one, and none in a steady track or across three against four', () => {
    const changesIn = (beats: number[], about: number): number[] =>
      changesOf(strengthsOf(noveltyOf(played(beats, 60)), RATE, 60 / about)).changes;
    expect(changesIn(changing, 120)).toEqual([expect.closeTo(30, -0.7)]);
    const fast = line(120, 30);
    while (fast.at(-1)! < 59) fast.push(fast.at(-1)! + 60 / 150);
    expect(changesIn(fast, 120)).toEqual([expect.closeTo(30, -0.7)]);
    expect(changesIn(line(120, 59), 120)).toEqual([]);
    const crossed = line(120, 59);
    for (let t = 20; t < 40; t += 0.375) crossed.push(t);
    expect(
      changesIn(
        crossed.sort((a, b) => a - b),
        120,
      ),
    ).toEqual([]);
  });

  test('a drummer who wanders by two per cent is followed', () => {
    const beats = [0.4];
    while (beats.at(-1)! < 58) beats.push(beats.at(-1)! + 0.55 / (1 + 0.02 * Math.sin(beats.length / 15)));
    const onsets = played(beats, 60),
      novelty = noveltyOf(onsets);
    const found = trackBeats(novelty, RATE, localPeriods(novelty, 0.55));
    const inner = beats.slice(3, -3);
    expect(inner.filter((t) => closest(found, t) < 0.04).length / inner.length).toBeGreaterThan(0.97);
  });
});

test('a spectrum that is developed near an angle is the plain Fourier sum there', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 3000 }),
      fc.double({ min: 0.02, max: 0.6, noNaN: true }),
      fc.double({ min: -0.02, max: 0.02, noNaN: true }),
      (length, angle, off) => {
        const series = Float32Array.from(
          { length },
          (_, i) => Math.abs(Math.sin(i * i * 0.01)) + (i % 50 === 0 ? 2 : 0),
        );
        const near = angle * (1 + off);
        let re = 0,
          im = 0,
          total = 0;
        series.forEach((v, k) => {
          re += v * Math.cos(near * k);
          im += v * Math.sin(near * k);
          total += v;
        });
        expect(Math.abs(zoomedSpectrum(series, angle)(near) - Math.hypot(re, im)) / total).toBeLessThan(3e-4);
      },
    ),
  );
});
