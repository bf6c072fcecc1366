import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { autocorrelation, planRealFft } from './fft.ts';

const signal = (n: number) => fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: n, maxLength: n });

describe('the real FFT', () => {
  test('agrees with the sum it stands for', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(4, 8, 32, 128).chain((n) => fc.tuple(fc.constant(n), signal(n))),
        ([n, x]) => {
          const fft = planRealFft(n);
          fft.transform(x);
          for (let k = 0; k <= n / 2; k++) {
            let re = 0,
              im = 0;
            x.forEach((v, i) => {
              re += v * Math.cos((2 * Math.PI * k * i) / n);
              im -= v * Math.sin((2 * Math.PI * k * i) / n);
            });
            expect(fft.re[k]).toBeCloseTo(re, 8);
            expect(fft.im[k]).toBeCloseTo(im, 8);
          }
        },
      ),
      { numRuns: 60 },
    );
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
  fc.assert(
    fc.property(fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 5, maxLength: 60 }), (x) => {
      const acf = autocorrelation(x, 4);
      for (let lag = 0; lag <= 4; lag++) {
        let sum = 0;
        for (let i = 0; i + lag < x.length; i++) sum += x[i]! * x[i + lag]!;
        expect(acf[lag]).toBeCloseTo(sum, 8);
      }
    }),
    { numRuns: 60 },
  );
});
