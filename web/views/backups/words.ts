/** What is said of a backup. */
import type { BackupLine } from '@early-set/core/api/backups';
import type { BackupReason } from '@early-set/core/backups/keep';
import { dayAndTime } from '../../ui/format.ts';

export const REASONS: Record<BackupReason, string> = {
  schedule: 'Daily',
  'by hand': 'By hand',
  upgrade: 'Before an upgrade',
  restore: 'Before a restore',
};

export function stateOf({ trouble, verifiedAt, newer }: BackupLine): {
  words: string;
  tone: 'good' | 'look' | 'bad' | 'plain';
} {
  if (trouble !== null) return { words: 'Cannot be restored', tone: 'bad' };
  if (newer) return { words: 'From a newer version', tone: 'look' };
  return verifiedAt ? { words: dayAndTime(verifiedAt), tone: 'good' } : { words: 'Not yet', tone: 'plain' };
}

/** What it stays for; of several the longest says enough. */
export function keptInWords({ keptAs }: BackupLine): string {
  if (keptAs === null) return 'Goes with the next';
  const longest = (['by hand', 'month', 'week', 'day'] as const).find((as) => keptAs.some((one) => one === as));
  if (longest === 'by hand') return 'Until you remove it';
  if (longest) return `Last of its ${longest}`;
  return keptAs.length > 0 ? 'One of the last three' : '';
}
