/** What a small network spends its time on while it learns (AssemblyScript); see ../trainable.ts for what it means. */

// @ts-ignore: decorator
@inline
function f(base: usize, index: usize): f32 { return load<f32>(base + (index << 2)); }

/** The sum of products of n floats. */
function dot(a: usize, b: usize, n: usize): f32 {
  let even = f32x4.splat(0), odd = f32x4.splat(0), i: usize = 0;
  for (; i + 8 <= n; i += 8) {
    even = f32x4.add(even, f32x4.mul(v128.load(a + (i << 2)), v128.load(b + (i << 2))));
    odd = f32x4.add(odd, f32x4.mul(v128.load(a + (i << 2), 16), v128.load(b + (i << 2), 16)));
  }
  even = f32x4.add(even, odd);
  let sum = f32x4.extract_lane(even, 0) + f32x4.extract_lane(even, 1) + f32x4.extract_lane(even, 2) + f32x4.extract_lane(even, 3);
  for (; i < n; i++) sum += f(a, i) * f(b, i);
  return sum;
}

/** Adds n floats, times a number, to others. */
function addScaled(to: usize, x: usize, n: usize, by: f32): void {
  const k = f32x4.splat(by);
  let i: usize = 0;
  for (; i + 4 <= n; i += 4) v128.store(to + (i << 2), f32x4.add(v128.load(to + (i << 2)), f32x4.mul(k, v128.load(x + (i << 2)))));
  for (; i < n; i++) store<f32>(to + (i << 2), f(to, i) + by * f(x, i));
}

/** @param straight 0 where nothing goes straight from the inputs to the output */
export function forward(rows: usize, count: usize, inputs: usize, hidden: usize, weights: usize, biases: usize, out: usize, straight: usize, bias: f32, active: usize, outputs: usize): void {
  for (let r: usize = 0; r < count; r++) {
    const x = rows + ((r * inputs) << 2), own = active + ((r * hidden) << 2);
    let sum = bias;
    for (let h: usize = 0; h < hidden; h++) {
      const a = Mathf.tanh(f(biases, h) + dot(weights + ((h * inputs) << 2), x, inputs));
      store<f32>(own + (h << 2), a);
      sum += f(out, h) * a;
    }
    if (straight) sum += dot(straight, x, inputs);
    store<f32>(outputs + (r << 2), sum);
  }
}

/**
 * Adds to the gradients.
 * @param least rows whose output ought to change by less teach next to nothing, and are passed over
 * @returns the gradient of the bias
 */
export function backward(rows: usize, count: usize, inputs: usize, hidden: usize, active: usize, errors: usize, out: usize, least: f32, ofWeights: usize, ofBiases: usize, ofOut: usize, ofStraight: usize): f32 {
  let ofBias: f32 = 0;
  for (let r: usize = 0; r < count; r++) {
    const e = f(errors, r);
    if (e < least && e > -least) continue;
    const x = rows + ((r * inputs) << 2), own = active + ((r * hidden) << 2);
    ofBias += e;
    addScaled(ofOut, own, hidden, e);
    for (let h: usize = 0; h < hidden; h++) {
      const a = f(own, h), d = e * f(out, h) * (1 - a * a);
      store<f32>(ofBiases + (h << 2), f(ofBiases, h) + d);
      addScaled(ofWeights + ((h * inputs) << 2), x, inputs, d);
    }
    if (ofStraight) addScaled(ofStraight, x, inputs, e);
  }
  return ofBias;
}
