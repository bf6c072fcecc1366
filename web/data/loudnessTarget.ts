/** The loudness that playout aims at, and the highest peak it allows; kept in this browser. */
import { useRemembered } from './remembered.ts';

export interface LoudnessTarget {
  lufs: number;
  ceilingDbtp: number;
}

/** What is usual, with where. */
export const DEFAULT_TARGETS: readonly { lufs: number; where: string }[] = [
  { lufs: -23, where: 'broadcast' },
  { lufs: -18, where: 'players' },
  { lufs: -16, where: 'talk and streams' },
  { lufs: -14, where: 'loud streams' },
];

export const useLoudnessTarget = (): readonly [LoudnessTarget, (next: LoudnessTarget) => void] =>
  useRemembered<LoudnessTarget>('loudnessTarget', { lufs: -18, ceilingDbtp: -1 });
