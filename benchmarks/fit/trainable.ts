/** A network with one hidden layer that learns: gradients, Adam (Kingma & Ba 2015), and a penalty on large weights. */
import type { Network } from '@early-set/core/analysis/fitted/network';
import type { Random } from '@early-set/core/signal/random';
import type { Training } from './training.ts';

const LEARNING = { first: 0.9, second: 0.999, tiny: 1e-8 };

/** Of most rows there is next to nothing to learn. */
const LEAST = 2e-4;

interface Part {
  values: Float32Array;
  gradient: Float32Array;
  first: Float32Array;
  second: Float32Array;
  penalised: boolean;
}

export class Trainable {
  private readonly training: Training;
  readonly inputs: number;
  readonly hidden: number;
  private readonly weights: Part;
  private readonly biases: Part;
  private readonly out: Part;
  private readonly straight: Part;
  private readonly bias: Part;
  private steps = 0;

  constructor(training: Training, inputs: number, hidden: number, straight: boolean, random: Random) {
    this.training = training;
    this.inputs = inputs;
    this.hidden = hidden;
    const part = (count: number, penalised: boolean, value: () => number = () => 0): Part =>
      newPart(training, count, penalised, value);
    const spread = (count: number, fanIn: number): Part =>
      part(count, true, () => (0.52 * (2 * random() - 1)) / Math.sqrt(fanIn));
    this.weights = spread(inputs * hidden, inputs);
    this.biases = part(hidden, false);
    this.out = spread(hidden, hidden);
    this.straight = part(straight ? inputs : 0, true);
    this.bias = part(1, false);
  }

  /** Outputs for rows of inputs, and the hidden layer that backward() asks for. All arrays lie in the memory. */
  forward(rows: Float32Array, count: number, activations: Float32Array, outputs: Float32Array): void {
    const { training, inputs, hidden, weights, biases, out, straight, bias } = this;
    const { at } = training;
    training.forward(
      ...([at(rows), count, inputs, hidden] as const),
      ...([at(weights.values), at(biases.values), at(out.values), at(straight.values), bias.values[0]!] as const),
      ...([at(activations), at(outputs)] as const),
    );
  }

  /** Adds to the gradients what each row's output ought to change by. */
  backward(rows: Float32Array, count: number, activations: Float32Array, errors: Float32Array): void {
    const { training, inputs, hidden, weights, biases, out, straight, bias } = this;
    const { at } = training;
    bias.gradient[0]! += training.backward(
      ...([at(rows), count, inputs, hidden, at(activations), at(errors), at(out.values), LEAST] as const),
      ...([at(weights.gradient), at(biases.gradient), at(out.gradient), at(straight.gradient)] as const),
    );
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
      weights: this.weights.values.slice(),
      biases: this.biases.values.slice(),
      out: this.out.values.slice(),
      straight: this.straight.values.slice(),
      bias: this.bias.values[0]!,
    };
  }
}

function newPart(training: Training, count: number, penalised: boolean, value: () => number): Part {
  const values = training.floats(count);
  for (let i = 0; i < count; i++) values[i] = value();
  return {
    values,
    gradient: training.floats(count),
    first: new Float32Array(count),
    second: new Float32Array(count),
    penalised,
  };
}
