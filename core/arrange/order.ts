/**
 * What an order costs: the formula of docs/ARRANGING.md. It adds up over neighbours and over places, so that the best
 * order of a few entries can be found exactly, and a change of a long one is judged by what it touches.
 */
import type { FieldValue, TrackValues } from '../fields/values.ts';
import { ENERGY_REACH, fitOf, FIT_WEIGHTS, KEY_SHARES, TEMPO_REACH_PERCENT } from './fit.ts';
import { wishedAt, type ShapePoint } from './shape.ts';
import { transition } from './transition.ts';

/** How much each part counts, 0 (not at all) and up. */
export interface OrderWeights {
  tempo: number;
  key: number;
  energy: number;
  /** Distance from the wished shape. */
  shape: number;
  /** The same artist twice in a row. */
  artist: number;
}
export const DEFAULT_WEIGHTS: OrderWeights = { ...FIT_WEIGHTS, shape: 100, artist: 50 };

/** What a hard transition costs more than its parts say. */
export const HARD_COST = 50;
/** What a part costs, as a share, where it is not known on either side. */
export const UNKNOWN_SHARE = 0.5;

export interface OrderWish {
  weights: OrderWeights;
  /** Null: none is wished for. */
  shape: readonly ShapePoint[] | null;
}

/** An entry to be put in order; null values: no track, which breaks the way from one to the next. */
export interface Orderable {
  values: TrackValues | null;
}

const names = (value: FieldValue | undefined): string[] =>
  (Array.isArray(value) ? value.map(String) : typeof value === 'string' ? [value] : []).map((n) => n.toLowerCase());

/** Have two tracks an artist in common? */
export function sharesArtist(a: TrackValues, b: TrackValues): boolean {
  const there = new Set(names(a.artist));
  return names(b.artist).some((n) => there.has(n));
}

const number = (value: FieldValue | undefined): number | null => (typeof value === 'number' ? value : null);

/** What the parts of a transition cost, as shares from 0 (nothing) to 1. */
export function pairShares(a: TrackValues, b: TrackValues): { tempo: number; key: number; energy: number } {
  const fit = fitOf({ bpm: number(a.bpm), key: typeof a.key === 'string' ? a.key : null, energy: number(a.energy) }, b);
  return {
    tempo:
      fit.tempoStepPercent === null ? UNKNOWN_SHARE : Math.min(1, Math.abs(fit.tempoStepPercent) / TEMPO_REACH_PERCENT),
    key: fit.sameKey ? 0 : fit.keySteps === null ? UNKNOWN_SHARE : 1 - KEY_SHARES[fit.keySteps]!,
    energy: fit.energyStep === null ? UNKNOWN_SHARE : Math.min(1, Math.abs(fit.energyStep) / ENERGY_REACH),
  };
}

/** What it costs that `to` follows `from`; 0 at best. */
export function pairCost(from: Orderable, to: Orderable, weights: OrderWeights): number {
  const [a, b] = [from.values, to.values];
  if (!a || !b) return 0;
  const { tempo, key, energy } = pairShares(a, b);
  return (
    weights.tempo * tempo +
    weights.key * key +
    weights.energy * energy +
    (transition(a, b).grade === 'hard' ? HARD_COST : 0) +
    (sharesArtist(a, b) ? weights.artist : 0)
  );
}

/** What it costs that an entry stands at a place of a set; 0 at best, and where its energy is not known. */
export function shapeCost(entry: Orderable, place: number, count: number, { shape, weights }: OrderWish): number {
  const energy = number(entry.values?.energy);
  if (shape === null || energy === null) return 0;
  const wished = wishedAt(shape, count > 1 ? place / (count - 1) : 0);
  return (weights.shape * Math.abs(energy - wished)) / 100;
}

/** What an order costs as a whole. */
export function orderCost(entries: readonly Orderable[], wish: OrderWish): number {
  return entries.reduce(
    (sum, entry, i) =>
      sum + (i > 0 ? pairCost(entries[i - 1]!, entry, wish.weights) : 0) + shapeCost(entry, i, entries.length, wish),
    0,
  );
}

/** Costs of every pair and every place, worked out once. */
export interface CostTable {
  count: number;
  /** pair[from × count + to] */
  pair: Float64Array;
  /** place[entry × count + place] */
  place: Float64Array;
}

export function costTable(entries: readonly Orderable[], wish: OrderWish): CostTable {
  const count = entries.length,
    pair = new Float64Array(count * count),
    place = new Float64Array(count * count);
  for (let a = 0; a < count; a++)
    for (let b = 0; b < count; b++) {
      if (a !== b) pair[a * count + b] = pairCost(entries[a]!, entries[b]!, wish.weights);
      place[a * count + b] = shapeCost(entries[a]!, b, count, wish);
    }
  return { count, pair, place };
}

/** What an order of a table's entries costs. */
export function tableCost({ count, pair, place }: CostTable, order: ArrayLike<number>): number {
  let sum = 0;
  for (let i = 0; i < order.length; i++) {
    sum += place[order[i]! * count + i]!;
    if (i > 0) sum += pair[order[i - 1]! * count + order[i]!]!;
  }
  return sum;
}

/** What an order comes to in words that people use. */
export interface OrderFigures {
  /** Transitions that do not go together. */
  hard: number;
  /** How far, on average, the energy is off the wished shape; null without a shape or an energy. */
  offShape: number | null;
}

export function orderFigures(entries: readonly Orderable[], shape: readonly ShapePoint[] | null): OrderFigures {
  let hard = 0;
  const off: number[] = [];
  for (const [i, { values }] of entries.entries()) {
    const before = entries[i - 1]?.values;
    if (values && before && transition(before, values).grade === 'hard') hard++;
    const energy = number(values?.energy);
    if (shape && energy !== null)
      off.push(Math.abs(energy - wishedAt(shape, entries.length > 1 ? i / (entries.length - 1) : 0)));
  }
  return { hard, offShape: off.length ? off.reduce((a, b) => a + b, 0) / off.length : null };
}
