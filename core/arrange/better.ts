/** Which of two files of one recording is the better one to play. */
import type { TrackValues } from '../fields/values.ts';

const LOSSLESS: ReadonlySet<unknown> = new Set(['FLAC', 'WAV', 'AIFF', 'ALAC']);
/** By so much more has a bit rate to be higher, to be worth a change. */
const RATE_STEP = 1.2;
/** With less of the bandwidth of the other, a file was once encoded more tightly, whatever it says. */
const NARROWER = 0.9;

const number = (value: unknown): number | null => (typeof value === 'number' ? value : null);
export const isLossless = ({ codec, format }: TrackValues): boolean =>
  LOSSLESS.has(String(codec).toUpperCase()) || LOSSLESS.has(format);

/**
 * Why another file is the better one, as the end of a sentence; null where it is not.
 * @example whyBetter(mp3At128, flac) // "lossless"
 */
export function whyBetter(of: TrackValues, other: TrackValues): string | null {
  if (other.fileState !== 'here') return null;
  if (of.fileState !== 'here') return 'its file is there';
  const [width, otherWidth] = [number(of.bandwidthHz), number(other.bandwidthHz)];
  if (width !== null && otherWidth !== null && otherWidth < width * NARROWER) return null;
  if (isLossless(other)) return isLossless(of) ? null : 'lossless';
  if (isLossless(of)) return null;
  const [rate, otherRate] = [number(of.bitrate), number(other.bitrate)];
  if (rate === null || otherRate === null || otherRate < rate * RATE_STEP) return null;
  return `${Math.round(otherRate)} instead of ${Math.round(rate)} kbit/s`;
}

/** The best of some files, and why it is better than the one in hand; null where none is. */
export function bestOf<T extends { values: TrackValues }>(
  of: TrackValues,
  others: readonly T[],
): { track: T; why: string } | null {
  let best: { track: T; why: string } | null = null;
  for (const track of others) {
    const why = whyBetter(best ? best.track.values : of, track.values);
    if (why) best = { track, why: best ? (whyBetter(of, track.values) ?? why) : why };
  }
  return best;
}
