/** Tracks that may come to a place of an hour, in the orders in which they are looked through. */
import { EVERYTHING, matches, type Condition } from '../conditions/condition.ts';
import type { Airable } from './airing.ts';
import type { FixedTime } from './clock.ts';

/** Energy and tempo that differ by so much cost as much as a wished rule of weight 10. */
const ENERGY_REACH = 30,
  TEMPO_REACH = 15,
  CONTOUR_WEIGHT = 10;
/** What is not known costs this share. */
const UNKNOWN_SHARE = 0.5;
/** Chance among tracks that fit a contour alike. */
const NOISE = 3;

/** A place for a track. */
export interface Slot {
  name: string;
  /** Which item of the clock it is, from 0. */
  at: number;
  fixed: FixedTime | null;
  from: Condition;
  energy: number | null;
  bpm: number | null;
  /** So much of an intro what is spoken before wants, in seconds; null where nothing is. */
  link: number | null;
  direct: boolean;
  beforeSpoken: boolean;
  /** One of as many places as there is time for: there may be fewer. */
  spare: boolean;
}

/** How long a track takes there, from the end of what is before it to its segue point. */
export const takes = (track: Airable, slot: Pick<Slot, 'link'>): number =>
  track.air.natural - Math.min(track.air.intro, slot.link ?? 0);

const far = (value: number | null, wished: number | null, reach: number): number =>
  wished === null ? 0 : value === null ? UNKNOWN_SHARE : Math.min(1, Math.abs(value - wished) / reach);

/** What a track costs by its distance from a contour. */
export const contourCost = (track: Airable, { energy, bpm }: Pick<Slot, 'energy' | 'bpm'>): number =>
  CONTOUR_WEIGHT * (far(track.energy, energy, ENERGY_REACH) + far(track.bpm, bpm, TEMPO_REACH));

export interface Pool {
  /** All that meet its condition, those that fit best first, with some chance. */
  byContour: readonly { track: Airable; cost: number }[];
  /** The same by how long they take there, and these times. */
  byLength: readonly Airable[];
  lengths: Float64Array;
}

/**
 * Pools of a library; equal conditions and contours are looked at once.
 * @param meets whether a track meets a condition, where its values by themselves do not tell
 */
export function pools(
  tracks: readonly Airable[],
  random: () => number,
  meets: (track: Airable, from: Condition) => boolean = (track, from) => matches(from, track.values),
): (slot: Slot) => Pool {
  const met = new Map<string, readonly Airable[]>(),
    known = new Map<string, Pool>();
  const meeting = (from: Condition): readonly Airable[] => {
    if (from === EVERYTHING) return tracks;
    const key = JSON.stringify(from);
    const there = met.get(key) ?? tracks.filter((t) => meets(t, from));
    met.set(key, there);
    return there;
  };
  return (slot) => {
    const key = JSON.stringify([slot.from, slot.energy, slot.bpm, slot.link]);
    const there = known.get(key);
    if (there) return there;
    const own = meeting(slot.from);
    const byLength = [...own].sort((a, b) => takes(a, slot) - takes(b, slot) || a.id - b.id);
    const pool: Pool = {
      byContour: own
        .map((track) => ({ track, cost: contourCost(track, slot), order: 0 }))
        .map((c) => ({ ...c, order: c.cost + NOISE * random() }))
        .sort((a, b) => a.order - b.order),
      byLength,
      lengths: Float64Array.from(byLength, (t) => takes(t, slot)),
    };
    known.set(key, pool);
    return pool;
  };
}

/** A length that so large a share of a pool does not exceed; 0 in an empty one. */
export const lengthAt = ({ lengths }: Pool, share: number): number =>
  lengths.length === 0 ? 0 : lengths[Math.min(lengths.length - 1, Math.floor(share * lengths.length))]!;
