import { afterEach, beforeEach, expect, test } from '@jest/globals';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  readlinkSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { copyFolder, exchange, layInto, leftoversGone, locked, openedBy } from './data.ts';
import { plover as home } from './plover/home.ts';

let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-data-'));
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));
const put = (name: string, text: string): void => {
  mkdirSync(join(folder, name, '..'), { recursive: true });
  writeFileSync(join(folder, name), text);
};
const text = (name: string): string => readFileSync(join(folder, name), 'utf8');

test('a copy has links, empty folders, permissions and times', async () => {
  put('a/tracks.jsonl', 'x');
  mkdirSync(join(folder, 'a/lists/empty'), { recursive: true });
  symlinkSync('../elsewhere', join(folder, 'a/covers'));
  chmodSync(join(folder, 'a/tracks.jsonl'), 0o640);
  utimesSync(join(folder, 'a/tracks.jsonl'), 1000, 2000);
  await copyFolder(join(folder, 'a'), join(folder, 'b'));
  expect(text('b/tracks.jsonl')).toBe('x');
  expect(existsSync(join(folder, 'b/lists/empty'))).toBe(true);
  expect(readlinkSync(join(folder, 'b/covers'))).toBe('../elsewhere');
  const { mode, mtimeMs } = statSync(join(folder, 'b/tracks.jsonl'));
  expect([mode & 0o777, mtimeMs]).toEqual([0o640, 2_000_000]);
});

test('changes are laid in; a folder that the last of its files leaves goes', async () => {
  put('lists/Gigs/2026/a.xspf', 'a');
  put('lists/b.xspf', 'b');
  await layInto(
    folder,
    new Map([
      ['lists/Gigs/2026/a.xspf', null],
      ['lists/New/c.xspf', 'c'],
    ]),
  );
  expect(existsSync(join(folder, 'lists/Gigs'))).toBe(false);
  expect([text('lists/b.xspf'), text('lists/New/c.xspf')]).toEqual(['b', 'c']);
});

test('two folders change places', async () => {
  put('a/x', 'a');
  put('b/x', 'b');
  await exchange(join(folder, 'a'), join(folder, 'b'));
  expect([text('a/x'), text('b/x')]).toEqual(['b', 'a']);
});

test('what a kill has left goes; where it came between two names, the former data are put back', async () => {
  put('collection/x', 'now');
  put('.early-set-1/x', 'half');
  await leftoversGone(folder, home);
  expect([text('collection/x'), existsSync(join(folder, '.early-set-1'))]).toEqual(['now', false]);
  renameSync(join(folder, 'collection'), join(folder, '.early-set-2-former'));
  put('.early-set-2/x', 'next');
  await leftoversGone(folder, home);
  expect([text('collection/x'), existsSync(join(folder, '.early-set-2'))]).toEqual(['now', false]);
});

test('while something is written the program cannot be opened, and the other way round', async () => {
  const lock = join(folder, 'plover.lock');
  await locked(folder, home, 'Plover', async () => expect(await openedBy(folder, home)).toBe('Early Set'));
  expect(existsSync(lock)).toBe(false);
  writeFileSync(lock, JSON.stringify({ by: 'Plover', pid: process.pid }));
  await expect(locked(folder, home, 'Plover', () => Promise.resolve())).rejects.toThrow('Plover is open (Plover)');
  writeFileSync(lock, 'no JSON');
  expect(await openedBy(folder, home)).toBe('another program');
  writeFileSync(lock, JSON.stringify({ by: 'Plover', pid: 2 ** 30 }));
  expect(await openedBy(folder, home)).toBeNull();
  await locked(folder, home, 'Plover', () => Promise.resolve());
});
