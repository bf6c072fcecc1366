/** Choosing one of several by a weighted sum of what is known of each: a softmax fitted by gradient descent. */

/** Candidates of one case, and which is the right one. */
export interface Case {
  candidates: ArrayLike<number>[];
  right: number;
}

export interface FitOptions {
  penalty: number;
  rounds?: number;
  /** Weights to stay near; zeros where not given. */ prior?: ArrayLike<number>;
}

/** Fits weights; the penalty is on their squared distance from the prior, per case. */
export function fitSoftmax(cases: Case[], { penalty, rounds = 1500, prior }: FitOptions): Float64Array {
  const width = cases[0]!.candidates[0]!.length;
  const weights = Float64Array.from({ length: width }, (_, i) => prior?.[i] ?? 0);
  const first = new Float64Array(width),
    second = new Float64Array(width),
    gradient = new Float64Array(width);
  for (let round = 1; round <= rounds; round++) {
    gradient.fill(0);
    for (const { candidates, right } of cases) {
      const p = probabilities(candidates, weights);
      for (const [c, x] of candidates.entries()) {
        const g = (p[c]! - (c === right ? 1 : 0)) / cases.length;
        for (let i = 0; i < width; i++) gradient[i]! += g * x[i]!;
      }
    }
    // Adam (Kingma & Ba 2015)
    for (let i = 0; i < width; i++) {
      const g = gradient[i]! + penalty * (weights[i]! - (prior?.[i] ?? 0));
      first[i] = 0.9 * first[i]! + 0.1 * g;
      second[i] = 0.999 * second[i]! + 0.001 * g * g;
      weights[i]! -= (0.05 * (first[i]! / (1 - 0.9 ** round))) / (Math.sqrt(second[i]! / (1 - 0.999 ** round)) + 1e-8);
    }
  }
  return weights;
}

/** Probability of each candidate under the weights. */
export function probabilities(candidates: ArrayLike<number>[], weights: ArrayLike<number>): number[] {
  const scores = candidates.map((x) => {
    let s = 0;
    for (let i = 0; i < x.length; i++) s += x[i]! * weights[i]!;
    return s;
  });
  const top = Math.max(...scores);
  const all = scores.map((s) => Math.exp(s - top));
  const sum = all.reduce((a, b) => a + b, 0);
  return all.map((v) => v / sum);
}

/** Share of cases whose most probable candidate is the right one. */
export const hitRate = (cases: Case[], weights: ArrayLike<number>): number =>
  cases.filter(({ candidates, right }) => {
    const p = probabilities(candidates, weights);
    return p.indexOf(Math.max(...p)) === right;
  }).length / Math.max(1, cases.length);
