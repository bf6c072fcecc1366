/**
 * Gain for playout: how far a track or an album lies from a target, and whether its peaks would go over the ceiling.
 */

export interface PlayoutGain {
  /** dB to the target, peaks not looked at. */
  gainDb: number;
  /** True peak after it, dBTP; null when not known. */
  peakDbtp: number | null;
  /** Would go over the ceiling. */
  clips: boolean;
  /** The largest gain up to the target that keeps the ceiling. */
  safeGainDb: number;
}

/** The gain of something at a loudness with a true peak. */
export function playoutGain(
  lufs: number,
  truePeakDbtp: number | null,
  target: { lufs: number; ceilingDbtp: number },
): PlayoutGain {
  const gainDb = target.lufs - lufs;
  const peakDbtp = truePeakDbtp === null ? null : truePeakDbtp + gainDb;
  const clips = peakDbtp !== null && peakDbtp > target.ceilingDbtp + 1e-9;
  return { gainDb, peakDbtp, clips, safeGainDb: clips ? gainDb - (peakDbtp - target.ceilingDbtp) : gainDb };
}

/**
 * Loudness of an album as a whole: the mean power of its tracks, each by its length. Tracks' own gates have been
 * applied, those of the album as one programme are not; the two differ where tracks differ by more than 10 LU.
 */
export function albumLoudness(
  tracks: readonly { lufs: number; seconds: number; truePeakDbtp: number | null }[],
): { lufs: number; truePeakDbtp: number | null } | null {
  const total = tracks.reduce((sum, t) => sum + t.seconds, 0);
  if (total <= 0) return null;
  const power = tracks.reduce((sum, t) => sum + t.seconds * 10 ** (t.lufs / 10), 0) / total;
  const peaks = tracks.map((t) => t.truePeakDbtp).filter((p): p is number => p !== null);
  return { lufs: 10 * Math.log10(power), truePeakDbtp: peaks.length ? Math.max(...peaks) : null };
}
