/** Small drives for tests, where this user may mount them; what cannot be tried without is skipped, and counted so. */
import { test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
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

const does = (program: string, ...args: string[]): string | null => {
  const { status, stdout } = spawnSync(program, args, { encoding: 'utf8' });
  return status === 0 ? stdout.trim() : null;
};

/**
 * Mounts a drive with exFAT, as sticks have it: no second names, capitals and small letters the same, no owners.
 * Returns what takes it away again; null where that cannot be had here.
 */
export function mountExfat(folder: string, image: string, size: string): (() => void) | null {
  if (does('truncate', '-s', size, image) === null || does('mkfs.exfat', image) === null) return null;
  const device = does('losetup', '-f', '--show', image);
  if (device === null) return null;
  const free = (): void => void spawnSync('losetup', ['-d', device]);
  if (does('mount.exfat-fuse', device, folder) === null) {
    free();
    return null;
  }
  return () => {
    unmount(folder);
    free();
  };
}

function tryExfat(): boolean {
  const folder = mkdtempSync(join(tmpdir(), 'early-set-mount-'));
  mkdirSync(join(folder, 'drive'));
  const end = mountExfat(join(folder, 'drive'), join(folder, 'image'), '8M');
  end?.();
  rmSync(folder, { recursive: true, force: true });
  return end !== null;
}

/** A test on exFAT. */
export const testOnExfat = tryExfat() ? test : test.skip;
