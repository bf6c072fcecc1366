import { describe, expect, test } from '@jest/globals';
import { createLoudnessMeter, type Loudness } from './loudness.ts';
import { createRunPeaks, RUN } from './peaks.ts';
import { createKernels } from '../../signal/kernels/kernels.ts';
import { createTruePeakMeter } from './truePeak.ts';

const RATE = 48000;
// Globals are slow to reach inside the test runner's sandbox.
const { sin, PI } = Math;
interface Part {
  seconds: number;
  dbfs: number | number[];
  hz?: number;
}

/** Sine parts at given levels, as the test signals of EBU Tech 3341 and 3342 are described. */
function signal(parts: Part[], channels: number): Float32Array[] {
  const length = Math.round(parts.reduce((s, p) => s + p.seconds, 0) * RATE);
  const out = Array.from({ length: channels }, () => new Float32Array(length));
  let at = 0;
  for (const { seconds, dbfs, hz = 1000 } of parts) {
    const n = Math.round(seconds * RATE);
    out.forEach((x, c) => {
      const gain = 10 ** ((Array.isArray(dbfs) ? dbfs[c]! : dbfs) / 20);
      for (let i = 0; i < n; i++) x[at + i] = gain * sin((2 * PI * hz * i) / RATE);
    });
    at += n;
  }
  return out;
}

function measure(parts: Part[], channels = 2): Loudness {
  const meter = createLoudnessMeter(RATE, channels);
  const x = signal(parts, channels);
  meter.push(x, x[0]!.length);
  return meter.finish();
}

describe('integrated loudness, EBU Tech 3341', () => {
  test.each<[string, Part[], number]>([
    ['1: −23 dBFS', [{ seconds: 20, dbfs: -23 }], -23],
    ['2: −33 dBFS', [{ seconds: 20, dbfs: -33 }], -33],
    [
      '3: gate on −36, −23, −36',
      [
        { seconds: 10, dbfs: -36 },
        { seconds: 60, dbfs: -23 },
        { seconds: 10, dbfs: -36 },
      ],
      -23,
    ],
    [
      '4: with silence at −72',
      [
        { seconds: 10, dbfs: -72 },
        { seconds: 10, dbfs: -36 },
        { seconds: 60, dbfs: -23 },
        { seconds: 10, dbfs: -36 },
        { seconds: 10, dbfs: -72 },
      ],
      -23,
    ],
    [
      '5: −26, −20, −26',
      [
        { seconds: 20, dbfs: -26 },
        { seconds: 20.1, dbfs: -20 },
        { seconds: 20, dbfs: -26 },
      ],
      -23,
    ],
  ])('case %s', (_name, parts, expected) => {
    expect(Math.abs(measure(parts).integratedLufs! - expected)).toBeLessThanOrEqual(0.1);
  });

  test('case 6: five channels with their weights', () => {
    const { integratedLufs } = measure([{ seconds: 20, dbfs: [-28, -28, -24, -300, -30, -30] }], 6);
    expect(Math.abs(integratedLufs! + 23)).toBeLessThanOrEqual(0.1);
  });
});

describe('loudness range, EBU Tech 3342', () => {
  test.each<[number, number[]]>([
    [10, [-20, -30]],
    [5, [-20, -15]],
    [20, [-40, -20]],
    [15, [-50, -35, -20, -35, -50]],
  ])('%i LU', (expected, levels) => {
    expect(Math.abs(measure(levels.map((dbfs) => ({ seconds: 20, dbfs }))).rangeLu! - expected)).toBeLessThanOrEqual(1);
  });
});

test.each(Array.from({ length: 5 }, (_, i) => i * 0.07))(
  'cases 10 and 13: the maxima do not depend on %d s of silence before',
  (silence) => {
    const before = { seconds: silence + 0.001, dbfs: -300 };
    expect(
      Math.abs(measure([before, { seconds: 3, dbfs: -23 }, { seconds: 1, dbfs: -300 }]).maxShortTermLufs! + 23),
    ).toBeLessThan(0.1);
    expect(
      Math.abs(measure([before, { seconds: 0.4, dbfs: -23 }, { seconds: 1, dbfs: -300 }]).maxMomentaryLufs! + 23),
    ).toBeLessThan(0.1);
  },
);

test('the range is between levels that sounded, also where a tenth of the track is much quieter', () => {
  // 60 s: the quiet part fills a little more, or a little less, than the tenth that is left out.
  const range = (quiet: number): number =>
    measure([
      { seconds: quiet, dbfs: -38 },
      { seconds: 60 - quiet, dbfs: -23 },
    ]).rangeLu!;
  expect(range(12)).toBeCloseTo(15, 0);
  expect(range(5)).toBeLessThan(1.2);
});

test('silence has no loudness, and short sounds have none either', () => {
  expect(measure([{ seconds: 5, dbfs: -300 }]).integratedLufs).toBeNull();
  expect(measure([{ seconds: 0.3, dbfs: -20 }]).integratedLufs).toBeNull();
});

test('the result does not depend on block sizes', () => {
  const x = signal(
    [
      { seconds: 3, dbfs: -18, hz: 440 },
      { seconds: 3, dbfs: -30 },
    ],
    2,
  );
  const whole = createLoudnessMeter(RATE, 2);
  whole.push(x, x[0]!.length);
  const parts = createLoudnessMeter(RATE, 2);
  for (let at = 0; at < x[0]!.length; at += 777) {
    const piece = x.map((c) => c.subarray(at, at + 777));
    parts.push(piece, piece[0]!.length);
  }
  expect(parts.finish().integratedLufs).toBeCloseTo(whole.finish().integratedLufs!, 9);
});

describe('true peak, EBU Tech 3341 cases 15 to 19', () => {
  test.each<[string, number, number, number, number]>([
    ['fs/4 at 0°', 4, 0, 0.5, -6],
    ['fs/4 at 45°', 4, 45, 0.5, -6],
    ['fs/6 at 60°', 6, 60, 0.5, -6],
    ['fs/8 at 67.5°', 8, 67.5, 0.5, -6],
    ['fs/4 at 45°, over full scale', 4, 45, 1.41, 3],
  ])('%s', (_name, divisor, degrees, amplitude, expected) => {
    const x = Float32Array.from({ length: RATE }, (_, i) => {
      const fade = Math.min(1, i / 2000, (RATE - i) / 2000);
      return fade * amplitude * Math.sin((2 * Math.PI * i) / divisor + (degrees * Math.PI) / 180);
    });
    const meter = createTruePeakMeter(RATE, 1, createKernels());
    const runs = new Float32Array(Math.ceil(x.length / RUN));
    createRunPeaks(createKernels())(x, x.length, runs);
    meter.push([x], x.length, [runs]);
    const peak = 20 * Math.log10(meter.finish().truePeak);
    expect(peak - expected).toBeGreaterThan(-0.4);
    expect(peak - expected).toBeLessThan(0.2);
  });
});

test('the true peak is that of oversampling everything', () => {
  const sinc = (x: number): number => (x === 0 ? 1 : sin(PI * x) / (PI * x));
  for (let trial = 0; trial < 12; trial++) {
    // A few tones below 0.4 of the rate with a slow swell: music, as far as peaks go.
    const parts = Array.from({ length: 5 }, (_, k) => ({
      w: 2 * PI * (0.003 + 0.38 * ((trial * 0.37 + k * 0.19) % 1)),
      p: trial + k * 1.7,
      a: 0.1 + 0.12 * k,
    }));
    const x = Float32Array.from(
      { length: 3000 },
      (_, i) => sin((PI * i) / 3000) * parts.reduce((sum, { w, p, a }) => sum + a * sin(w * i + p), 0),
    );
    let full = 0;
    for (let i = 40; i < 2960; i++)
      for (const f of [0, 0.25, 0.5, 0.75]) {
        let sum = 0;
        for (let k = -32; k <= 32; k++) sum += x[i + k]! * sinc(f - k) * (0.5 + 0.5 * Math.cos((PI * (f - k)) / 33));
        full = Math.max(full, Math.abs(sum));
      }
    const runs = new Float32Array(Math.ceil(x.length / RUN));
    createRunPeaks(createKernels())(x, x.length, runs);
    const meter = createTruePeakMeter(RATE, 1, createKernels());
    meter.push([x], x.length, [runs]);
    const { truePeak, samplePeak } = meter.finish();
    expect(Math.abs(20 * Math.log10(truePeak / full))).toBeLessThan(0.15);
    expect(samplePeak).toBeCloseTo(
      x.reduce((top, v) => Math.max(top, Math.abs(v)), 0),
      6,
    );
  }
});
