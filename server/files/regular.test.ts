import { afterAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, readSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { probe } from '../media/decode.ts';
import { NOT_REGULAR, openRegular, readRegular } from './regular.ts';
import { workOnFile } from './fileTasks.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-regular-'));
const pipe = join(folder, 'pipe.mp3');
spawnSync('mkfifo', [pipe]);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('what stands in the place of a file', () => {
  const device = join(folder, 'zero.flac');
  symlinkSync('/dev/zero', device);

  test.each([
    ['a pipe nobody writes into', pipe],
    ['a device that never ends', device],
    ['a folder', folder],
  ])('%s holds nobody up', async (_what, path) => {
    expect(() => openRegular(path)).toThrow(NOT_REGULAR);
    await expect(readRegular(path, 1000)).rejects.toThrow(NOT_REGULAR);
    expect(await workOnFile({ op: 'read', path })).toMatchObject({ ok: false, reason: NOT_REGULAR });
    expect(await workOnFile({ op: 'look', path })).toMatchObject({ ok: false, reason: NOT_REGULAR });
    await expect(probe(path)).rejects.toThrow(NOT_REGULAR);
  });

  test('an ordinary file is opened, a link to one too; larger than wished it is not read', async () => {
    const plain = join(folder, 'plain.txt'),
      link = join(folder, 'link.txt');
    writeFileSync(plain, 'words');
    symlinkSync(plain, link);
    const file = openRegular(link);
    const out = Buffer.alloc(5);
    readSync(file, out, 0, 5, 0);
    closeSync(file);
    expect(out.toString()).toBe('words');
    expect(Buffer.from(await readRegular(plain, 5)).toString()).toBe('words');
    await expect(readRegular(plain, 4)).rejects.toThrow('too large');
  });
});
