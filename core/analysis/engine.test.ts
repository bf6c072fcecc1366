import { describe, expect, test } from '@jest/globals';
import { seeded } from '../signal/random.ts';
import { BYTE_LEVELS } from './waveform.ts';
import { beatsOf, createAnalysis, type AnalysisResult } from './engine.ts';

function analyse(samples: Float32Array, sampleRate: number, channels = 1): AnalysisResult {
  const analysis = createAnalysis({ sampleRate, channels });
  for (let at = 0; at < samples.length; at += 30_000 * channels)
    analysis.push(samples.subarray(at, at + 30_000 * channels));
  return analysis.finish();
}

/** Short noise bursts with a low thump at a steady tempo. */
function clicks(bpm: number, seconds: number, rate: number, first = 0.25): { samples: Float32Array; beats: number[] } {
  const samples = new Float32Array(Math.round(seconds * rate));
  const beats: number[] = [];
  for (let t = first; t < seconds - 0.3; t += 60 / bpm) {
    beats.push(t);
    const at = Math.round(t * rate);
    for (let i = 0; i < 0.12 * rate; i++) {
      const e = Math.exp(-i / (0.02 * rate));
      samples[at + i]! +=
        0.6 * e * Math.sin((2 * Math.PI * 62 * i) / rate) + 0.25 * e * e * e * (((i * 7919) % 97) / 48 - 1);
    }
  }
  return { samples, beats };
}

describe('a steady click', () => {
  test.each([
    [97.3, 44100],
    [120, 48000],
    [128.5, 22050],
  ])('at %d BPM and %d Hz: tempo to 0.02 BPM, beats to 8 ms', (bpm, rate) => {
    const { samples, beats } = clicks(bpm, 40, rate);
    const result = analyse(samples, rate);
    expect(result.tempo.steady).toBe(true);
    expect(Math.abs(result.tempo.bpm! - bpm)).toBeLessThan(0.02);
    const errors = beats.map((b) => Math.min(...beatsOf(result).map((t) => Math.abs(t - b)))).sort((a, b) => a - b);
    expect(errors[Math.floor(errors.length / 2)]).toBeLessThan(0.008);
  });
});

test('what else the tempo may be is exactly a part or a multiple of it, and nothing is there twice', () => {
  const { tempo } = analyse(clicks(121, 40, 22050).samples, 22050);
  expect(tempo.candidates.length).toBeGreaterThan(2);
  expect(tempo.candidates[0]!.bpm).toBe(tempo.bpm);
  const ratios = tempo.candidates.map((c) => c.bpm / tempo.bpm!);
  const simple = [1, 2, 3, 4].flatMap((a) => [1, 2, 3, 4, 6, 8, 9].map((b) => a / b)).flatMap((r) => [r, 1 / r]);
  for (const ratio of ratios) expect(Math.min(...simple.map((s) => Math.abs(ratio / s - 1)))).toBeLessThan(1e-9);
  expect(new Set(ratios.map((r) => r.toFixed(6))).size).toBe(ratios.length);
  expect(tempo.candidates.reduce((sum, c) => sum + c.weight, 0)).toBeLessThanOrEqual(1 + 1e-9);
});

test('bars stay where they are in a recording that was cut within one', () => {
  const rate = 22050,
    beat = 60 / 112,
    start = 0.4;
  const samples = new Float32Array(40 * rate);
  const add = (from: number, seconds: number, wave: (t: number) => number): void => {
    const at = Math.round(from * rate);
    for (let i = 0; i < seconds * rate && at + i < samples.length; i++) samples[at + i]! += wave(i / rate);
  };
  const random = seeded(6);
  for (let k = 0; start + k * beat < 39; k++) {
    const at = start + k * beat;
    if (k % 2 === 0) add(at, 0.2, (t) => 0.6 * Math.exp(-t / 0.05) * Math.sin(2 * Math.PI * 58 * t));
    else add(at, 0.15, (t) => 0.5 * Math.exp(-t / 0.03) * (2 * random() - 1));
    for (const half of [0, 0.5])
      add(at + half * beat, 0.03, (t) => 0.12 * Math.exp(-t / 0.006) * Math.sin(2 * Math.PI * 8000 * t + random()));
    // A chord a bar, its bass on the first beat.
    if (k % 4 > 0) continue;
    const root = 110 * 2 ** ([0, 5, 7, 3][(k / 4) % 4]! / 12);
    for (const [ratio, level] of [
      [1, 0.2],
      [3, 0.06],
      [2.4, 0.06],
    ] as const)
      add(at, 4 * beat, (t) => level * Math.exp(-t / 1.2) * Math.sin(2 * Math.PI * root * ratio * t));
  }
  for (const cut of [0, 9.1, 13.7]) {
    const { tempo } = analyse(samples.subarray(Math.round(cut * rate)), rate);
    expect(tempo.bpm).toBeCloseTo(112, 1);
    expect(tempo.beatsPerBar).toBe(4);
    const bars = (tempo.firstDownbeatSeconds! + cut - start) / (4 * beat);
    expect(Math.abs(bars - Math.round(bars))).toBeLessThan(0.03);
  }
});

describe('what cannot be measured', () => {
  test('silence: no tempo, no key, no loudness, no edges, and no failure', () => {
    const result = analyse(new Float32Array(44100 * 6), 44100);
    expect(result).toMatchObject({
      tempo: { bpm: null },
      key: { key: null },
      loudness: { integratedLufs: null, truePeakDbtp: null },
      edges: { audibleStartSeconds: null },
    });
  });

  test.each([
    [8000, 1, 2],
    [192000, 2, 3],
    [44100, 6, 3],
    [44100, 2, 0.05],
    [44100, 1, 0],
  ])('%d Hz, %d channels, %d s of tone', (rate, channels, seconds) => {
    const frames = Math.round(rate * seconds);
    const samples = new Float32Array(frames * channels);
    for (let i = 0; i < frames; i++)
      for (let c = 0; c < channels; c++) samples[i * channels + c] = 0.3 * Math.sin((2 * Math.PI * 440 * i) / rate);
    const result = analyse(samples, rate, channels);
    expect(result.durationSeconds).toBeCloseTo(seconds, 3);
    expect(Number.isFinite(result.energy.energy)).toBe(true);
  });

  test('damaged floats count as silence', () => {
    const samples = new Float32Array(44100 * 2).fill(Number.NaN);
    samples[100] = 1e30;
    expect(analyse(samples, 44100).loudness.truePeakDbtp).toBeNull();
  });

  test('formats out of range are refused in words', () => {
    expect(() => createAnalysis({ sampleRate: 100, channels: 2 })).toThrow(/out of range/);
    expect(() => createAnalysis({ sampleRate: 44100, channels: 0 })).toThrow(/channels/);
  });
});

test('edges are found to 10 ms', () => {
  const rate = 44100;
  const samples = new Float32Array(rate * 5);
  for (let i = Math.round(1.234 * rate); i < 3.456 * rate; i++)
    samples[i] = 0.4 * Math.sin((2 * Math.PI * 330 * i) / rate);
  const { edges } = analyse(samples, rate);
  expect(Math.abs(edges.audibleStartSeconds! - 1.234)).toBeLessThanOrEqual(0.0101);
  expect(Math.abs(edges.audibleEndSeconds! - 3.456)).toBeLessThanOrEqual(0.0101);
});

test('the waveform has 100 columns a second of three bands, and shows where sound is', () => {
  const { samples } = clicks(120, 4, 44100);
  const { waveform } = analyse(samples, 44100);
  expect(Math.abs(waveform.length / 3 - 400)).toBeLessThanOrEqual(1);
  const low = (column: number): number => 255 * BYTE_LEVELS[waveform[column * 3]!]!;
  expect(low(26)).toBeGreaterThan(60); // 0.26 s: a thump
  expect(low(44)).toBeLessThan(10); // 0.44 s: between two
});

test('a chord of A minor with its bass is heard as A minor, in tune and 30 cents sharp', () => {
  const rate = 22050;
  for (const cents of [0, 30]) {
    const samples = new Float32Array(rate * 24);
    const chords = [
      [45, 57, 60, 64],
      [41, 57, 60, 65],
      [48, 55, 60, 64],
      [40, 56, 59, 64],
      [45, 57, 60, 64],
      [45, 57, 60, 64],
    ];
    chords.forEach((notes, c) => {
      for (let i = 0; i < rate * 4; i++) {
        let v = 0;
        for (const [n, midi] of notes.entries()) {
          const hz = 440 * 2 ** ((midi - 69 + cents / 100) / 12);
          for (let h = 1; h <= 4; h++) v += ((n === 0 ? 0.12 : 0.07) / h) * Math.sin((2 * Math.PI * hz * h * i) / rate);
        }
        samples[c * rate * 4 + i] = v;
      }
    });
    const { key } = analyse(samples, rate);
    expect(key.key).toBe('A minor');
    expect(Math.abs(key.tuningCents - cents)).toBeLessThan(8);
  }
});

test('analyses one after another and at once leave each other alone', () => {
  const one = clicks(97, 20, 44100).samples,
    other = clicks(131, 14, 44100).samples;
  const first = analyse(one, 44100);
  analyse(other, 44100, 2);
  expect(analyse(one, 44100)).toEqual(first);
  const a = createAnalysis({ sampleRate: 44100, channels: 1, seconds: 20 }),
    b = createAnalysis({ sampleRate: 44100, channels: 2, seconds: 1e9 });
  for (let at = 0; at < one.length; at += 50_000) {
    a.push(one.subarray(at, at + 50_000));
    b.push(other.subarray(at, at + 50_000));
  }
  b.finish();
  expect(a.finish()).toEqual(first);
});
