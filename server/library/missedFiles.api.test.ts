/** A file that is gone is noticed when it is played or given away. Of a folder that is away nothing is concluded. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import type { NotFound } from '@early-set/core/api/disk';
import type { ExportedList } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
const { idOf } = hands(() => h);
const NAMES = ['one.mp3', 'two.mp3', 'three.flac', 'four.mp3'];
const file = (name: string): string => join(h.music, name);
const lost = async (): Promise<string[]> =>
  ((await h.get('/disk/not-found').expect(200)).body as NotFound).lines.map((l) => l.path).sort();

beforeAll(async () => {
  h = await startHarness();
  for (const [i, name] of NAMES.entries())
    makeAudio(file(name), { seconds: 1, hz: 300 + 100 * i, tags: { title: name, artist: 'Brine Choir' } });
  await h.takeIn(h.music, false);
}, 60_000);
afterAll(() => h?.stop());

test('when it is played, as a whole or in part', async () => {
  const [one, three] = [await idOf('one.mp3'), await idOf('three.flac')];
  renameSync(file('one.mp3'), file('elsewhere'));
  renameSync(file('three.flac'), file('elsewhere too'));
  await h.get(`/tracks/${one}/audio`).expect(404);
  expect(await lost()).toEqual(['one.mp3']);
  await h.get(`/tracks/${three}/excerpt?from=0&seconds=1`).expect(404);
  expect(await lost()).toEqual(['one.mp3', 'three.flac']);
  await h.get(`/tracks/${await idOf('two.mp3')}/audio`).expect(200);
  expect(await lost()).toEqual(['one.mp3', 'three.flac']);
});

test('when its list is given away: the list says so at once', async () => {
  const ids = [await idOf('two.mp3'), await idOf('four.mp3')];
  const { listId } = (await h.post('/lists', { kind: 'playlist', name: 'Two', selection: { ids } }).expect(200))
    .body as { listId: string };
  renameSync(file('four.mp3'), file('elsewhere three'));
  const given = (await h.post(`/lists/${listId}/export`, { format: 'm3u8', paths: 'absolute' }).expect(200))
    .body as ExportedList;
  expect(given).toMatchObject({ tracks: 2, missing: ['four.mp3'] });
  expect(await lost()).toEqual(['four.mp3', 'one.mp3', 'three.flac']);
});

test('not while its folder is away, or an empty mount point', async () => {
  const two = await idOf('two.mp3');
  renameSync(h.music, `${h.music} away`);
  await h.get(`/tracks/${two}/audio`).expect(404);
  mkdirSync(h.music);
  await h.get(`/tracks/${two}/audio`).expect(404);
  expect(await lost()).not.toContain('two.mp3');
});
