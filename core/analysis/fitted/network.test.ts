import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { outputOf, packed, unpacked, type Network } from './network.ts';

test('weights are as text what they were, but for a two-thousandth of the largest', () => {
  fc.assert(
    fc.property(fc.array(fc.float({ min: -50, max: 50, noNaN: true }), { minLength: 1 }), (values) => {
      const again = unpacked(packed(values));
      const largest = Math.max(...values.map(Math.abs));
      expect(again.length).toBe(values.length);
      values.forEach((v, i) => expect(Math.abs(again[i]! - v)).toBeLessThanOrEqual(largest / 2000 + 1e-9));
    }),
  );
});

test('an output is what the layers say', () => {
  const network: Network = {
    ...{ inputs: 2, hidden: 2, bias: 0.5 },
    weights: Float32Array.of(1, -1, 0.5, 2),
    biases: Float32Array.of(0, -1),
    out: Float32Array.of(2, -3),
    straight: Float32Array.of(0.1, 0),
  };
  expect(outputOf(network, [0.3, 0.7])).toBeCloseTo(0.5 + 2 * Math.tanh(-0.4) - 3 * Math.tanh(0.55) + 0.03, 6);
});
