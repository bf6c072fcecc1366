/** Made-up sets to be put in order, the same ones each time. */
import { DEFAULT_WEIGHTS, type Orderable, type OrderWish } from '@early-set/core/arrange/order';
import { readShape, SHAPES } from '@early-set/core/arrange/shape';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { seeded } from '../../demo/synth/random.ts';

export interface Problem {
  entries: Orderable[];
  wish: OrderWish;
  pinned: ReadonlySet<number>;
}

/** A set as somebody has it in a crate: one style with its tempo, few keys unknown, an artist now and then again. */
export function problem(seed: number, count: number): Problem {
  const random = seeded(seed);
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]!;
  const middle = 95 + random() * 45;
  const entries = Array.from({ length: count }, () => ({
    values: {
      bpm: random() < 0.03 ? null : middle * (1 + (random() + random() - 1) * 0.09),
      key: random() < 0.05 ? null : pick(ALL_KEYS),
      energy: Math.round(100 * Math.min(1, Math.max(0, 0.55 + (random() + random() - 1) * 0.45))),
      artist: [`Artist ${Math.floor(random() * Math.max(3, count * 0.6))}`],
    },
  }));
  const shape = pick([null, ...SHAPES]);
  const pins = random() < 0.5 ? [] : [0, Math.floor(random() * count)];
  return {
    entries,
    wish: { weights: DEFAULT_WEIGHTS, shape: shape && readShape(shape) },
    pinned: new Set(pins),
  };
}
