/** A network with one hidden layer that learns: gradients, Adam (Kingma & Ba 2015), and a penalty on large weights. */
import type { Network } from '@early-set/core/analysis/fitted/network';
import type { Random } from '@early-set/core/signal/random';

const LEARNING = { first: 0.9, second: 0.999, tiny: 1e-8 };

const LEAST = 2e-4;

interface Part {
  values: Float32Array;
  gradient: Float32Array;
  first: Float32Array;
  second: Float32Array;
  penalised: boolean;
}

export class Trainable {
  readonly inputs: number;
  readonly hidden: number;
  private readonly weights: Part;
  private readonly biases: Part;
  private readonly out: Part;
  private readonly straight: Part;
  private readonly bias: Part;
  private steps = 0;

  constructor(inputs: number, hidden: number, straight: boolean, random: Random) {
    this.inputs = inputs;
    this.hidden = hidden;
    const spread = (count: number, fanIn: number): Part =>
      part(count, true, () => (0.52 * (2 * random() - 1)) / Math.sqrt(fanIn));
    this.weights = spread(inputs * hidden, inputs);
    this.biases = part(hidden, false);
    this.out = spread(hidden, hidden);
    this.straight = part(straight ? inputs : 0, true);
    this.bias = part(1, false);
  }

  /** Outputs for rows of inputs, and the hidden layer that backward() asks for. */
  forward(rows: Float32Array, count: number, activations: Float32Array, outputs: Float32Array): void {
    const { inputs, hidden } = this;
    const w = this.weights.values,
      b = this.biases.values,
      o = this.out.values,
      s = this.straight.values;
    for (let r = 0; r < count; r++) {
      const from = r * inputs;
      let sum = this.bias.values[0]!;
      for (let h = 0, at = 0; h < hidden; h++, at += inputs) {
        let v = b[h]!;
        for (let i = 0; i < inputs; i++) v += w[at + i]! * rows[from + i]!;
        const a = Math.tanh(v);
        activations[r * hidden + h] = a;
        sum += o[h]! * a;
      }
      for (let i = 0; i < s.length; i++) sum += s[i]! * rows[from + i]!;
      outputs[r] = sum;
    }
  }

  /** Adds to the gradients what each row's output ought to change by. */
  backward(rows: Float32Array, count: number, activations: Float32Array, errors: Float32Array): void {
    const { inputs, hidden } = this;
    const o = this.out.values,
      gw = this.weights.gradient,
      gb = this.biases.gradient,
      go = this.out.gradient,
      gs = this.straight.gradient;
    for (let r = 0; r < count; r++) {
      const e = errors[r]!;
      // Of most rows there is next to nothing to learn.
      if (e < LEAST && e > -LEAST) continue;
      const from = r * inputs;
      this.bias.gradient[0]! += e;
      for (let h = 0, at = 0; h < hidden; h++, at += inputs) {
        const a = activations[r * hidden + h]!;
        go[h]! += e * a;
        const d = e * o[h]! * (1 - a * a);
        gb[h]! += d;
        for (let i = 0; i < inputs; i++) gw[at + i]! += d * rows[from + i]!;
      }
      for (let i = 0; i < gs.length; i++) gs[i]! += e * rows[from + i]!;
    }
  }

  /** One step down the gradients that were added for so many cases. */
  step(cases: number, rate: number, penalty: number): void {
    this.steps++;
    const first = 1 - LEARNING.first ** this.steps,
      second = 1 - LEARNING.second ** this.steps;
    for (const p of [this.weights, this.biases, this.out, this.straight, this.bias])
      for (let i = 0; i < p.values.length; i++) {
        const g = p.gradient[i]! / cases + (p.penalised ? penalty * p.values[i]! : 0);
        p.gradient[i] = 0;
        p.first[i] = LEARNING.first * p.first[i]! + (1 - LEARNING.first) * g;
        p.second[i] = LEARNING.second * p.second[i]! + (1 - LEARNING.second) * g * g;
        p.values[i]! -= (rate * (p.first[i]! / first)) / (Math.sqrt(p.second[i]! / second) + LEARNING.tiny);
      }
  }

  network(): Network {
    return {
      inputs: this.inputs,
      hidden: this.hidden,
      weights: this.weights.values,
      biases: this.biases.values,
      out: this.out.values,
      straight: this.straight.values,
      bias: this.bias.values[0]!,
    };
  }
}

function part(count: number, penalised: boolean, value: () => number = () => 0): Part {
  return {
    values: Float32Array.from({ length: count }, value),
    gradient: new Float32Array(count),
    first: new Float32Array(count),
    second: new Float32Array(count),
    penalised,
  };
}
