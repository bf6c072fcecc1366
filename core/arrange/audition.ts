/** Loudness at which everything is auditioned: ReplayGain 2.0's reference. */
export const AUDITION_LUFS = -18;
/** Peaks stay below this when a quiet track is turned up. */
const CEILING_DBTP = -1;

/**
 * Gain in dB that brings a track to the audition loudness without letting its peaks go over; 0 when it is not
 * measured.
 */
export function auditionGain(lufs: number | null, truePeakDbtp: number | null): number {
  if (lufs === null) return 0;
  const wanted = AUDITION_LUFS - lufs;
  return truePeakDbtp === null ? Math.min(wanted, 0) : Math.min(wanted, Math.max(0, CEILING_DBTP - truePeakDbtp));
}
