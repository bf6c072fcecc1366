/** Stars go into files, and are taken from them, only where the setting says so. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { utimesSync } from 'node:fs';
import { join } from 'node:path';
import { writeTags } from '../files/tagFile.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
const { set, undo, idOf, inFile, bytesOf, scanned, unwritten } = hands(() => h);
const FILES = ['a.mp3', 'b.flac', 'c.m4a'];

beforeAll(async () => {
  h = await startHarness();
  for (const name of FILES) makeAudio(join(h.music, name), { seconds: 1, tags: { title: name } });
  writeTags(join(h.music, 'b.flac'), { fields: { rating: ['5'] } });
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

/** Writes what is not in the files yet, as the dialog of that name does. */
const writeAll = async (): Promise<{ changeSetId: number }> =>
  (await h.post('/files/write', { selection: { ids: await Promise.all(FILES.map(idOf)) } }).expect(200)).body as {
    changeSetId: number;
  };

const ratings = async (): Promise<unknown[]> =>
  (await h.query<{ rating: number | null }>('SELECT rating FROM tracks ORDER BY path')).map((r) => r.rating);

test('without the setting they stay in the library, both ways', async () => {
  expect(await ratings()).toEqual([null, null, null]);
  const before = bytesOf(FILES);
  const made = await set(FILES, 'rating', 3);
  expect(bytesOf(FILES).every((bytes, i) => bytes.equals(before[i]!))).toBe(true);
  expect(await unwritten('a.mp3')).toEqual([]);
  await undo(made);
});

test('with it they go where tags have a place, come from there with the next scan, and are taken back', async () => {
  await h.patch('/settings', { starsInFiles: true }).expect(200);
  const before = bytesOf(FILES);
  const made = await set(FILES, 'rating', 4);
  expect(FILES.map((name) => inFile(name).rating)).toEqual([['4'], ['4'], undefined]);
  await undo(made);
  bytesOf(FILES).forEach((bytes, i) => expect([FILES[i], bytes.equals(before[i]!)]).toEqual([FILES[i], true]));
  writeTags(join(h.music, 'a.mp3'), { fields: { rating: ['2'] } });
  utimesSync(join(h.music, 'a.mp3'), new Date(), new Date(Date.now() + 60_000));
  const [root] = await h.query<{ id: number }>('SELECT id FROM roots');
  const report = (await scanned(root!.id)).report as { followed: number; changeSetId: number };
  expect([report.followed, (await ratings())[0]]).toEqual([1, 2]);
  await undo(report);
  expect((await ratings())[0]).toBeNull();
});

test('stars given before wait to be written once the setting is on, and no longer once it is off', async () => {
  await h.patch('/settings', { starsInFiles: false }).expect(200);
  const made = await set(FILES, 'rating', 3);
  expect(await Promise.all(FILES.map(unwritten))).toEqual([[], [], []]);
  await h.patch('/settings', { starsInFiles: true }).expect(200);
  expect(await Promise.all(FILES.map(unwritten))).toEqual([['rating'], ['rating'], ['rating']]);
  await h.patch('/settings', { starsInFiles: false }).expect(200);
  expect(await Promise.all(FILES.map(unwritten))).toEqual([[], [], []]);
  await h.patch('/settings', { starsInFiles: true }).expect(200);
  await writeAll();
  expect(FILES.map((name) => inFile(name).rating)).toEqual([['3'], ['3'], undefined]);
  expect(await Promise.all(FILES.map(unwritten))).toEqual([[], [], []]);
  await undo(made);
});
