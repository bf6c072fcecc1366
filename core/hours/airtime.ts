/** How long a track is on air: from its audible start to where the next one begins. */
import type { TrackValues } from '../fields/values.ts';

export interface AirTime {
  /** Where in the file it begins, in seconds. */
  start: number;
  /** Seconds until somebody sings, 0 where that is not known. */
  intro: number;
  /** Seconds on air up to its segue point. */
  natural: number;
  /** The same when it is faded as soon as its outro has begun, and when it is heard out. */
  shortest: number;
  longest: number;
}

const number = (value: unknown): number | null => (typeof value === 'number' && Number.isFinite(value) ? value : null);

/** Null for what has no length. */
export function airTime(values: TrackValues): AirTime | null {
  const whole = number(values.durationSeconds);
  if (!whole || whole <= 0) return null;
  const inside = (value: number | null, otherwise: number): number =>
    value === null ? otherwise : Math.min(Math.max(value, start), whole);
  const start = Math.min(Math.max(number(values.audibleStartSeconds) ?? 0, 0), whole);
  const end = inside(number(values.audibleEndSeconds), whole);
  const segue = Math.min(inside(number(values.segueSeconds), end), end);
  const outro = Math.min(inside(number(values.outroStartSeconds), segue), segue);
  const natural = segue - start;
  if (natural <= 0) return null;
  return {
    start,
    intro: inside(number(values.introEndSeconds), start) - start,
    natural,
    // A track that has no outro is not faded.
    shortest: Math.max(outro - start, natural / 2),
    longest: end - start,
  };
}

/** How long each of some tracks is on air so that together they come nearest to a time. */
export function fitted(tracks: readonly AirTime[], seconds: number): { lengths: number[]; off: number } {
  const natural = tracks.reduce((sum, t) => sum + t.natural, 0);
  const wanted = seconds - natural;
  const reach = tracks.map((t) => (wanted > 0 ? t.longest : t.shortest) - t.natural);
  const all = reach.reduce((sum, r) => sum + r, 0);
  const share = all === 0 ? 0 : Math.min(1, wanted / all);
  return { lengths: tracks.map((t, i) => t.natural + reach[i]! * share), off: wanted - all * share };
}
