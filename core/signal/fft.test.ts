import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { autocorrelation, planMagnitudes, planRealFft, useTransform } from './fft.ts';
import { hann } from './windows.ts';

const signal = (n: number) => fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: n, maxLength: n });

describe('the real FFT', () => {
  test('agrees with the sum it stands for', () => {
    fc.assert(fc.property(fc.constantFrom(4, 8, 32, 128).chain((n) => fc.tuple(fc.constant(n), signal(n))), ([n, x]) => {
      const fft = planRealFft(n);
      fft.transform(x);
      for (let k = 0; k <= n / 2; k++) {
        let re = 0, im = 0;
        x.forEach((v, i) => { re += v * Math.cos((2 * Math.PI * k * i) / n); im -= v * Math.sin((2 * Math.PI * k * i) / n); });
        expect(fft.re[k]).toBeCloseTo(re, 8);
        expect(fft.im[k]).toBeCloseTo(im, 8);
      }
    }), { numRuns: 60 });
  });

  test('reads from an offset and through a window', () => {
    const fft = planRealFft(8);
    const window = [0, 1, 1, 1, 1, 1, 1, 0];
    fft.transform([9, 9, 1, 1, 1, 1, 1, 1, 1, 1], 2, window);
    expect(fft.re[0]).toBeCloseTo(6, 10);
  });

  test('refuses sizes that are no power of two', () => {
    expect(() => planRealFft(12)).toThrow(RangeError);
    expect(() => planRealFft(2)).toThrow(RangeError);
  });
});

test('autocorrelation agrees with the direct sum', () => {
  fc.assert(fc.property(fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 5, maxLength: 60 }), (x) => {
    const acf = autocorrelation(x, 4);
    for (let lag = 0; lag <= 4; lag++) {
      let sum = 0;
      for (let i = 0; i + lag < x.length; i++) sum += x[i]! * x[i + lag]!;
      expect(acf[lag]).toBeCloseTo(sum, 8);
    }
  }), { numRuns: 60 });
});

test('magnitudes are those of the transform, with our own and with one brought in', () => {
  const size = 256;
  const window = hann(size);
  const x = Float32Array.from({ length: 400 }, (_, i) => Math.sin(i * 0.3) + 0.4 * Math.cos(i * 1.7));
  const fft = planRealFft(size);
  fft.transform(x, 100, window);
  const expected = Array.from({ length: 60 }, (_, i) => Math.hypot(fft.re[i + 5]!, fft.im[i + 5]!));
  const own = new Float64Array(60);
  planMagnitudes(size, window)(x, 100, own, 5);
  own.forEach((v, i) => expect(v).toBeCloseTo(expected[i]!, 9));
  // A stand-in that lays its result out as the fast one does.
  let asked = 0;
  useTransform((n) => {
    asked++;
    const input = new Float32Array(n), output = new Float32Array(n), inner = planRealFft(n);
    return { input, output, run: () => { inner.transform(input); output[0] = inner.re[0]!; output[1] = inner.re[n / 2]!; for (let k = 1; k < n / 2; k++) { output[2 * k] = inner.re[k]!; output[2 * k + 1] = inner.im[k]!; } } };
  });
  for (let i = 0; i < 2; i++) {
    const fast = new Float64Array(60);
    planMagnitudes(size, window)(x, 100, fast, 5);
    fast.forEach((v, k) => expect(v).toBeCloseTo(expected[k]!, 4));
  }
  expect(asked).toBe(1);
});
