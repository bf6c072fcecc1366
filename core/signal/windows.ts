/** A periodic Hann window of `size` samples, for frames of a running spectrum. */
export function hann(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
}

/** A list of numbers whose count is not known beforehand, in chunks: nothing is copied while it grows. */
export interface Growing<A> {
  push(value: number): void;
  /** All values as one array; the list is empty then. */
  take(): A;
}

const CHUNK = 16384;

function growingOf<A extends Float32Array | Uint8Array>(make: (length: number) => A): Growing<A> {
  let full: A[] = [];
  let last = make(CHUNK),
    filled = 0;
  return {
    push(value) {
      if (filled === CHUNK) {
        full.push(last);
        last = make(CHUNK);
        filled = 0;
      }
      last[filled++] = value;
    },
    take() {
      const all = make(full.length * CHUNK + filled);
      full.forEach((chunk, i) => {
        all.set(chunk, i * CHUNK);
      });
      all.set(last.subarray(0, filled), full.length * CHUNK);
      full = [];
      filled = 0;
      return all;
    },
  };
}

/** Starts a growing list of 32-bit floats. */
export const growing = (): Growing<Float32Array> => growingOf((length) => new Float32Array(length));
/** Starts a growing list of bytes. */
export const growingBytes = (): Growing<Uint8Array> => growingOf((length) => new Uint8Array(length));
