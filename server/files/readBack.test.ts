import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { createHash, randomBytes } from 'node:crypto';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { mountSmall, testOnDrive, unmount } from '../testing/mounts.ts';
import { hashAt } from './place.ts';
import { hashFromMedium } from './readBack.ts';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-read-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

test('files of any length are read as they are, from the drive or from memory', () => {
  for (const size of [0, 1, 511, 512, 4096, (4 << 20) - 1, 4 << 20, (4 << 20) + 1, 9_000_001]) {
    const path = join(folder, String(size)),
      bytes = randomBytes(size);
    writeFileSync(path, bytes);
    const hash = createHash('sha256').update(bytes).digest('hex');
    expect([null, hash]).toContain(hashFromMedium(path));
    expect(hashAt(path).hash).toBe(hash);
  }
});

testOnDrive('where there is no drive to read, it is said', () => {
  const drive = join(folder, 'drive');
  mkdirSync(drive);
  mountSmall(drive, '1m');
  try {
    writeFileSync(join(drive, 'a'), 'text');
    expect(hashAt(join(drive, 'a')).hash).toBe(createHash('sha256').update('text').digest('hex'));
  } finally {
    unmount(drive);
  }
});

test('a file that is not there is an error', () => {
  expect(() => hashFromMedium(join(folder, 'none'))).toThrow('ENOENT');
});
