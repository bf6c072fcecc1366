import {
  copyFileSync,
  lstatSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import { writeTags } from './tagFile.ts';
import { takeBack, writeTagsKept } from './tagUndo.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-tag-undo-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Frames of MPEG audio behind a tag with room. */
const plain = join(folder, 'plain.mp3'),
  path = join(folder, 'a.mp3'),
  undo = join(folder, 'undo');
writeFileSync(
  plain,
  Buffer.concat(
    Array.from({ length: 10 }, (_, i) => Buffer.concat([Buffer.from([0xff, 0xfb, 0x90, 0x00]), Buffer.alloc(413, i)])),
  ),
);
writeTags(plain, { fields: { title: ['Old'], artist: ['Someone'] } });
const old = readFileSync(plain);
const entries = (): string[] =>
  readdirSync(undo, { recursive: true })
    .map(String)
    .filter((name) => name.endsWith('.json'));
const title = (text: string) => ({ fields: { title: [text] } });

beforeEach(() => {
  rmSync(undo, { recursive: true, force: true });
  mkdirSync(undo);
  copyFileSync(plain, path);
});

describe('taking back', () => {
  test('restores a change in place and one that wrote the file anew, times kept', () => {
    utimesSync(path, 1_500_000_000, 1_500_000_000);
    expect(writeTagsKept(undo, path, title('New'))).toEqual({ changed: true, inPlace: true });
    expect(writeTagsKept(undo, path, title('long '.repeat(900)))).toEqual({ changed: true, inPlace: false });
    expect(takeBack(undo, path).changed).toBe(true);
    expect(takeBack(undo, path)).toEqual({ changed: true, inPlace: true });
    expect(readFileSync(path).equals(old)).toBe(true);
    expect(statSync(path).mtimeMs).toBe(1_500_000_000_000);
    expect(entries()).toEqual([]);
  });

  test('refuses when something else has changed the tags since, and keeps what it has', () => {
    writeTagsKept(undo, path, title('New'));
    writeTags(path, title('By another program'));
    const now = readFileSync(path);
    expect(() => takeBack(undo, path)).toThrow('changed by something else');
    expect(readFileSync(path).equals(now)).toBe(true);
    expect(entries()).toHaveLength(1);
  });

  test('a process killed before it wrote: nothing to restore, the entry goes', () => {
    writeTagsKept(undo, path, title('New'));
    writeFileSync(path, old);
    expect(takeBack(undo, path)).toEqual({ changed: false, inPlace: true });
    expect(readFileSync(path).equals(old)).toBe(true);
    expect(entries()).toEqual([]);
  });

  test('the file is known by any of its names', () => {
    const link = join(folder, 'link.mp3');
    symlinkSync(path, link);
    writeTagsKept(undo, link, title('long '.repeat(900)));
    expect(lstatSync(link).isSymbolicLink()).toBe(true);
    expect(readFileSync(path).equals(old)).toBe(false);
    takeBack(undo, path);
    expect(readFileSync(path).equals(old)).toBe(true);
    rmSync(link);
  });
});

test('a change that fails or changes nothing leaves nothing on the shelf', () => {
  expect(writeTagsKept(undo, path, title('Old')).changed).toBe(false);
  expect(() => writeTagsKept(undo, path, { fields: { key: ['none at all'] } })).toThrow('is no key');
  expect(writeTagsKept(undo, path, title('New'), { dryRun: true }).changed).toBe(true);
  expect(entries()).toEqual([]);
});

test('what another process may still be writing is left alone', () => {
  const mine = join(folder, '.early-set-unfinished-12345678-a.mp3');
  writeFileSync(mine, 'half');
  writeTags(path, title('long '.repeat(900)));
  expect(readdirSync(folder)).toContain('.early-set-unfinished-12345678-a.mp3');
});
