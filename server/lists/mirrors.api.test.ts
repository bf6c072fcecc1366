/** Folder mirrors on real folders: made, followed through a rename, left out, taken apart, undone. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, mkdirSync, renameSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { Mirrored } from '@early-set/core/api/lists';
import type { Applied, ListContents, ListLine } from '@early-set/core/api/types';
import { DEFAULT_MIRROR, readMirror, type MirrorSettings } from '@early-set/core/arrange/mirror';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number;
const { scanned } = hands(() => h);
const FILES = ['House/a.mp3', 'House/b.mp3', 'House/Late/c.mp3', 'Dub/d.mp3', 'e.mp3'];

beforeAll(async () => {
  h = await startHarness();
  makeAudio(join(h.music, 'e.mp3'), { seconds: 1, tags: { title: 'T' } });
  for (const name of FILES.slice(0, -1)) {
    mkdirSync(dirname(join(h.music, name)), { recursive: true });
    copyFileSync(join(h.music, 'e.mp3'), join(h.music, name));
  }
  await h.takeIn(h.music, false);
  rootId = (await h.query<{ id: number }>('SELECT id FROM roots'))[0]!.id;
});
afterAll(() => h.stop());

const settings = (wish: Partial<MirrorSettings> = {}): MirrorSettings => ({
  rootId,
  path: '',
  ...DEFAULT_MIRROR,
  ...wish,
});
const make = async (wish: Partial<MirrorSettings> = {}, name = 'Folders'): Promise<Applied & Mirrored> =>
  (await h.post('/mirrors', { name, settings: settings(wish) }).expect(200)).body as Applied & Mirrored;
const lists = async (): Promise<ListLine[]> => (await h.get('/lists')).body as ListLine[];
/** Crates of a mirror as lines: where it lies, its name, how many tracks. */
async function tree(topId: string): Promise<string[]> {
  const all = await lists();
  const pathOf = (l: ListLine): string =>
    l.id === topId ? l.name : `${pathOf(all.find((p) => p.id === l.parentId)!)}/${l.name}`;
  return all
    .filter((l) => l.mirrorOf === topId && !l.removed)
    .map((l) => `${pathOf(l)} ${l.tracks}`)
    .sort();
}
const undo = () => h.post('/undo', { redo: false }).expect(200);
const removeTop = (id: string) => h.patch(`/lists/${id}`, { removed: true }).expect(200);

test('a crate a folder, with the tracks that lie in it; undo takes all of them back', async () => {
  const made = await make();
  expect([made.title, made.report]).toEqual([
    'New folder mirror "Folders": 3 found, 3 new, 0 moved, 0 gone',
    { found: 3, made: 3, moved: 0, gone: 0 },
  ]);
  expect(await tree(made.listId)).toEqual(['Folders 1', 'Folders/Dub 1', 'Folders/House 2', 'Folders/House/Late 1']);
  await undo();
  expect((await lists()).filter((l) => l.mirrorOf)).toEqual([]);
});

test('a folder that was renamed on the disk keeps its crate, with its colour, and a new one gets one', async () => {
  const { listId } = await make();
  const house = (await lists()).find((l) => l.name === 'House' && l.mirrorOf === listId)!;
  await h.patch(`/lists/${house.id}`, { colour: 'kelp' }).expect(200);
  renameSync(join(h.music, 'House'), join(h.music, 'Deep house'));
  mkdirSync(join(h.music, 'New'));
  copyFileSync(join(h.music, 'e.mp3'), join(h.music, 'New/f.mp3'));
  const { report } = await scanned(rootId, { lossAccepted: true });
  expect(report).toMatchObject({
    mirrors: [{ listId, name: 'Folders', report: { found: 4, made: 1, moved: 2, gone: 0 } }],
  });
  expect(await tree(listId)).toEqual([
    'Folders 1',
    'Folders/Deep house 2',
    'Folders/Deep house/Late 1',
    'Folders/Dub 1',
    'Folders/New 1',
  ]);
  expect((await lists()).find((l) => l.id === house.id)).toMatchObject({ name: 'Deep house', colour: 'kelp' });
  // The change that the scan has made is undone like all others.
  await undo();
  expect((await lists()).find((l) => l.id === house.id)!.name).toBe('House');
  renameSync(join(h.music, 'Deep house'), join(h.music, 'House'));
  rmSync(join(h.music, 'New'), { recursive: true });
  await scanned(rootId, { lossAccepted: true });
  await removeTop(listId);
});

test('one that is removed by hand is left out from then on; crates made by hand are not touched', async () => {
  const { listId } = await make({ follow: 'by hand' });
  const own = (await h.post('/lists', { kind: 'crate', name: 'Mine' }).expect(200)).body as { listId: string };
  const dub = (await lists()).find((l) => l.name === 'Dub' && l.mirrorOf === listId)!;
  await removeTop(dub.id);
  const top = (await lists()).find((l) => l.id === listId)!;
  expect(readMirror(top.mirror)!.leftOut).toEqual(['Dub']);
  const before = (await lists()).find((l) => l.id === own.listId)!;
  const updated = (await h.post(`/mirrors/${listId}/update`).expect(200)).body as Mirrored;
  expect(updated.report).toEqual({ found: 2, made: 0, moved: 0, gone: 0 });
  expect(await tree(listId)).toEqual(['Folders 1', 'Folders/House 2', 'Folders/House/Late 1']);
  expect((await lists()).find((l) => l.id === own.listId)).toEqual(before);
  // What follows by hand does not follow a scan.
  expect((await scanned(rootId)).report).not.toHaveProperty('mirrors');
  await removeTop(listId);
});

test('other settings: one level, names by a template, empty folders too', async () => {
  mkdirSync(join(h.music, 'Empty/Inside'), { recursive: true });
  const { listId } = await make({ follow: 'by hand' });
  const other = settings({ depth: 1, name: '{{ root }} {{ folder | upcase }}', onlyWithTracks: false });
  await h.post(`/mirrors/${listId}/update`, { settings: other }).expect(200);
  // Names that are there stay, since somebody may have given them.
  expect(await tree(listId)).toEqual(['Folders 1', 'Folders/Dub 1', 'Folders/House 3', 'Folders/music EMPTY 0']);
  await h.post(`/mirrors/${listId}/update`, { settings: { ...other, name: '{{ nothing' } }).expect(400);
  const endless = '{% for a in (1..20000) %}{% assign b = a %}{% endfor %}';
  await h.post('/mirrors', { settings: settings({ name: endless }) }).expect(400);
  // Nothing outside of the root is looked at; a folder that is gone holds none.
  const outside = await h.post('/mirrors', { settings: { ...other, path: '../..', name: null } });
  expect([outside.status >= 400 && outside.status < 500, (outside.body as { listId?: string }).listId]).toEqual([
    true,
    undefined,
  ]);
  await h.post(`/mirrors/${listId}/update`, { settings: { ...other, path: 'Nowhere', name: null } }).expect(200);
  await removeTop(listId);
});

test('taken apart, its crates are plain ones that hold what they held', async () => {
  const { listId } = await make();
  const before = await tree(listId);
  const crates = (await lists()).filter((l) => l.mirrorOf === listId);
  await h.post(`/mirrors/${listId}/take-apart`).expect(200);
  const after = (await lists()).filter((l) => crates.some((c) => c.id === l.id));
  expect(after.map((l) => [l.name, l.tracks, l.rule, l.mirrorOf]).sort()).toEqual(
    crates.map((l) => [l.name, l.tracks, null, null]).sort(),
  );
  const house = crates.find((l) => l.name === 'House')!;
  expect(((await h.get(`/lists/${house.id}`)).body as ListContents).entries).toHaveLength(2);
  await undo();
  expect(await tree(listId)).toEqual(before);
  await h.patch(`/lists/${house.id}`, { rule: { where: { all: [] } } }).expect(409);
});

test('a folder that is renamed here keeps its crate', async () => {
  const { listId } = await make({}, 'Renamed here');
  const dub = (await lists()).find((l) => l.name === 'Dub' && l.mirrorOf === listId)!;
  const where = { inFolder: { rootId, path: 'Dub' }, below: true };
  await h
    .post('/disk/put', {
      selection: { where, except: [] },
      mode: 'move',
      names: 'with folders',
      below: 'Dub',
      into: { rootId, path: 'Dub techno' },
      taken: 'keep both',
    })
    .expect(200);
  expect((await lists()).find((l) => l.id === dub.id)?.name).toBe('Dub techno');
  expect(await tree(listId)).toContain('Renamed here/Dub techno 1');
  const { report } = await scanned(rootId);
  expect(report).toMatchObject({ taken: 0, missing: 0 });
  expect((report as { mirrors: object[] }).mirrors).toContainEqual(
    expect.objectContaining({ listId, report: expect.objectContaining({ made: 0, moved: 0, gone: 0 }) }),
  );
  await undo();
  expect(await tree(listId)).toContain('Renamed here/Dub 1');
});
