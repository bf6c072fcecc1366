/** Who has started the server stops it to restore a backup, and starts it again. */
import type { RestoreOutcome } from '@early-set/core/api/backups';

export interface Restoring {
  /** Begins soon: the server that asks is about to stop. */
  begin: (id: string, folder: string) => void;
  /** How the last one ended. */
  last: () => RestoreOutcome | null;
}
