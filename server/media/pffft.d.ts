declare module '@echogarden/pffft-wasm/simd' {
  /** The part of the module that is used; addresses are in bytes. */
  interface Pffft {
    HEAPF32: Float32Array;
    _pffft_new_setup(size: number, kind: number): number;
    _pffft_aligned_malloc(bytes: number): number;
    _pffft_transform_ordered(setup: number, input: number, output: number, work: number, direction: number): void;
  }
  export default function createPffft(): Promise<Pffft>;
}
