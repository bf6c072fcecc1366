/** A stretch of a set filled: tracks in an order that goes on well and lasts as long as is wished. */
import type { TrackValues } from '../fields/values.ts';
import { follower, type FollowWeights } from './follow.ts';

export interface FillWish {
  /** The entries on both sides of the stretch; null at the ends of the set. */
  before: TrackValues | null;
  after: TrackValues | null;
  /** Energy wished for at a share of the stretch, 0 … 1; null without a wished shape. */
  wishedAt: ((share: number) => number) | null;
  /** Entries whose artists are near. */
  near: readonly TrackValues[];
  /** How long it should last. */
  seconds: number;
  /** No track above this; null for any. */
  maxEnergy: number | null;
  weights: FollowWeights;
}

export interface Filled<T> {
  tracks: T[];
  /** How long they last together. */
  seconds: number;
}

/** So many beginnings are followed up at once, each with so many of the tracks that go on best. */
const BEAM = 12,
  BRANCHES = 8;
/** What a minute too long or too short counts, in points of fit. */
const MINUTE = 8;
const MAX_TRACKS = 60;

const lengthOf = (values: TrackValues): number =>
  typeof values.durationSeconds === 'number' ? values.durationSeconds : 0;

interface Begun<T> {
  tracks: T[];
  seconds: number;
  /** Points of fit that were missed, together. */
  missed: number;
}

/**
 * Chooses tracks for a stretch by beam search: each beginning goes on with what follows best, and the one whose length
 * and transitions are best in the end is taken. Each track is used once; those without a length are left out.
 */
export function fill<T extends { id: number; values: TrackValues }>(
  candidates: readonly T[],
  { before, after, wishedAt, near, seconds, maxEnergy, weights }: FillWish,
): Filled<T> {
  const energyOf = ({ values }: T): number => (typeof values.energy === 'number' ? values.energy : 0);
  const usable = candidates.filter((c) => lengthOf(c.values) > 0 && (maxEnergy === null || energyOf(c) <= maxEnergy));
  const off = (b: Begun<T>): number => (Math.abs(b.seconds - seconds) / 60) * MINUTE;
  const cost = (b: Begun<T>): number => off(b) + b.missed / b.tracks.length;
  let best: Begun<T> | null = null;
  let beam: Begun<T>[] = [{ tracks: [], seconds: 0, missed: 0 }];
  for (let step = 0; step < MAX_TRACKS && beam.length > 0; step++) {
    const next: Begun<T>[] = [];
    for (const begun of beam) {
      const last = begun.tracks.at(-1)?.values ?? before;
      const used = new Set(begun.tracks.map((t) => t.id));
      const place = {
        before: last,
        after: null,
        wished: wishedAt ? wishedAt(Math.min(1, begun.seconds / seconds)) : null,
        near: [...near, ...begun.tracks.slice(-3).map((t) => t.values)],
      };
      const onward = usable
        .filter((c) => !used.has(c.id))
        .map((track) => ({ track, score: follower(track.values, place, weights).score }))
        .sort((a, b) => b.score - a.score || a.track.id - b.track.id)
        .slice(0, BRANCHES);
      for (const { track, score } of onward) {
        const longer: Begun<T> = {
          tracks: [...begun.tracks, track],
          seconds: begun.seconds + lengthOf(track.values),
          missed: begun.missed + 100 - score,
        };
        const whole = after ? { ...longer, missed: longer.missed + intoNext(track.values, after, weights) } : longer;
        if (best === null || cost(whole) < cost(best)) best = { ...longer, missed: whole.missed };
        if (longer.seconds < seconds) next.push(longer);
      }
    }
    beam = next.sort((a, b) => a.missed / a.tracks.length - b.missed / b.tracks.length).slice(0, BEAM);
  }
  return { tracks: best?.tracks ?? [], seconds: best?.seconds ?? 0 };
}

/** Points of fit that are missed on the way into what follows the stretch. */
const intoNext = (last: TrackValues, after: TrackValues, weights: FollowWeights): number =>
  100 - follower(after, { before: last, after: null, wished: null, near: [] }, weights).score;
