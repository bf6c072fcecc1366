/** A periodic Hann window of `size` samples, for frames of a running spectrum. */
export function hann(size: number): Float64Array {
  return Float64Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size));
}

/** A growing list of numbers in typed chunks, for features whose count is not known beforehand. */
export interface Growing {
  readonly length: number;
  push(value: number): void;
  /** All values so far, as one array that the list goes on owning. */
  view(): Float32Array;
}

/** Starts a growing list of 32-bit floats. */
export function growing(initial = 4096): Growing {
  let data = new Float32Array(initial);
  let length = 0;
  return {
    get length() {
      return length;
    },
    push(value) {
      if (length === data.length) {
        const next = new Float32Array(data.length * 2);
        next.set(data);
        data = next;
      }
      data[length++] = value;
    },
    view: () => data.subarray(0, length),
  };
}
