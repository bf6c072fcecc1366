/** Small drives for tests, where this user may mount them; what cannot be tried without is skipped, and counted so. */
import { test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Mounts a drive of its own in memory. */
export const mountSmall = (folder: string, size: string): boolean =>
  spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${size}`, 'none', folder]).status === 0;
export const unmount = (folder: string): void => void spawnSync('umount', ['-l', folder]);

function tryMount(): boolean {
  const folder = mkdtempSync(join(tmpdir(), 'early-set-mount-'));
  const mounted = mountSmall(folder, '64k');
  if (mounted) unmount(folder);
  rmSync(folder, { recursive: true, force: true });
  return mounted;
}

/** A test that needs a drive of its own. */
export const testOnDrive = tryMount() ? test : test.skip;
