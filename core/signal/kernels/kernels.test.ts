import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { planRealFft } from '../fft.ts';
import { butterworth, type Biquad } from '../filters.ts';
import { createFramer, planMagnitudes } from '../spectrum.ts';
import { hann } from '../windows.ts';
import { kWeighting } from '../../analysis/loudness/loudness.ts';
import { BLOCK, createKernels } from './kernels.ts';

const { sin, sqrt, abs, max, log10 } = Math;
const music = (n: number, seed = 1): Float32Array =>
  Float32Array.from(
    { length: n },
    (_, i) => 0.4 * sin(i * 0.05 * seed) + 0.3 * sin(i * 0.71 + seed) + 0.1 * sin(i * i * 0.003),
  );
const filtered = (x: ArrayLike<number>, { b0, b1, b2, a1, a2 }: Biquad): number[] => {
  let s1 = 0,
    s2 = 0;
  return Array.from(x, (v) => {
    const y = b0 * v + s1;
    s1 = b1 * v - a1 * y + s2;
    s2 = b2 * v - a2 * y;
    return y;
  });
};

test('stereo and many channels are told apart and mixed, with broken samples as silence', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 6 }),
      fc.array(fc.oneof(fc.float({ min: -1, max: 1, noNaN: true }), fc.constantFrom(NaN, Infinity, 1e9)), {
        minLength: 6,
        maxLength: 90,
      }),
      (channels, values) => {
        const k = createKernels();
        const frames = Math.floor(values.length / channels);
        const source = k.floats(values.length),
          planes = k.floats(frames * channels),
          mono = k.floats(frames);
        source.set(values);
        const stride = frames * 4;
        if (channels === 2)
          k.splitStereo(source.byteOffset, frames, planes.byteOffset, planes.byteOffset + stride, mono.byteOffset);
        else k.splitMany(source.byteOffset, frames, channels, planes.byteOffset, stride, mono.byteOffset);
        for (let i = 0; i < frames; i++) {
          let sum = 0;
          for (let c = 0; c < channels; c++) {
            const given = Math.fround(values[i * channels + c]!),
              expected = abs(given) < 64 ? given : 0;
            expect(planes[c * frames + i]! - expected).toBe(0);
            sum += expected;
          }
          expect(mono[i]).toBeCloseTo(sum / channels, 5);
        }
      },
    ),
    { numRuns: 80 },
  );
});

test('K-weighting of two channels at once is that of its two filters, one after the other', () => {
  const k = createKernels();
  const [shelf, highPass] = kWeighting(44100);
  const sides = [music(1000), music(1000, 3)];
  const placed = sides.map((x) => {
    const own = k.floats(1000);
    own.set(x);
    return own;
  });
  const coefficients = k.doubles(7),
    state = k.doubles(8),
    out = k.doubles(2);
  coefficients.set([shelf.b0, shelf.b1, shelf.b2, shelf.a1, shelf.a2, highPass.a1, highPass.a2]);
  const sums = [0, 0];
  for (const [from, count] of [
    [0, 333],
    [333, 667],
  ] as const) {
    k.kWeight(
      placed[0]!.byteOffset + from * 4,
      placed[1]!.byteOffset + from * 4,
      count,
      coefficients.byteOffset,
      state.byteOffset,
      out.byteOffset,
    );
    sums[0]! += out[0]!;
    sums[1]! += out[1]!;
  }
  sides.forEach((x, c) =>
    expect(sums[c]).toBeCloseTo(
      filtered(filtered(x, shelf), highPass).reduce((sum, v) => sum + v * v, 0),
      6,
    ),
  );
});

test('the three bands have the energies and peaks of their filters', () => {
  const k = createKernels();
  const x = music(900);
  const placed = k.floats(900);
  placed.set(x);
  const low = butterworth('low', 180, 22050),
    high = butterworth('high', 2200, 22050),
    midHigh = butterworth('high', 180, 22050),
    midLow = butterworth('low', 2200, 22050);
  const pairs = [
    [low, high],
    [midHigh, midLow],
  ] as const;
  const coefficients = k.doubles(20),
    state = k.doubles(10),
    sums = k.doubles(8);
  coefficients.set(pairs.flatMap(([a, b]) => [a.b0, b.b0, a.b1, b.b1, a.b2, b.b2, a.a1, b.a1, a.a2, b.a2]));
  k.bandSplit(placed.byteOffset, 900, coefficients.byteOffset, state.byteOffset, sums.byteOffset);
  const energy = (v: number[]): number => v.reduce((sum, y) => sum + y * y, 0),
    peak = (v: number[]): number => v.reduce((top, y) => max(top, y * y), 0);
  const mid = filtered([0, ...filtered(x, midHigh).slice(0, -1)], midLow);
  for (const [i, band] of [
    [0, filtered(x, low)],
    [1, filtered(x, high)],
    [3, mid],
  ] as const) {
    expect(sums[i]).toBeCloseTo(energy(band), 6);
    expect(sums[4 + i]).toBeCloseTo(peak(band), 6);
  }
});

describe('spectra', () => {
  test.each([128, 256, 512, 1024, 4096])('of %i samples are those of the plain transform', (size) => {
    const k = createKernels();
    const window = hann(size);
    const x = music(size + 40);
    const placed = k.floats(size + 40),
      out = k.floats(size / 2 - 5);
    placed.set(x);
    const fft = planRealFft(size);
    fft.transform(x, 40, window);
    planMagnitudes(k, window)(placed.byteOffset + 160, out, 5);
    const scale = max(...fft.re.map(abs));
    out.forEach((v, i) => expect(abs(v - sqrt(fft.re[i + 5]! ** 2 + fft.im[i + 5]! ** 2)) / scale).toBeLessThan(2e-6));
  });

  test('refuse sizes that are no power of two', () => {
    expect(() => planMagnitudes(createKernels(), hann(300))).toThrow(RangeError);
  });

  test('frames do not depend on how the stream is cut, and the first is centred on the beginning', () => {
    const x = music(5000);
    const cut = (block: number): number[] => {
      const k = createKernels();
      const seen: number[] = [];
      const push = createFramer(k, 256, 100, (pointer) => seen.push(k.memory[(pointer >> 2) + 128]!));
      for (let from = 0; from < x.length; from += block)
        push(x.subarray(from, from + block), Math.min(block, x.length - from));
      return seen;
    };
    const whole = cut(5000);
    expect(whole.slice(0, 3)).toEqual([x[0], x[100], x[200]]);
    for (const block of [1, 77, 4096]) expect(cut(block)).toEqual(whole);
  });
});

test('a bank of filters gives log10(1 + sum) and the centre of the sums', () => {
  const k = createKernels();
  const values = Array.from({ length: 40 }, (_, i) => (i * 7919) % 113);
  const mags = k.floats(40),
    spans = k.floats(4),
    weights = k.floats(12),
    out = k.floats(4);
  mags.set(values);
  weights.set([1, 2, 0, 0, 0.5, 0.25, 1, 1, 0.125, 0, 0, 0]);
  new Uint32Array(spans.buffer, spans.byteOffset, 4).set([3, 4, 20, 8]);
  const sums = [
    values[3]! + 2 * values[4]!,
    0.5 * values[20]! + 0.25 * values[21]! + values[22]! + values[23]! + 0.125 * values[24]!,
  ];
  const centre = k.filterBank(mags.byteOffset, spans.byteOffset, weights.byteOffset, 2, out.byteOffset);
  sums.forEach((s, i) => expect(out[i]).toBeCloseTo(log10(1 + s), 5));
  expect(centre).toBeCloseTo(sums[1]! / (sums[0]! + sums[1]!), 5);
  mags.fill(0);
  expect(k.filterBank(mags.byteOffset, spans.byteOffset, weights.byteOffset, 2, out.byteOffset)).toBe(-1);
});

test('logarithms of values over a floor, over twelve decades', () => {
  const k = createKernels();
  const values = Array.from({ length: 100 }, (_, i) => 10 ** ((i - 60) / 8) * (1 + (i % 7) / 9));
  const x = k.floats(100),
    out = k.floats(100);
  x.set(values);
  k.logarithms(x.byteOffset, 100, 1e-9, out.byteOffset);
  values.forEach((v, i) => expect(abs(out[i]! - log10(v + 1e-9))).toBeLessThan(1e-5));
});

test('medians of five, and rises over the highest neighbour', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(...Array.from({ length: 5 }, () => fc.float({ min: 0, max: 9, noNaN: true }))), {
        minLength: 1,
        maxLength: 13,
      }),
      (columns) => {
        const k = createKernels();
        const rows = [0, 1, 2, 3, 4].map((r) => {
          const own = k.floats(16);
          columns.forEach((c, i) => {
            own[i] = c[r]!;
          });
          return own.byteOffset;
        });
        const out = k.floats(16);
        k.medianOf5(rows[0]!, rows[1]!, rows[2]!, rows[3]!, rows[4]!, out.byteOffset, 16);
        columns.forEach((c, i) => expect(out[i]).toBe([...c].sort((a, b) => a - b)[2]));
      },
    ),
    { numRuns: 60 },
  );
  const k = createKernels();
  const before = k.floats(6),
    now = k.floats(6),
    ends = k.floats(2),
    flux = k.floats(2);
  before.set([0, 1, 2, 0, 0, 0]);
  now.set([0, 4, 4, 4, 1, 0]);
  new Uint32Array(ends.buffer, ends.byteOffset, 2).set([2, 4]);
  k.riseSince(before.byteOffset, now.byteOffset, ends.byteOffset, 2, flux.byteOffset);
  expect(Array.from(flux)).toEqual([4, 3]);
});

test('arrays from elsewhere are taken in blocks, arrays in the memory at once', () => {
  const k = createKernels();
  const inside = k.floats(BLOCK + 10);
  const calls: [number, number][] = [];
  k.visit([inside], inside.length, (_, from, count) => calls.push([from, count]));
  k.visit([new Float32Array(BLOCK + 10)], BLOCK + 10, (_, from, count) => calls.push([from, count]));
  expect(calls).toEqual([
    [0, BLOCK + 10],
    [0, BLOCK],
    [BLOCK, 10],
  ]);
  expect(() => k.floats(1e8)).toThrow(RangeError);
});
