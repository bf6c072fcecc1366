import { expect, test } from '@jest/globals';
import { KERNELS_WASM } from '@early-set/core/signal/kernels/wasm';
import { compileKernels } from '../scripts/lib/kernels.mjs';

test('the compiled module is that of the source', async () => {
  const text = await compileKernels();
  expect([...text.matchAll(/'([^']+)',/g)].map(([, part]) => part).join('')).toBe(KERNELS_WASM);
});
