/** Folders from outside looked through and copied from: by name, by the naming rules, again, and what cannot be. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { CopyReport, FolderLook, LookLine } from '@early-set/core/api/intake';
import type { RunProgress } from '@early-set/core/api/types';
import { DEFAULT_NAME_OPTIONS } from '@early-set/core/naming/safeNames';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness, rootId: number, before: Record<string, string>;
const { ended } = hands(() => h);
const stick = (...path: string[]): string => join(h.folder, 'stick', ...path);
const look = async (): Promise<FolderLook> =>
  (await h.post('/places/look', { path: stick() }).expect(200)).body as FolderLook;
const copied = async (paths: string[], more: object = {}): Promise<RunProgress & { report: CopyReport }> => {
  const wish = { from: stick(), paths, rootId, into: 'New', names: 'own', ...more };
  const { runId } = (await h.post('/places/copy', wish).expect(200)).body as { runId: number };
  return (await ended(runId)) as RunProgress & { report: CopyReport };
};
const lying = (folder: string): string[] =>
  readdirSync(join(h.music, folder), { recursive: true, encoding: 'utf8' })
    .filter((path) => /\.\w+$/.test(path))
    .sort();
const bytesOf = (folder: string): Record<string, string> =>
  Object.fromEntries(
    readdirSync(folder, { recursive: true, encoding: 'utf8' })
      .filter((path) => /\.\w+$/.test(path))
      .map((path) => [path, readFileSync(join(folder, path), 'base64')]),
  );

beforeAll(async () => {
  h = await startHarness();
  makeAudio(join(h.music, 'here.mp3'), { seconds: 1, tags: { title: 'Here', artist: 'Brine Choir' } });
  rootId = await h.takeIn(h.music, false);
  for (const folder of ['a', 'b']) mkdirSync(stick(folder), { recursive: true });
  copyFileSync(join(h.music, 'here.mp3'), stick('a/again.mp3'));
  makeAudio(stick('a/Tide.mp3'), { seconds: 1, hz: 500, tags: { title: 'Tide', artist: 'Keel Nine', genre: 'Dub' } });
  makeAudio(stick('b/Tide.mp3'), { seconds: 1, hz: 600, tags: { title: 'Ebb', artist: 'Hal Sorrow' } });
  makeAudio(stick('b/Untold.flac'), { seconds: 1, hz: 700 });
  writeFileSync(stick('a/Tide.cdg'), 'graphics');
  writeFileSync(stick('b/broken.mp3'), 'no music at all');
  writeFileSync(stick('notes.txt'), 'notes');
  symlinkSync(join(h.music, 'here.mp3'), stick('out.mp3'));
  before = bytesOf(stick('a'));
}, 60_000);
afterAll(() => h?.stop());

test('what is there: tags, what they lack, what is in the library already, what cannot be taken', async () => {
  const { lines, others, more } = await look();
  const by = Object.fromEntries(lines.map((l) => [l.path, l])) as Record<string, LookLine>;
  expect(Object.keys(by)).toEqual(['a/Tide.mp3', 'a/again.mp3', 'b/Tide.mp3', 'b/Untold.flac', 'b/broken.mp3']);
  expect(by['a/Tide.mp3']).toMatchObject({
    values: { title: 'Tide', artist: ['Keel Nine'] },
    here: null,
    trouble: null,
  });
  expect(by['a/Tide.mp3']!.lacks).toEqual(['album', 'year']);
  expect(by['a/again.mp3']!.here).toBe('here.mp3');
  expect(by['b/broken.mp3']!.trouble).toBeTruthy();
  expect(others.map((o) => o.path).sort()).toEqual(['notes.txt', 'out.mp3']);
  expect(more).toBe(0);
  expect(await h.query('SELECT 1 FROM tracks')).toHaveLength(1);
});

test('copied under their names: equal names numbered, graphics along, sources untouched, then in the library', async () => {
  const run = await copied(['a/Tide.mp3', 'b/Tide.mp3', 'b/gone.mp3', '../music/here.mp3']);
  expect(run).toMatchObject({ state: 'done', failed: 2, canRetry: true });
  expect(run.report).toMatchObject({ copied: 2, here: 0, failed: 2 });
  expect(run.report.told.map((t) => t.reason)).toEqual([
    'It is not there any more',
    'A link that leads out of the folder',
  ]);
  expect(lying('New')).toEqual(['Tide (2).mp3', 'Tide.cdg', 'Tide.mp3']);
  expect(bytesOf(stick('a'))).toEqual(before);
  await h.until(
    async () => (await h.query("SELECT 1 FROM tracks WHERE title = 'Ebb'")).length === 1,
    'they are taken in',
  );
});

test('begun again, as after a kill, nothing is there twice', async () => {
  const { report } = await copied(['a/Tide.mp3', 'b/Tide.mp3']);
  expect(report).toMatchObject({ copied: 0, here: 2 });
  expect(lying('New')).toHaveLength(3);
});

test('by the naming rules; what no rule names keeps its name', async () => {
  const rule = { id: 'r', name: 'All', where: null, template: '{{ artist }}/{{ title }}', on: true };
  await h.patch('/settings', { naming: { rules: [rule], options: DEFAULT_NAME_OPTIONS } }).expect(200);
  const { report } = await copied(['a/Tide.mp3', 'b/Untold.flac'], { into: 'Named', names: 'by rules' });
  expect(report).toMatchObject({ copied: 2, unnamed: 1 });
  expect(lying('Named')).toEqual(['Keel Nine/Tide.cdg', 'Keel Nine/Tide.mp3', 'Untold.flac']);
});

test('with the folders they lie in; places outside the allowed ones are refused', async () => {
  await copied(['b/Untold.flac'], { into: '', names: 'with folders' });
  expect(existsSync(join(h.music, 'b/Untold.flac'))).toBe(true);
  await h.post('/places/look', { path: '/etc' }).expect(403);
  await h.post('/places/copy', { from: '/etc', paths: ['passwd'], rootId, into: '', names: 'own' }).expect(403);
});
