/** A file read from its drive, past what the computer's memory holds of it. */
import { spawnSync } from 'node:child_process';

/**
 * SHA-256 of a file as its drive has it (O_DIRECT, by dd and sha256sum of coreutils).
 * @returns null where the file system cannot be read so, or the programs are not there
 */
export function hashFromMedium(path: string): string | null {
  const { status, stdout } = spawnSync(
    '/bin/bash',
    ['-c', 'set -o pipefail; dd if="$1" iflag=direct bs=4M status=none | sha256sum', 'read', path],
    { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] },
  );
  return status === 0 ? (/^\\?([0-9a-f]{64})\b/.exec(stdout)?.[1] ?? null) : null;
}
