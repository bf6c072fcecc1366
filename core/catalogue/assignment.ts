/** The pairing of rows with columns that is best as a whole. */

/**
 * Kuhn's assignment with potentials (the Hungarian method; Kuhn 1955, Munkres 1957), O(rows² × columns).
 * @param scores rows × columns, higher is better; pairs below `least` are not made
 * @returns the column of each row, −1 for none
 */
export function bestAssignment(scores: readonly (readonly number[])[], least: number): number[] {
  const rows = scores.length,
    real = scores[0]?.length ?? 0;
  if (rows === 0 || real === 0) return scores.map(() => -1);
  // A column for each row that stands for "none", worth just what a pair has to be worth.
  const columns = real + rows;
  const cost = (i: number, j: number): number =>
    -(j < real ? (scores[i]![j]! >= least ? scores[i]![j]! : -1e6) : j - real === i ? least - 1e-9 : -1e6);
  const u = new Float64Array(rows + 1),
    v = new Float64Array(columns + 1),
    rowOf = new Int32Array(columns + 1),
    way = new Int32Array(columns + 1);
  for (let i = 1; i <= rows; i++) {
    rowOf[0] = i;
    let at = 0;
    const least = new Float64Array(columns + 1).fill(Infinity),
      used = new Uint8Array(columns + 1);
    do {
      used[at] = 1;
      const row = rowOf[at]!;
      let delta = Infinity,
        next = 0;
      for (let j = 1; j <= columns; j++) {
        if (used[j]) continue;
        const reduced = cost(row - 1, j - 1) - u[row]! - v[j]!;
        if (reduced < least[j]!) {
          least[j] = reduced;
          way[j] = at;
        }
        if (least[j]! < delta) {
          delta = least[j]!;
          next = j;
        }
      }
      for (let j = 0; j <= columns; j++) {
        if (used[j]) {
          u[rowOf[j]!]! += delta;
          v[j]! -= delta;
        } else least[j]! -= delta;
      }
      at = next;
    } while (rowOf[at] !== 0);
    do {
      const before = way[at]!;
      rowOf[at] = rowOf[before]!;
      at = before;
    } while (at !== 0);
  }
  const out = scores.map(() => -1);
  for (let j = 1; j <= real; j++) if (rowOf[j]! > 0) out[rowOf[j]! - 1] = j - 1;
  return out;
}
