/** Settings of the desk that the server acts on. */
import { DEFAULT_KEEP } from '../backups/keep.ts';
import { DEFAULT_RULES, type GapRules } from '../conditions/needs.ts';
import { DEFAULT_ORDER, type KeepOrder } from '../duplicates/keep.ts';
import type { ChosenPolicy } from '../fields/merge.ts';
import type { BackupSettings } from './backups.ts';
import { NO_NAMING, type Naming } from '../naming/naming.ts';

export interface DeskSettings {
  /** Where edits go. */
  editsGoTo: 'library and files' | 'library';
  /** Version of ID3v2 for files that have none yet. */
  newId3Version: 3 | 4;
  /** What happens when a file says something else than what was typed. */
  changedFiles: Exclude<ChosenPolicy, 'keep'>;
  /** Stars go into tags that have a place for them, and are taken from there. */
  starsInFiles: boolean;
  /** Keys stay when tempi are matched, in judging transitions and in hearing them; else they move with the tempo. */
  keyLock: boolean;
  /** What "ready for the floor" and "ready for playout" ask for. */
  gapRules: GapRules;
  /** Which of several files of one recording stays. */
  keepOrder: KeepOrder;
  /** Where files should lie and what they should be called. */
  naming: Naming;
  /** What has lain in quarantine for so many days is thrown away for good; null: only by hand. */
  quarantineDays: number | null;
  /** When the desk is backed up, where to, and how long that is kept. */
  backups: BackupSettings;
}
export const DEFAULT_SETTINGS: DeskSettings = {
  editsGoTo: 'library and files',
  newId3Version: 4,
  changedFiles: 'fill gaps',
  starsInFiles: false,
  keyLock: true,
  gapRules: DEFAULT_RULES,
  keepOrder: DEFAULT_ORDER,
  naming: NO_NAMING,
  quarantineDays: null,
  backups: { on: true, at: '04:00', folder: null, keep: DEFAULT_KEEP },
};
