/** Brings the WebAssembly transform (PFFFT) into the analysis of this thread. */
import createPffft from '@echogarden/pffft-wasm/simd';
import { useTransform } from '@early-set/core/signal/fft';

const REAL = 0;
const FORWARD = 0;

/** After this, the spectra of this thread are taken in WebAssembly; where it cannot be had, our own transform stays. */
export async function useFastFft(): Promise<void> {
  const pffft = await createPffft().catch(() => null);
  if (!pffft) return;
  useTransform((size) => {
    const setup = pffft._pffft_new_setup(size, REAL);
    const input = pffft._pffft_aligned_malloc(size * 4), output = pffft._pffft_aligned_malloc(size * 4), work = pffft._pffft_aligned_malloc(size * 4);
    const floats = (at: number): Float32Array => pffft.HEAPF32.subarray(at / 4, at / 4 + size);
    return { input: floats(input), output: floats(output), run: () => pffft._pffft_transform_ordered(setup, input, output, work, FORWARD) };
  });
}
