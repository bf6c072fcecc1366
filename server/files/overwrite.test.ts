import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import {
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { mountSmall, testOnDrive, unmount } from '../testing/mounts.ts';
import { HalfWritten, overwrite } from './overwrite.ts';
import { identityOf, writeAll } from './place.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-overwrite-'));
const path = join(folder, 'a.bin');
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const splice = (at: number, text: string) => ({ at, remove: text.length, insert: bytes(text) });
const read = (): string => readFileSync(path, 'utf8');
const failing = (code: string): Error => Object.assign(new Error(code), { code });

beforeEach(() => {
  writeFileSync(path, 'aaaabbbbccccdddd');
  utimesSync(path, 1000, 2000);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('bytes written where they lie', () => {
  test('all or nothing; times are kept', () => {
    overwrite(path, [splice(0, 'AAAA'), splice(8, 'CC')], identityOf(statSync(path)));
    expect(read()).toBe('AAAAbbbbCCccdddd');
    expect(statSync(path).mtimeMs).toBe(2_000_000);
  });

  test.each(['ENOSPC', 'EIO', 'ENODEV'])('broken off midway by %s, what was there is put back', (code) => {
    let calls = 0;
    const breaksOff = (file: number, data: Uint8Array, at: number): void => {
      if (++calls < 2) return writeAll(file, data, at);
      writeAll(file, data.subarray(0, 1), at); // a part of the second piece still goes in
      throw failing(code);
    };
    expect(() => overwrite(path, [splice(0, 'AAAA'), splice(8, 'CC')], null, breaksOff)).toThrow(code);
    expect(read()).toBe('aaaabbbbccccdddd');
    expect(statSync(path).mtimeMs).toBe(2_000_000);
  });

  test('what cannot be put back is said to be in part, with why', () => {
    const gone = (file: number, data: Uint8Array, at: number): void => {
      writeAll(file, data.subarray(0, 2), at);
      truncateSync(path, 3); // the drive is no longer what it was
      throw failing('EIO');
    };
    expect(() => overwrite(path, [splice(0, 'AAAA'), splice(8, 'CC')], null, gone)).toThrow(HalfWritten);
    expect(() => {
      writeFileSync(path, 'aaaabbbbccccdddd');
      overwrite(path, [splice(0, 'AAAA'), splice(8, 'CC')], null, gone);
    }).toThrow('The drive reports an error. The file was written in part and could not be put back');
  });

  test('a file that another program changed since it was looked at is left alone', () => {
    const was = identityOf(statSync(path));
    writeFileSync(path, 'aaaabbbbccccddddeeee');
    expect(() => overwrite(path, [splice(0, 'AAAA')], was)).toThrow('changed by something else');
    expect(read()).toBe('aaaabbbbccccddddeeee');
  });

  testOnDrive('a full disk and a file with holes: every byte is as it was', () => {
    const drive = join(folder, 'drive');
    mkdirSync(drive);
    mountSmall(drive, '256k');
    try {
      const holey = join(drive, 'holes.bin');
      writeFileSync(holey, 'head');
      truncateSync(holey, 400_000); // more than the drive holds, all of it a hole
      const before = readFileSync(holey);
      const big = new Uint8Array(300_000).fill(7);
      expect(() => overwrite(holey, [{ at: 0, remove: big.length, insert: big }], null)).toThrow('ENOSPC');
      expect(readFileSync(holey).equals(before)).toBe(true);
    } finally {
      unmount(drive);
    }
  });
});
