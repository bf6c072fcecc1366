/** The p-quantile (0 … 1) of values, linear between neighbours; NaN when there are none. */
export function quantile(values: ArrayLike<number>, p: number): number {
  const sorted = Float64Array.from(values).sort();
  if (sorted.length === 0) return Number.NaN;
  const at = p * (sorted.length - 1);
  const low = Math.floor(at);
  const high = Math.min(low + 1, sorted.length - 1);
  return sorted[low]! + (sorted[high]! - sorted[low]!) * (at - low);
}

/** The middle value. */
export const median = (values: ArrayLike<number>): number => quantile(values, 0.5);

/** The mean of values; 1 where it is 0, so that it can be divided by. */
export function meanOrOne(values: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i]!;
  return sum / Math.max(1, values.length) || 1;
}

/** Pearson correlation of two equally long series; 0 when either is constant. */
export function correlation(a: ArrayLike<number>, b: ArrayLike<number>): number {
  const n = a.length;
  let sa = 0,
    sb = 0;
  for (let i = 0; i < n; i++) {
    sa += a[i]!;
    sb += b[i]!;
  }
  let cov = 0,
    va = 0,
    vb = 0;
  for (let i = 0; i < n; i++) {
    const da = a[i]! - sa / n,
      db = b[i]! - sb / n;
    cov += da * db;
    va += da * da;
    vb += db * db;
  }
  return va > 0 && vb > 0 ? cov / Math.sqrt(va * vb) : 0;
}

/** Keeps a number inside [low, high]. */
export const clamp = (value: number, low: number, high: number): number => Math.min(high, Math.max(low, value));
