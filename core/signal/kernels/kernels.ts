/**
 * The compiled kernels with memory to work in. Each analysis has an instance to itself; the memory is of fixed size,
 * and views into it stay valid until it is given back.
 */
import { KERNELS_WASM } from './wasm.ts';

/** Samples handed on at a time. */
export const BLOCK = 8192;

const PAGE = 65536;
const PAGES = 160;

interface Exports {
  splitStereo(source: number, frames: number, left: number, right: number, mono: number): void;
  splitMany(source: number, frames: number, channels: number, planes: number, stride: number, mono: number): void;
  runPeaks(x: number, n: number, out: number): number;
  kWeight(left: number, right: number, n: number, coefficients: number, state: number, out: number): void;
  halve(x: number, n: number, out: number, coefficients: number, state: number, sections: number): void;
  bandSplit(x: number, n: number, coefficients: number, state: number, sums: number): void;
  searchPeaks(x: number, from: number, to: number, filters: number, phases: number, peaks: number): void;
  searchRuns(
    x: number,
    first: number,
    n: number,
    ahead: number,
    runs: number,
    filters: number,
    phases: number,
    peaks: number,
  ): void;
  magnitudes(
    x: number,
    window: number,
    size: number,
    work: number,
    tables: number,
    out: number,
    first: number,
    count: number,
  ): void;
  filterBank(magnitudes: number, bank: number, weights: number, filters: number, out: number): number;
  riseSince(before: number, now: number, bandEnds: number, bands: number, flux: number): void;
  flatTops(x: number, n: number, runs: number, state: number): number;
  stereoSums(left: number, right: number, n: number, out: number): void;
  logarithms(x: number, n: number, floor: number, out: number): void;
  lappedSweep(x: number, count: number, tables: number, work: number, out: number): void;
  layerSweep(x: number, more: number, tables: number, work: number, out: number): void;
  medianOf5(r0: number, r1: number, r2: number, r3: number, r4: number, out: number, n: number): void;
}

/** Pointers are byte addresses; see assembly/kernels.ts for what each kernel does. */
export interface Kernels extends Exports {
  /** All of the memory, as floats. */
  readonly memory: Float32Array;
  /** Zeroed memory that is never given back. @throws RangeError when there is no more */
  floats(count: number): Float32Array;
  doubles(count: number): Float64Array;
  /** Calls with the addresses of arrays of equal length: at once when they lie in the memory, else in copied blocks. */
  visit(
    arrays: readonly Float32Array[],
    length: number,
    take: (pointers: readonly number[], from: number, count: number) => void,
  ): void;
  /** Gives the instance to the next that wants one: nobody may use it, or a view into it, after that. */
  release(): void;
}

let compiled: WebAssembly.Module | null = null;

function compile(): WebAssembly.Module {
  const text = atob(KERNELS_WASM);
  return new WebAssembly.Module(Uint8Array.from({ length: text.length }, (_, i) => text.charCodeAt(i)));
}

/** The last one that was given back: calls into a new instance are slow until they have been compiled again. */
let idle: Kernels | null = null;

/** An instance that nobody else uses. */
export function createKernels(): Kernels {
  const kernels = idle ?? startKernels();
  idle = null;
  return kernels;
}

function startKernels(): Kernels {
  compiled ??= compile();
  const memory = new WebAssembly.Memory({ initial: PAGES, maximum: PAGES });
  const exports = new WebAssembly.Instance(compiled, { env: { memory } }).exports as unknown as Exports;
  const { buffer } = memory;
  let top = PAGE;
  const take = (bytes: number): number => {
    const at = top;
    // Kernels work in vectors and may reach up to 12 bytes past an array.
    top = (at + bytes + 31) & ~15;
    if (top > buffer.byteLength) throw new RangeError('The sound has too many channels to be analysed');
    return at;
  };
  const floats = (count: number): Float32Array => new Float32Array(buffer, take(count * 4), count);
  const staging: Float32Array[] = [];
  const all = new Float32Array(buffer);
  const kernels: Kernels = {
    ...exports,
    memory: all,
    floats,
    doubles: (count) => new Float64Array(buffer, take(count * 8), count),
    visit(arrays, length, handle) {
      if (arrays.every((x) => x.buffer === buffer))
        return handle(
          arrays.map((x) => x.byteOffset),
          0,
          length,
        );
      while (staging.length < arrays.length) staging.push(floats(BLOCK));
      for (let from = 0; from < length; from += BLOCK) {
        const count = Math.min(BLOCK, length - from);
        arrays.forEach((x, c) => staging[c]!.set(x.subarray(from, from + count)));
        handle(
          arrays.map((_, c) => staging[c]!.byteOffset),
          from,
          count,
        );
      }
    },
    release() {
      all.fill(0, PAGE / 4, top / 4);
      top = PAGE;
      staging.length = 0;
      idle = kernels;
    },
  };
  return kernels;
}
