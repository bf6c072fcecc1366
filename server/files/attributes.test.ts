/** What a file system keeps beside the bytes stays when a file is made anew. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test as always } from '@jest/globals';
import { synthesize } from '../testing/ffmpeg.ts';
import { place } from './place.ts';
import { writeTags } from './tagFile.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-attributes-'));
const ask = (command: string, ...args: string[]): { ok: boolean; said: string } => {
  const { status, stdout } = spawnSync(command, args, { encoding: 'utf8' });
  return { ok: status === 0, said: stdout ?? '' };
};
const give = (path: string, value: string): boolean =>
  ask('setfattr', '-n', 'user.xdg.origin.url', '-v', value, path).ok;
writeFileSync(join(folder, 'probe'), '');
const test = give(join(folder, 'probe'), 'x') ? always : always.skip;
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const attributesOf = (path: string): string =>
  ask('getfattr', '--absolute-names', '-d', '-m', '-', path)
    .said.replace(/^# file: .*\n/, '')
    .trim();
const made = (name: string): string => {
  const path = join(folder, name);
  synthesize(path, 'sine=duration=1');
  return path;
};
const rewritten = (path: string, title: string): void => {
  const before = statSync(path).ino;
  writeTags(path, { fields: { title: [title.repeat(2000)] } });
  expect(statSync(path).ino).not.toBe(before);
};

test('extended attributes and access lists stay when a file is made anew for longer tags', () => {
  const path = made('from the web.mp3');
  expect(give(path, 'https://shop.example/1')).toBe(true);
  expect(ask('setfacl', '-m', 'u:nobody:r', path).ok).toBe(true);
  const before = attributesOf(path);
  expect(before).toContain('user.xdg.origin.url="https://shop.example/1"');
  expect(before).toContain('system.posix_acl_access');
  rewritten(path, 'long ');
  expect(attributesOf(path)).toBe(before);
});

test('also in a batch, whatever the names are; those without get none', () => {
  const names = ['a.mp3', 'b\\c.mp3', 'd é.mp3', 'line\nbreak.mp3', 'e.mp3', '-f.mp3'];
  const paths = names.map(made);
  paths.forEach((path, i) => {
    if (i % 2 === 0 || i === 3) expect(give(path, `https://shop.example/${i}`)).toBe(true);
  });
  const before = paths.map(attributesOf);
  for (const path of paths) rewritten(path, 'longer ');
  expect(paths.map(attributesOf)).toEqual(before);
  expect(before.filter(Boolean)).toHaveLength(4);
});

test('a copy has them too', () => {
  const from = made('copied.mp3'),
    to = join(folder, 'copies/copied.mp3');
  mkdirSync(join(folder, 'copies'));
  give(from, 'https://shop.example/copy');
  const { size, mtimeMs } = statSync(from);
  place({ mode: 'copy', from, to, size, modifiedMs: mtimeMs, begun: false });
  expect(attributesOf(to)).toBe(attributesOf(from));
  expect(attributesOf(to)).toContain('copy');
});
