/** The loudness that playout aims at, and the highest peak it allows; kept in this browser. */
import { useRemembered } from './remembered.ts';

export interface LoudnessTarget {
  lufs: number;
  ceilingDbtp: number;
}

/** What is usual, with where. */
export const DEFAULT_TARGETS: readonly { lufs: number; where: string }[] = [
  { lufs: -23, where: 'EBU R 128' },
  { lufs: -18, where: 'ReplayGain 2.0' },
  { lufs: -16, where: 'AES TD1008, music' },
  { lufs: -14, where: 'AES TD1008, albums' },
];

export const useLoudnessTarget = (): readonly [LoudnessTarget, (next: LoudnessTarget) => void] =>
  useRemembered<LoudnessTarget>('loudnessTarget', { lufs: -18, ceilingDbtp: -1 });
