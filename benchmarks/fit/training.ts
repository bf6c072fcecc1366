/** The compiled loops of learning (assembly/training.ts) with the memory that they work in. */

interface Loops {
  forward(
    ...of: [
      ...[rows: number, count: number, inputs: number, hidden: number],
      ...[weights: number, biases: number, out: number, straight: number, bias: number],
      ...[active: number, outputs: number],
    ]
  ): void;
  backward(
    ...of: [
      ...[rows: number, count: number, inputs: number, hidden: number, active: number, errors: number, out: number],
      ...[least: number, ofWeights: number, ofBiases: number, ofOut: number, ofStraight: number],
    ]
  ): number;
}

export interface Training extends Loops {
  /** Zeroed memory that is never given back. */
  floats(count: number): Float32Array;
  /** Where an array lies; 0 for an empty one. @throws RangeError when it lies elsewhere */
  at(array: Float32Array): number;
}

const PAGE = 65_536;

/** Starts an instance. @param binary as scripts/lib/kernels.mjs compiles it */
export function openTraining(binary: Uint8Array, megabytes = 16): Training {
  const memory = new WebAssembly.Memory({ initial: (megabytes * 2 ** 20) / PAGE });
  const compiled = new WebAssembly.Module(binary as Uint8Array<ArrayBuffer>);
  const { forward, backward } = new WebAssembly.Instance(compiled, { env: { memory } }).exports as unknown as Loops;
  let top = PAGE;
  return {
    forward,
    backward,
    floats(count) {
      const from = top;
      top = (from + 4 * count + 15) & ~15;
      return new Float32Array(memory.buffer, from, count);
    },
    at(array) {
      if (array.length === 0) return 0;
      if (array.buffer !== memory.buffer) throw new RangeError('This array lies outside of the memory of the loops');
      return array.byteOffset;
    },
  };
}
