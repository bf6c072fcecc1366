import { describe, expect, test } from '@jest/globals';
import { createDecimator } from './filters.ts';
import { createKernels } from './kernels/kernels.ts';

const tone = (hz: number, rate: number, n: number): Float32Array =>
  Float32Array.from({ length: n }, (_, i) => Math.sin((2 * Math.PI * hz * i) / rate));
const rms = (x: ArrayLike<number>): number => Math.sqrt(Array.from(x).reduce((a, b) => a + b * b, 0) / x.length);

function run(input: Float32Array, factor: number, block: number): Float32Array {
  const decimator = createDecimator(factor, block, createKernels());
  const out: number[] = [];
  for (let from = 0; from < input.length; from += block) {
    const part = input.subarray(from, from + block);
    const n = decimator.push(part, part.length);
    out.push(...decimator.output.subarray(0, n));
  }
  return Float32Array.from(out);
}

describe('decimation', () => {
  test.each([2, 3, 4, 5, 8])('by %i keeps what is low and takes away what would fold back', (factor) => {
    const rate = 44100;
    const kept = run(tone(300, rate, 44100), factor, 4096);
    expect(rms(kept.subarray(200))).toBeCloseTo(Math.SQRT1_2, 2);
    const folded = run(tone((rate / factor) * 0.7, rate, 44100), factor, 4096);
    expect(20 * Math.log10(rms(folded.subarray(200)))).toBeLessThan(-60);
  });

  test('does not depend on how the stream is cut into blocks', () => {
    const input = tone(1234, 48000, 10_000);
    const whole = run(input, 4, 10_000);
    for (const block of [1, 7, 512, 8192]) expect(Array.from(run(input, 4, block))).toEqual(Array.from(whole));
  });

  test('keeps time: an impulse comes out where it went in', () => {
    const input = new Float32Array(4000);
    input[2000] = 1;
    const out = run(input, 4, 512);
    expect(Math.abs(out.indexOf(Math.max(...out)) - 500)).toBeLessThanOrEqual(2);
  });
});
