/**
 * Which backups stay. Days, weeks and months are counted as those in which there is a backup: after half a year
 * in which the computer was off, the old ones are still there.
 */
import { addDays, format, parse } from 'date-fns';

/** Why a backup was made. */
export const BACKUP_REASONS = ['schedule', 'by hand', 'upgrade', 'restore'] as const;
export type BackupReason = (typeof BACKUP_REASONS)[number];

export interface KeepRule {
  /** The last one of each of so many days, weeks, months. */
  days: number;
  weeks: number;
  months: number;
}
export const DEFAULT_KEEP: KeepRule = { days: 7, weeks: 4, months: 12 };

export type KeptAs = 'newest' | 'day' | 'week' | 'month' | 'by hand' | 'before an upgrade' | 'before a restore';

export interface DatedBackup {
  id: string;
  madeAt: Date;
  reason: BackupReason;
  /** What was found when it was last verified; a bad one takes no other's place. */
  trouble: string | null;
}

/** So many of those made before upgrades, and before restores, stay whatever the rule says. */
const BEFORE = 3;
/** One that cannot be restored is shown for so long. */
const BAD_DAYS = 7;

const SPANS: readonly { as: KeptAs; many: keyof KeepRule; of: string }[] = [
  { as: 'day', many: 'days', of: 'yyyy-MM-dd' },
  { as: 'week', many: 'weeks', of: "RRRR-'W'II" },
  { as: 'month', many: 'months', of: 'yyyy-MM' },
];
const BEFORE_WHAT: readonly { as: KeptAs; reason: BackupReason }[] = [
  { as: 'before an upgrade', reason: 'upgrade' },
  { as: 'before a restore', reason: 'restore' },
];

/** What each backup is kept as, by id; those that are not in it may go. Days begin at local midnight. */
export function keptBackups(backups: readonly DatedBackup[], rule: KeepRule, now: Date): Map<string, KeptAs[]> {
  const kept = new Map<string, KeptAs[]>();
  const keep = ({ id }: DatedBackup, as: KeptAs): void => void kept.set(id, [...(kept.get(id) ?? []), as]);
  const latest = [...backups].sort((a, b) => b.madeAt.getTime() - a.madeAt.getTime());
  const good = latest.filter(({ trouble }) => trouble === null);
  if (good[0]) keep(good[0], 'newest');
  for (const { as, many, of } of SPANS) {
    const seen = new Set<string>();
    for (const backup of good) {
      const span = format(backup.madeAt, of);
      if (seen.has(span)) continue;
      if (seen.size >= rule[many]) break;
      seen.add(span);
      keep(backup, as);
    }
  }
  for (const { as, reason } of BEFORE_WHAT)
    for (const backup of good.filter((b) => b.reason === reason).slice(0, BEFORE)) keep(backup, as);
  for (const backup of latest) if (backup.reason === 'by hand') keep(backup, 'by hand');
  for (const backup of latest)
    if (backup.trouble !== null && addDays(backup.madeAt, BAD_DAYS) > now && !kept.has(backup.id))
      kept.set(backup.id, []);
  return kept;
}

/** The last moment at or before `now` at which one was due, and the next one; `at` is a time of day, "04:00". */
export function dueTimes(now: Date, at: string): { last: Date; next: Date } {
  const today = parse(at, 'HH:mm', now);
  return today <= now ? { last: today, next: addDays(today, 1) } : { last: addDays(today, -1), next: today };
}

/** Is one due: none has been made since the last moment at which one should have been? */
export const isDue = (newest: Date, now: Date, at: string): boolean => newest < dueTimes(now, at).last;
