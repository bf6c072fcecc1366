/** What could follow: tracks ranked for a place between two entries of a set. */
import type { FieldValue, TrackValues } from '../fields/values.ts';
import { ENERGY_REACH } from './fit.ts';
import { pairShares, sharesArtist } from './order.ts';
import { transition } from './transition.ts';

/** How much each part counts, 0 … 100. */
export interface FollowWeights {
  tempo: number;
  key: number;
  energy: number;
  /** Nearness to the wished shape at that place. */
  shape: number;
  rating: number;
  /** That its artist is not near. */
  artist: number;
  /** That it was not used lately. */
  used: number;
}
export const DEFAULT_FOLLOW: FollowWeights = {
  tempo: 80,
  key: 60,
  energy: 60,
  shape: 50,
  rating: 20,
  artist: 40,
  used: 30,
};

/** The place that is to be filled. */
export interface FollowPlace {
  /** The entry before it; null at the top. */
  before: TrackValues | null;
  after: TrackValues | null;
  /** Energy wished for there; null without a wished shape. */
  wished: number | null;
  /** Entries whose artists are near. */
  near: readonly TrackValues[];
  /** Today, in milliseconds since 1970; without it nothing counts as used lately. */
  now?: number;
}

export interface Follower {
  /** 0 … 100. */
  score: number;
  /** In words: how it goes on from the entry before, then what else speaks for or against it. */
  reasons: string[];
}

/** A rating that was not given counts as a middling one. */
const UNRATED_SHARE = 0.5;
const BEST_RATING = 5;
/** What was used longer ago is as good as unused. */
const USED_REACH_DAYS = 60;
const DAY_MS = 86_400_000;

const daysSince = (value: FieldValue | undefined, now: number | undefined): number | null =>
  typeof value === 'string' && now !== undefined ? Math.floor((now - Date.parse(value)) / DAY_MS) : null;

const usedInWords = (days: number): string =>
  days < 1 ? 'used today' : `used ${days} ${days === 1 ? 'day' : 'days'} ago`;

/** How well a track would stand at a place. */
export function follower(track: TrackValues, place: FollowPlace, weights: FollowWeights): Follower {
  const { before, after, wished, near } = place;
  const parts: [weight: number, share: number][] = [];
  for (const [a, b] of [
    [before, track],
    [track, after],
  ] as const) {
    if (!a || !b) continue;
    const costs = pairShares(a, b);
    parts.push([weights.tempo, 1 - costs.tempo], [weights.key, 1 - costs.key], [weights.energy, 1 - costs.energy]);
  }
  const energy = typeof track.energy === 'number' ? track.energy : null;
  if (wished !== null && energy !== null)
    parts.push([weights.shape, Math.max(0, 1 - Math.abs(energy - wished) / ENERGY_REACH)]);
  const rating = typeof track.rating === 'number' ? track.rating : null;
  parts.push([weights.rating, rating === null ? UNRATED_SHARE : rating / BEST_RATING]);
  const close = near.some((other) => sharesArtist(other, track));
  parts.push([weights.artist, close ? 0 : 1]);
  const days = daysSince(track.lastUsed, place.now);
  parts.push([weights.used, days === null ? 1 : Math.min(1, Math.max(0, days) / USED_REACH_DAYS)]);
  const all = parts.reduce((sum, [weight]) => sum + weight, 0);
  const reached = parts.reduce((sum, [weight, share]) => sum + weight * share, 0);
  const onward = before && transition(before, track);
  const next = after && transition(track, after);
  return {
    score: all > 0 ? Math.round((100 * reached) / all) : 0,
    reasons: [
      ...(onward ? onward.reasons : []),
      ...(next?.grade === 'hard' ? ['hard into the next'] : []),
      ...(close ? ['same artist near'] : []),
      ...(days !== null && days < USED_REACH_DAYS ? [usedInWords(days)] : []),
    ],
  };
}

/** The best first; of equal ones the order given stays. */
export const ranked = <T extends { values: TrackValues }>(
  tracks: readonly T[],
  place: FollowPlace,
  weights: FollowWeights,
): (T & { follower: Follower })[] =>
  tracks
    .map((track) => ({ ...track, follower: follower(track.values, place, weights) }))
    .sort((a, b) => b.follower.score - a.follower.score);
