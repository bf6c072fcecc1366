/** Karaoke graphics stay with their music through renames, moves, copies and quarantine, and come back with it. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, NotTaken } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness, rootId: number, song: number;
const { scanned, finished, idOf } = hands(() => h);
const file = (path: string): string => join(h.music, path);
const graphics = (fill: number): Buffer => Buffer.alloc(2400, fill);
/** Visible files below the music folder. */
const lying = (): string[] =>
  readdirSync(h.music, { recursive: true, encoding: 'utf8' })
    .filter((path) => /\.(mp3|cdg)$/i.test(path) && !path.startsWith('.'))
    .sort();
const apply = async (path: string, body: object): Promise<number> => {
  const { changeSetId } = (await h.post(path, body).expect(200)).body as Applied;
  await finished(changeSetId);
  return changeSetId;
};
const undo = async (id: number): Promise<void> => {
  await h.post(`/changes/${id}/undo`, {}).expect(200);
  await finished(id);
};
const before = ['In/Alone.cdg', 'In/Other.mp3', 'In/Slow Lamps.CDG', 'In/Slow Lamps.mp3'];

beforeAll(async () => {
  h = await startHarness();
  mkdirSync(file('In'));
  makeAudio(file('In/Slow Lamps.mp3'), { seconds: 1, tags: { title: 'Slow Lamps', artist: 'Brine Choir' } });
  makeAudio(file('In/Other.mp3'), { seconds: 1, hz: 600, tags: { title: 'Other', artist: 'Brine Choir' } });
  writeFileSync(file('In/Slow Lamps.CDG'), graphics(1));
  writeFileSync(file('In/Alone.cdg'), graphics(2));
  rootId = await h.takeIn(h.music, false);
  song = (await h.query<{ id: number }>("SELECT id FROM tracks WHERE title = 'Slow Lamps'"))[0]!.id;
}, 60_000);
afterAll(() => h?.stop());

test('graphics beside their music belong to it; those without are listed with the reason', async () => {
  const refused = (await h.get(`/roots/${rootId}/not-taken`)).body as NotTaken[];
  expect(refused.map((r) => [r.path, r.reason])).toEqual([
    ['In/Alone.cdg', 'Karaoke graphics; no music of the same name lies beside them'],
  ]);
  const rows = await h.query(
    "SELECT track_id, role, companion, state FROM track_files WHERE path = 'In/Slow Lamps.CDG'",
  );
  expect(rows).toEqual([{ track_id: song, role: 'companion', companion: 'karaoke graphics', state: 'here' }]);
});

test('renamed and moved, they go along under the new name; undo brings both back', async () => {
  const renamed = await apply('/fields', {
    selection: { ids: [song] },
    field: 'fileName',
    value: 'Brine Choir - Slow Lamps',
  });
  expect(lying()).toContain('In/Brine Choir - Slow Lamps.CDG');
  const moved = await apply('/disk/put', {
    selection: { ids: [song] },
    mode: 'move',
    into: { rootId, path: 'Karaoke' },
    taken: 'keep both',
  });
  expect(lying()).toEqual([
    'In/Alone.cdg',
    'In/Other.mp3',
    'Karaoke/Brine Choir - Slow Lamps.CDG',
    'Karaoke/Brine Choir - Slow Lamps.mp3',
  ]);
  expect(readFileSync(file('Karaoke/Brine Choir - Slow Lamps.CDG'))).toEqual(graphics(1));
  await undo(moved);
  await undo(renamed);
  expect(lying()).toEqual(before);
});

test('copied, both are copied; in quarantine and back, both', async () => {
  const copied = await apply('/disk/put', {
    selection: { ids: [song] },
    mode: 'copy',
    into: { rootId, path: 'Copies' },
    taken: 'keep both',
  });
  expect(lying()).toEqual(['Copies/Slow Lamps.CDG', 'Copies/Slow Lamps.mp3', ...before]);
  await undo(copied);
  expect(lying()).toEqual(before);
  await apply('/disk/retire', { selection: { ids: [song] } });
  expect(lying()).toEqual(['In/Alone.cdg', 'In/Other.mp3']);
  await apply('/disk/quarantine/restore', { fileIds: null });
  expect(lying().filter((path) => path.startsWith('In/Slow'))).toEqual(['In/Slow Lamps.CDG', 'In/Slow Lamps.mp3']);
});

test('pictures and cue sheets of a folder go with all of its music, and stay while some of it does', async () => {
  mkdirSync(file('Album'));
  for (const [i, name] of ['1 Slip', '2 Quay'].entries())
    makeAudio(file(`Album/${name}.mp3`), {
      seconds: 1,
      hz: 700 + 100 * i,
      tags: { title: name, artist: 'Brine Choir' },
    });
  const besides = ['Album/cover.jpg', 'Album/whole.cue', 'Album/2 Quay.cue'];
  for (const [i, path] of besides.entries()) writeFileSync(file(path), `beside ${i}`);
  await scanned(rootId);
  const refused = (await h.get(`/roots/${rootId}/not-taken`).expect(200)).body as NotTaken[];
  expect(refused.map((r) => r.path)).toEqual(['In/Alone.cdg']);
  const [one, two] = await Promise.all(['Album/1 Slip.mp3', 'Album/2 Quay.mp3'].map(idOf));
  const albums = (): string[] =>
    readdirSync(h.music, { recursive: true, encoding: 'utf8' })
      .filter((path) => /^(Album|Elsewhere)\/./.test(path))
      .sort();
  const was = albums();
  const put = (ids: number[], mode: string): Promise<number> =>
    apply('/disk/put', { selection: { ids }, mode, into: { rootId, path: 'Elsewhere' }, taken: 'keep both' });
  const there = (names: string[]): string[] => names.map((name) => `Elsewhere/${name}`);

  const some = await put([two!], 'move');
  expect(albums()).toEqual([
    'Album/1 Slip.mp3',
    'Album/cover.jpg',
    'Album/whole.cue',
    ...there(['2 Quay.cue', '2 Quay.mp3']),
  ]);
  await undo(some);
  const whole = await put([one!, two!], 'move');
  expect(albums()).toEqual(there(['1 Slip.mp3', '2 Quay.cue', '2 Quay.mp3', 'cover.jpg', 'whole.cue']));
  expect(existsSync(file('Album'))).toBe(false);
  await undo(whole);
  expect(albums()).toEqual(was);
  const copied = await put([one!, two!], 'copy');
  expect(albums()).toHaveLength(2 * was.length);
  await undo(copied);
  expect(albums()).toEqual(was);
  await apply('/disk/retire', { selection: { ids: [one!, two!] } });
  expect(albums()).toEqual([]);
  await apply('/disk/quarantine/restore', { fileIds: null });
  // The copies that were undone lay there too.
  expect(albums().filter((path) => path.startsWith('Album'))).toEqual(was);
  expect(besides.map((path) => readFileSync(file(path), 'utf8'))).toEqual(['beside 0', 'beside 1', 'beside 2']);
});

test('a later scan finds graphics that came after their music, and those that went', async () => {
  writeFileSync(file('In/Other.cdg'), graphics(3));
  await scanned(rootId);
  const state = async (): Promise<unknown[]> =>
    h.query("SELECT state FROM track_files WHERE path = 'In/Other.cdg' AND role = 'companion'");
  expect(await state()).toEqual([{ state: 'here' }]);
  rmSync(file('In/Other.cdg'));
  await scanned(rootId);
  expect(await state()).toEqual([{ state: 'missing' }]);
  expect(existsSync(file('In/Other.mp3'))).toBe(true);
});
