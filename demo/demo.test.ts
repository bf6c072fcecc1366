import { describe, expect, test } from '@jest/globals';
import { beatsOf, createAnalysis } from '@early-set/core/analysis/engine';
import { fifthsApart } from '@early-set/core/fields/keys';
import { interleave } from './encode.ts';
import { madeUpTrack } from './many.ts';
import { PLAN } from './scenario/plan.ts';
import { STATION } from './scenario/station.ts';
import { compose } from './synth/compose.ts';
import { seeded, seedOf } from './synth/random.ts';
import { render } from './synth/render.ts';
import { STYLES, type Style, type StyleName } from './synth/styles.ts';
import { chime, speak } from './synth/voice.ts';

describe('the plan', () => {
  test('has at least 80 tracks in at least 10 styles and all 24 keys, every path once', () => {
    expect(PLAN.length).toBeGreaterThanOrEqual(80);
    expect(new Set(PLAN.map((p) => p.style)).size).toBeGreaterThanOrEqual(10);
    expect(new Set(PLAN.map((p) => p.key)).size).toBe(24);
    expect(new Set(PLAN.map((p) => p.path.toLowerCase())).size).toBe(PLAN.length);
    expect(PLAN.filter((p) => !Number.isInteger(p.bpm)).length).toBeGreaterThan(PLAN.length / 2);
    for (const p of PLAN) {
      expect(p.seconds).toBeGreaterThanOrEqual(45);
      expect(p.seconds).toBeLessThanOrEqual(150);
    }
  });
});

const piece = (style: StyleName, bpm: number, tonic: number, mode: 'major' | 'minor', seconds = 32) => {
  const composed = compose({ style: STYLES[style] as Style, bpm, tonic, mode, seconds, leadIn: 0.2 }, seeded(11));
  return { composed, sound: render(composed, STYLES[style], -11, seeded(12)) };
};

test('the same seed makes the same sound', () => {
  const a = piece('dembow', 96, 2, 'minor', 10).sound,
    b = piece('dembow', 96, 2, 'minor', 10).sound;
  expect(Buffer.from(a.left.buffer).equals(Buffer.from(b.left.buffer))).toBe(true);
  expect(Buffer.from(a.left.buffer).equals(Buffer.from(a.right.buffer))).toBe(false);
});

test.each<[StyleName, number, number, 'major' | 'minor', string]>([
  ['house', 124.3, 0, 'minor', 'C minor'],
  ['drumAndBass', 174, 9, 'major', 'A major'],
  ['waltz', 150, 7, 'major', 'G major'],
])('a %s at %d is measured as what it is', (style, bpm, tonic, mode, key) => {
  const { composed, sound } = piece(style, bpm, tonic, mode);
  const analysis = createAnalysis({ sampleRate: 44100, channels: 2 });
  analysis.push(interleave(sound));
  const result = analysis.finish();
  expect(Math.abs(result.tempo.bpm! - bpm)).toBeLessThan(0.05);
  expect(result.tempo.steady).toBe(true);
  expect(result.tempo.beatsPerBar).toBe(STYLES[style].beatsPerBar);
  // The key, or its relative: telling those two apart is counted in the accuracy benchmark.
  expect(fifthsApart(result.key.key!, key)).toBe(0);
  expect(Math.abs(result.loudness.integratedLufs! + 11)).toBeLessThan(0.6);
  const errors = beatsOf(result)
    .filter((t) => t < composed.beats.at(-1)!)
    .map((t) => Math.min(...composed.beats.map((b) => Math.abs(b - t))))
    .sort((a, b) => a - b);
  expect(errors[Math.floor(errors.length / 2)]).toBeLessThan(0.008);
});

test('a drummer who drifts is followed, not forced into a grid', () => {
  const { composed, sound } = piece('disco', 116, 4, 'major');
  const analysis = createAnalysis({ sampleRate: 44100, channels: 2 });
  analysis.push(interleave(sound));
  const { tempo } = analysis.finish();
  expect(tempo.steady).toBe(false);
  const hits = composed.beats.filter((b) => tempo.driftingBeats!.some((t) => Math.abs(t - b) < 0.07)).length;
  expect(hits / composed.beats.length).toBeGreaterThan(0.88);
});

describe('what the station says and plays', () => {
  const level = (sound: Float32Array, from: number, to: number): number => {
    const part = sound.subarray(from * 44100, to * 44100);
    return Math.sqrt(part.reduce((sum, x) => sum + x * x, 0) / part.length);
  };
  test('is as long as it is said to be, the same each time, and within full scale', () => {
    for (const { kind, title } of STATION) {
      const make = (seconds: number) => (kind === 'spoken' ? speak : chime)(seconds, seeded(seedOf(title)));
      const { left, right } = make(2);
      expect([left.length, right.length]).toEqual([2 * 44100, 2 * 44100]);
      expect(Buffer.from(left.buffer).equals(Buffer.from(make(2).left.buffer))).toBe(true);
      expect(left.every((x) => Math.abs(x) <= 0.7001)).toBe(true);
      expect(level(left, 0, 2)).toBeGreaterThan(0.01);
    }
  });
  test('speech has pauses between sentences, a chime fades', () => {
    const { left } = speak(12, seeded(3));
    const parts = Array.from({ length: 110 }, (_, i) => level(left, i / 10, (i + 1) / 10));
    expect(parts.filter((p) => p < 0.001).length).toBeGreaterThan(3);
    expect(parts.filter((p) => p > 0.02).length).toBeGreaterThan(60);
    const rings = chime(6, seeded(3)).left;
    expect(level(rings, 5.5, 6)).toBeLessThan(level(rings, 1, 3) / 3);
  });
});

test('made-up tracks are plausible and have gaps now and then', () => {
  const random = seeded(5);
  const tracks = Array.from({ length: 2000 }, (_, i) => madeUpTrack(i, random));
  expect(new Set(tracks.map((t) => t.path)).size).toBe(2000);
  expect(
    tracks.some((t) => t.genre === null) &&
      tracks.some((t) => t.artist === null) &&
      tracks.some((t) => t.fileState === 'missing'),
  ).toBe(true);
});
