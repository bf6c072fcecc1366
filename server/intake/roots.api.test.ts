/** Folders above others that are taken in, and folders that are removed: tracks, lists, history and undo follow. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, ListContents, RootLine, SheetPage } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { movedIn } from './swallow.ts';

let h: Harness;
const { idOf, set, undo, pathOf, ended } = hands(() => h);
const FILES = ['House/Deep/a.mp3', 'House/b.flac', 'House/c.mp3', 'Radio/d.ogg', 'Radio/e.mp3', 'loose.mp3'];

beforeAll(async () => {
  h = await startHarness();
  FILES.forEach((name, i) =>
    makeAudio(join(h.music, name), { seconds: 1, hz: 300 + 30 * i, tags: { title: name, artist: 'Brine Choir' } }),
  );
  mkdirSync(join(h.folder, 'Empty'));
  await h.takeIn(join(h.music, 'House'), false);
  await h.takeIn(join(h.music, 'Radio'), false);
});
afterAll(() => h.stop());

const roots = async (): Promise<RootLine[]> => (await h.get('/roots').expect(200)).body as RootLine[];
const paths = async (): Promise<unknown[]> =>
  ((await h.get('/tracks?sort=path').expect(200)).body as SheetPage).rows.map((r) => r.values.path);
const take = async (path: string): Promise<{ rootId: number }> => {
  const { rootId, runId } = (await h.post('/roots', { path, measure: false }).expect(200)).body as {
    rootId: number;
    runId: number;
  };
  await ended(runId);
  return { rootId };
};

test('a folder above others takes them into itself, with all that belongs to their tracks', async () => {
  const [renamed, kept] = [await idOf('Deep/a.mp3'), await idOf('d.ogg')];
  const { listId } = (
    await h.post('/lists', { kind: 'playlist', name: 'Slipway', parentId: null, selection: { ids: [renamed, kept] } })
  ).body as { listId: string };
  const rename = await set(['Deep/a.mp3'], 'fileName', 'new name');
  const removal = (await h.post('/tracks/remove', { selection: { ids: [await idOf('e.mp3')] } }).expect(200))
    .body as Applied;
  const { rootId } = await take(h.music);
  expect((await roots()).map((r) => [r.id, r.tracks])).toEqual([[rootId, 5]]);
  expect(await paths()).toEqual(['House/Deep/new name.mp3', 'House/b.flac', 'House/c.mp3', 'Radio/d.ogg', 'loose.mp3']);
  expect([await idOf('House/Deep/new name.mp3'), await idOf('Radio/d.ogg')]).toEqual([renamed, kept]);
  const { entries } = (await h.get(`/lists/${listId}`).expect(200)).body as ListContents;
  expect(entries.map((e) => e.id)).toEqual([renamed, kept]);
  // Found by its new place, as a condition and as words.
  const within = encodeURIComponent(JSON.stringify({ inFolder: { rootId, path: 'House' }, below: true }));
  expect(((await h.get(`/tracks?where=${within}`).expect(200)).body as SheetPage).total).toBe(3);
  const words = encodeURIComponent(JSON.stringify({ test: 'words', text: 'radio', field: 'path' }));
  expect(((await h.get(`/tracks?where=${words}`).expect(200)).body as SheetPage).total).toBe(1);
  // What was done before is still undone: in the file, and in the library.
  await undo(rename);
  expect([existsSync(pathOf('House/Deep/a.mp3')), await idOf('House/Deep/a.mp3')]).toEqual([true, renamed]);
  await undo(removal);
  expect(await paths()).toContain('Radio/e.mp3');
  const { runId } = (await h.post(`/roots/${rootId}/scan`).expect(200)).body as { runId: number };
  expect((await ended(runId)).report).toMatchObject({ taken: 0, changed: 0, missing: 0 });
});

test('a folder inside one that is taken in is refused', async () => {
  const refused = await h.post('/roots', { path: join(h.music, 'House'), measure: false });
  expect([refused.status, (refused.body as { error: { code: string } }).error.code]).toEqual([409, 'root-exists']);
});

test('a whole folder is removed: its files stay, and undo brings all of it back', async () => {
  const [root] = await roots();
  const before = await paths();
  const lists = async (): Promise<unknown> =>
    h.query('SELECT list_id, track_id, position FROM list_entries ORDER BY list_id, position');
  const entries = await lists();
  const removed = (await h.post(`/roots/${root!.id}/remove`).expect(200)).body as Applied;
  expect([await roots(), await paths()]).toEqual([[], []]);
  expect(existsSync(pathOf('House/b.flac'))).toBe(true);
  await undo(removed);
  expect([(await roots()).map((r) => r.tracks), await paths()]).toEqual([[6], before]);
  expect(await lists()).toEqual(entries);
});

test('one that was removed can be chosen again, and is taken in anew', async () => {
  const [root] = await roots();
  await h.post(`/roots/${root!.id}/remove`).expect(200);
  const { rootId } = await take(h.music);
  expect(rootId).toBe(root!.id);
  expect((await roots()).map((r) => [r.id, r.tracks, r.notTaken])).toEqual([[rootId, 6, 0]]);
});

test('an empty one is removed too', async () => {
  const [root] = await roots();
  await h.post(`/roots/${root!.id}/remove`).expect(200);
  const inside = await h.post('/roots', { path: join(h.music, 'House'), measure: false }).expect(409);
  expect(JSON.stringify(inside.body)).toMatch(/which was removed from the library; choose that one again/);
  const { rootId } = await take(join(h.folder, 'Empty'));
  expect((await h.post(`/roots/${rootId}/remove`).expect(200)).body).toBeNull();
  expect(await roots()).toEqual([]);
});

test('places are moved wherever they stand, and nothing else is', () => {
  const moved = { from: 3, to: { id: 9, label: 'Music' }, prefix: 'House/' };
  expect(
    movedIn({ a: [{ rootId: 3, path: 'x.mp3' }], b: { root_id: 3, path: 'D/y', folder: 'D', root: 'House' } }, moved),
  ).toEqual({
    a: [{ rootId: 9, path: 'House/x.mp3' }],
    b: { root_id: 9, path: 'House/D/y', folder: 'House/D', root: 'Music' },
  });
  const other = { rootId: 4, path: 'x.mp3', kept: { root_id: 33, folder: '' }, n: 3, rootIds: [3] };
  expect(movedIn(other, moved)).toEqual(other);
});
