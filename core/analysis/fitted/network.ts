/** Small networks with one hidden layer (tanh), and their weights as text. */

export interface Network {
  inputs: number;
  hidden: number;
  /** hidden · inputs, row by row. */
  weights: Float32Array;
  biases: Float32Array;
  /** From the hidden layer to the one output. */
  out: Float32Array;
  /** From the inputs straight to the output; none where empty. */
  straight: Float32Array;
  bias: number;
}

/** The output for a vector of `inputs` values. */
export function outputOf(network: Network, x: ArrayLike<number>): number {
  const { inputs, hidden, weights, biases, out, straight, bias } = network;
  let sum = bias;
  for (let h = 0, at = 0; h < hidden; h++, at += inputs) {
    let s = biases[h]!;
    for (let i = 0; i < inputs; i++) s += weights[at + i]! * x[i]!;
    sum += out[h]! * Math.tanh(s);
  }
  for (let i = 0; i < straight.length; i++) sum += straight[i]! * x[i]!;
  return sum;
}

/** Twelve bits a value, two letters of this alphabet each. */
const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_';
const HALF = 2048;

export interface Packed {
  scale: number;
  text: string;
}

/** Values as text, in units of their largest. */
export function packed(values: ArrayLike<number>): Packed {
  let scale = 0;
  for (let i = 0; i < values.length; i++) scale = Math.max(scale, Math.abs(values[i]!));
  scale = Number((scale / (HALF - 1)).toPrecision(6)) || 1;
  let text = '';
  for (let i = 0; i < values.length; i++) {
    const whole = Math.max(-HALF, Math.min(HALF - 1, Math.round(values[i]! / scale))) + HALF;
    text += LETTERS[whole >> 6]! + LETTERS[whole & 63]!;
  }
  return { scale, text };
}

export function unpacked({ scale, text }: Packed): Float32Array {
  const out = new Float32Array(text.length / 2);
  for (let i = 0; i < out.length; i++)
    out[i] = (LETTERS.indexOf(text[2 * i]!) * 64 + LETTERS.indexOf(text[2 * i + 1]!) - HALF) * scale;
  return out;
}

/** What is read of a grid: one network for a period alone, one for a picture of a bar of so many beats. */
export interface ReadingNetworks {
  beat: Network;
  bars: Record<2 | 3 | 4, Network>;
}

/** A network for each mode, which says how well a tonic fits what is seen from it; scores are divided by `calm`. */
export interface KeyNetworks {
  major: Network;
  minor: Network;
  calm: number;
}

/** Everything that was learnt from music whose truth is known. */
export interface Fitted {
  readings: ReadingNetworks;
  keys: KeyNetworks;
  /** Weights of a logistic sum over what speaks for a tempo (`engine`), a constant first. */
  tempoSure: readonly number[];
}

/** A network as it is written down. */
export interface PackedNetwork {
  inputs: number;
  hidden: number;
  weights: Packed;
  biases: Packed;
  out: Packed;
  straight: Packed;
  bias: number;
}
/** All that is fitted, as it is written down. */
export interface PackedWeights {
  beat: PackedNetwork;
  bars: Record<2 | 3 | 4, PackedNetwork>;
  keys: { major: PackedNetwork; minor: PackedNetwork; calm: number };
  tempoSure: readonly number[];
}
