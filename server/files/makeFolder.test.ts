import { expect } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { mountSmall, testOnDrive, unmount } from '../testing/mounts.ts';
import { makeFolder } from './makeFolder.ts';

testOnDrive('folders are made with those above them; a drive that is read-only says so', () => {
  const drive = mkdtempSync(join(tmpdir(), 'early-set-folders-'));
  mountSmall(drive, '64k');
  try {
    makeFolder(join(drive, 'a/b'));
    makeFolder(join(drive, 'a/b/c'));
    expect(existsSync(join(drive, 'a/b/c'))).toBe(true);
    spawnSync('mount', ['-o', 'remount,ro', drive]);
    expect(() => makeFolder(join(drive, 'a/b'))).not.toThrow();
    expect(() => makeFolder(join(drive, 'x/y'))).toThrow(expect.objectContaining({ code: 'EROFS' }));
  } finally {
    unmount(drive);
    rmSync(drive, { recursive: true, force: true });
  }
});
