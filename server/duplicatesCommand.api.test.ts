/** The command that compares files, on real ones. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { duplicatesCommand, parseDuplicatesArguments } from './duplicatesCommand.ts';
import { playLike } from './testing/music.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-duplicates-'));
const file = (name: string): string => join(folder, name);

beforeAll(() => {
  playLike(file('a.flac'), 1, 44);
  spawnSync('ffmpeg', ['-v', 'error', '-i', file('a.flac'), '-ss', '3', '-b:a', '96k', file('a.mp3')]);
  copyFileSync(file('a.flac'), file('again.flac'));
  playLike(file('b.flac'), 4, 44);
  writeFileSync(file('broken.mp3'), 'no sound');
}, 180_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('groups with reasons and offsets; what cannot be measured is named, and the rest goes on', async () => {
  const said: string[] = [],
    complained: string[] = [];
  const asked = parseDuplicatesArguments(
    ['a.flac', 'b.flac', 'broken.mp3', 'a.mp3', 'again.flac', 'gone.flac'].map(file),
  );
  if (typeof asked === 'string') throw new Error(asked);
  const code = await duplicatesCommand(
    asked,
    pathToFileURL(join(process.cwd(), 'dist/server/analysisThread.mjs')),
    (text) => said.push(text),
    (text) => complained.push(text),
  );
  expect(code).toBe(1);
  expect(complained).toHaveLength(2);
  expect(complained[0]).toContain('broken.mp3: ');
  expect(complained[1]).toContain('gone.flac: The file is not there');
  expect(said).toHaveLength(1);
  const group = JSON.parse(said[0]!) as {
    kind: string;
    files: { file: string; offsetSeconds: number }[];
    reasons: object[];
  };
  expect(group.kind).toBe('same recording');
  expect(group.files.map((f) => f.file)).toEqual(['a.flac', 'a.mp3', 'again.flac'].map(file));
  expect(group.files[1]!.offsetSeconds).toBeCloseTo(3, 1);
  expect(group.reasons).toContainEqual({
    first: file('a.flac'),
    second: file('again.flac'),
    relation: 'same bytes',
    offsetSeconds: 0,
    partsAt: null,
  });
});

test('called wrongly it says how', () => {
  expect(parseDuplicatesArguments(['a.mp3'])).toBe('At least two files have to be named');
  expect(parseDuplicatesArguments(['a', 'b', '--jobs', '0'])).toContain('--jobs');
  expect(parseDuplicatesArguments(['a', 'b', '--loud'])).toBe('There is no option --loud');
});
