/**
 * The loops that see every sample, in AssemblyScript: compiled to WebAssembly with 128-bit vectors by
 * `npm run kernels`. All pointers are byte addresses in the instance's memory; samples are 32-bit floats
 * unless said otherwise. Nothing here allocates.
 */
export * from './samples';
export * from './spectra';
export * from './traces';
