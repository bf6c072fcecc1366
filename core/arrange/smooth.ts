/**
 * The best order of a set: entries are moved so that what an order costs (core/arrange/order) gets as small as can be;
 * pinned ones keep their places. Up to twelve free entries the very best order is found (dynamic programming over sets,
 * Held and Karp, "A dynamic programming approach to sequencing problems", 1962); of more, simulated annealing
 * (Kirkpatrick, Gelatt and Vecchi, "Optimization by simulated annealing", 1983) with moves, swaps and turned stretches,
 * each judged by what it touches, and a descent at the end.
 */
import { seeded } from '../signal/random.ts';
import { tableCost, type CostTable } from './order.ts';

/** So many free entries are put in order exactly. */
export const MAX_EXACT = 12;
/** Rounds of annealing; the best counts. */
const ROUNDS = 3;
/** Trials a round and entry, at most so many a round. */
const TRIALS_PER_ENTRY = 8_000,
  MAX_TRIALS = 1_200_000;
/** Longest stretch that is moved over or turned in one trial, in entries. */
const MAX_STRETCH = 40;
/** The temperature goes from this share of a usual step's cost to this one. */
const HOT = 0.6,
  COLD = 0.004;

export interface SmoothOptions {
  /** Places whose entries stay. */
  pinned: ReadonlySet<number>;
  /** Told now and then how much is done, 0 … 1. */
  progress?: (share: number) => void;
  /** Annealing even where the exact order could be found; to measure it. */
  exact?: boolean;
}

/** The best order found: at each place the index of the entry that comes there. Never costs more than the one given. */
export function smooth(table: CostTable, { pinned, progress, exact = true }: SmoothOptions): number[] {
  const given = Array.from({ length: table.count }, (_, i) => i);
  const free = given.filter((i) => !pinned.has(i));
  if (free.length < 2) return given;
  const found = exact && free.length <= MAX_EXACT ? exactOrder(table, free) : annealed(table, free, progress);
  return tableCost(table, found) < tableCost(table, given) - 1e-9 ? found : given;
}

/** The very best order of the entries at the free places. */
function exactOrder({ count, pair, place }: CostTable, free: readonly number[]): number[] {
  const n = free.length,
    sets = 1 << n;
  const best = new Float64Array(sets * n).fill(Infinity),
    from = new Int8Array(sets * n).fill(-1);
  const cost = (a: number, b: number): number => pair[a * count + b]!;
  /** What stands between the k-th free place and the one before it, with entries at both. */
  const way = (k: number, before: number, entry: number): number => {
    const at = free[k]!;
    if (k === 0) return at > 0 ? cost(at - 1, entry) : 0;
    const former = free[k - 1]!;
    return at === former + 1 ? cost(before, entry) : cost(before, former + 1) + cost(at - 1, entry);
  };
  const placed = (k: number, entry: number): number => place[entry * count + free[k]!]!;
  for (let e = 0; e < n; e++) best[(1 << e) * n + e] = way(0, -1, free[e]!) + placed(0, free[e]!);
  for (let set = 1; set < sets; set++) {
    let k = 0;
    for (let rest = set; rest; rest &= rest - 1) k++;
    if (k === n) continue;
    for (let last = 0; last < n; last++) {
      const so = best[set * n + last]!;
      if (so === Infinity) continue;
      for (let e = 0; e < n; e++) {
        if (set & (1 << e)) continue;
        const to = (set | (1 << e)) * n + e,
          sum = so + way(k, free[last]!, free[e]!) + placed(k, free[e]!);
        if (sum < best[to]!) {
          best[to] = sum;
          from[to] = last;
        }
      }
    }
  }
  const end = free[n - 1]!;
  let last = 0,
    least = Infinity;
  for (let e = 0; e < n; e++) {
    const sum = best[(sets - 1) * n + e]! + (end < count - 1 ? cost(free[e]!, end + 1) : 0);
    if (sum < least) [least, last] = [sum, e];
  }
  const order = Array.from({ length: count }, (_, i) => i);
  for (let set = sets - 1, k = n - 1; k >= 0; k--) {
    order[free[k]!] = free[last]!;
    const former = from[set * n + last]!;
    set ^= 1 << last;
    last = former;
  }
  return order;
}

function annealed(table: CostTable, free: readonly number[], progress?: (share: number) => void): number[] {
  const { count, pair, place } = table;
  let best = Array.from({ length: count }, (_, i) => i),
    least = tableCost(table, best);
  const trials = Math.min(MAX_TRIALS, TRIALS_PER_ENTRY * free.length);
  const usual = least / count || 1;
  for (let round = 0; round < ROUNDS; round++) {
    const order = Int32Array.from(best);
    const search = searching(order, count, pair, place, free);
    const random = seeded(round + 1);
    const cooling = Math.pow(COLD / HOT, 1 / trials);
    let heat = usual * HOT,
      now = least,
      lowest = Infinity,
      kept = Int32Array.from(order);
    for (let i = 0; i < trials; i++, heat *= cooling) {
      const kind = random(),
        a = Math.floor(random() * free.length);
      const reach = Math.min(MAX_STRETCH, free.length - 1);
      const b =
        kind < 0.3
          ? Math.floor(random() * free.length)
          : Math.max(0, Math.min(free.length - 1, a + Math.round((random() * 2 - 1) * reach)));
      if (a === b) continue;
      const change = kind < 0.3 ? search.swap : kind < 0.75 ? search.move : search.turn;
      const delta = change(a, b);
      if (delta <= 0 || random() < Math.exp(-delta / heat)) {
        now += delta;
        if (now < lowest - 1e-9) {
          lowest = now;
          kept = Int32Array.from(order);
        }
      } else search.back();
      if (i % 50_000 === 0) progress?.((round + i / trials) / ROUNDS);
    }
    order.set(kept);
    descend(search, free.length);
    const cost = tableCost(table, order);
    if (cost < least) [best, least] = [[...order], cost];
  }
  return best;
}

interface Search {
  /** Each changes the order between two free places and says what that costs; `back` takes the last one back. */
  swap: (a: number, b: number) => number;
  move: (a: number, b: number) => number;
  turn: (a: number, b: number) => number;
  back: () => void;
}

function searching(
  order: Int32Array,
  count: number,
  pair: Float64Array,
  place: Float64Array,
  free: readonly number[],
): Search {
  let undo: () => void = () => undefined;
  /** What the places from..to cost, with the ways into and out of them. */
  const around = (from: number, to: number): number => {
    let sum = 0;
    for (let i = from; i <= to; i++) {
      sum += place[order[i]! * count + i]!;
      if (i > 0) sum += pair[order[i - 1]! * count + order[i]!]!;
    }
    return to + 1 < count ? sum + pair[order[to]! * count + order[to + 1]!]! : sum;
  };
  const exchange = (a: number, b: number): void => {
    const at = free[a]!,
      to = free[b]!,
      entry = order[at]!;
    order[at] = order[to]!;
    order[to] = entry;
  };
  const shift = (a: number, b: number): void => {
    const entry = order[free[a]!]!,
      by = a < b ? 1 : -1;
    for (let i = a; i !== b; i += by) order[free[i]!] = order[free[i + by]!]!;
    order[free[b]!] = entry;
  };
  const reverse = (a: number, b: number): void => {
    for (let i = a, j = b; i < j; i++, j--) exchange(i, j);
  };
  const judged = (a: number, b: number, does: () => void, undoes: () => void): number => {
    const from = free[Math.min(a, b)]!,
      to = free[Math.max(a, b)]!;
    const before = around(from, to);
    does();
    undo = undoes;
    return around(from, to) - before;
  };
  /** Of two places that lie apart, only what is around each. */
  const swap = (a: number, b: number): number => {
    const from = free[Math.min(a, b)]!,
      to = free[Math.max(a, b)]!;
    undo = () => exchange(a, b);
    if (to - from < 2) return judged(a, b, undo, undo);
    const before = around(from, from) + around(to, to);
    exchange(a, b);
    return around(from, from) + around(to, to) - before;
  };
  return {
    swap,
    move: (a, b) =>
      judged(
        a,
        b,
        () => shift(a, b),
        () => shift(b, a),
      ),
    turn: (a, b) => {
      const [from, to] = a < b ? [a, b] : [b, a];
      const turn = (): void => reverse(from, to);
      return judged(from, to, turn, turn);
    },
    back: () => undo(),
  };
}

/** Takes every change that costs less, until there is none. */
function descend({ swap, move, turn, back }: Search, places: number): void {
  for (let better = true; better;) {
    better = false;
    for (let a = 0; a < places; a++)
      for (let b = 0; b < places; b++) {
        const far = Math.abs(a - b) > 2 * MAX_STRETCH;
        if (a === b || (far && a > b)) continue;
        for (const change of far ? [swap] : a < b ? [swap, move, turn] : [move]) {
          if (change(a, b) < -1e-9) better = true;
          else back();
        }
      }
  }
}
