/** Search in sorted lists. */

/** The place in a sorted list of the first that is not smaller. */
export function firstFrom(sorted: ArrayLike<number>, value: number): number {
  let low = 0,
    high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
