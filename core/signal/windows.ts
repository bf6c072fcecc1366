/** A periodic Hann window of `size` samples, for frames of a running spectrum. */
export function hann(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
}

/**
 * A list of numbers whose count is not known beforehand, in chunks: nothing is copied while it grows, nor at the end
 * where about as many come as were expected.
 */
export interface Growing<A> {
  push(value: number): void;
  /** All values as one array; the list is empty then. */
  take(): A;
}

const CHUNK = 16384;
/** Of an array made for more than came, so much may stay unused. */
const UNUSED = 0.1;

function growingOf<A extends Float32Array | Uint16Array | Uint8Array>(
  make: (length: number) => A,
  expected: number,
): Growing<A> {
  let full: A[] = [];
  let last = make(Math.ceil(expected) || CHUNK),
    filled = 0;
  return {
    push(value) {
      if (filled === last.length) {
        full.push(last);
        last = make(CHUNK);
        filled = 0;
      }
      last[filled++] = value;
    },
    take() {
      const tail = last.subarray(0, filled) as A;
      let all = tail;
      if (full.length > 0 || filled < last.length * (1 - UNUSED)) {
        all = make(full.reduce((sum, chunk) => sum + chunk.length, filled));
        let at = 0;
        for (const chunk of [...full, tail]) {
          all.set(chunk, at);
          at += chunk.length;
        }
      }
      full = [];
      last = make(0);
      filled = 0;
      return all;
    },
  };
}

/** Starts a growing list of 32-bit floats. @param expected how many may come; 0 where nobody knows */
export const growing = (expected = 0): Growing<Float32Array> =>
  growingOf((length) => new Float32Array(length), expected);
/** Starts a growing list of whole numbers of 16 bits; others are rounded down, and more than 65,535 is lost. */
export const growingShorts = (expected = 0): Growing<Uint16Array> =>
  growingOf((length) => new Uint16Array(length), expected);
/** Starts a growing list of bytes. */
export const growingBytes = (expected = 0): Growing<Uint8Array> =>
  growingOf((length) => new Uint8Array(length), expected);
