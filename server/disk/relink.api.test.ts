/** Files that were moved and renamed behind the library's back are found again; lists, cues and undo hold. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { FoundLine, MapTried, NotFound } from '@early-set/core/api/disk';
import type { Applied, ListContents, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { ffmpeg } from '../testing/ffmpeg.ts';
import { playLike } from '../testing/music.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let root: number, listId: string;
const ids = new Map<string, number>();
const { scanned } = hands(() => h);
const NAMES = ['Slack Water', 'Tin Ladle', 'Grey Harbour', 'Lamp Room', 'Eel Grass', 'Coal Boat'];

beforeAll(async () => {
  h = await startHarness();
  NAMES.forEach((title, i) =>
    makeAudio(join(h.music, `House/${title}.mp3`), {
      seconds: 3,
      hz: 300 + 50 * i,
      tags: { title, artist: 'Keel Nine' },
    }),
  );
  makeAudio(join(h.music, 'no tags.mp3'), { seconds: 3, hz: 900 });
  root = await h.takeIn();
  const { rows } = (await h.get('/tracks?limit=50').expect(200)).body as SheetPage;
  for (const row of rows) ids.set(String(row.values.title), row.id);
  const selection = { ids: [ids.get('Slack Water')!, ids.get('Tin Ladle')!] };
  listId = (await h.post('/lists', { kind: 'playlist', name: 'Late shift', selection }).expect(200)).body.listId;
  await h
    .post('/fields', { selection: { ids: [ids.get('Tin Ladle')!] }, field: 'notes', value: 'by hand' })
    .expect(200);
});
afterAll(() => h?.stop());

const notFound = async (): Promise<NotFound> => (await h.get('/disk/not-found').expect(200)).body as NotFound;
const find = async (trackIds: number[] | null = null): Promise<FoundLine[]> =>
  (await h.post('/disk/find-again', { trackIds }).expect(200)).body as FoundLine[];
const track = async (title: string): Promise<TrackDetails> =>
  (await h.get(`/tracks/${ids.get(title)!}`).expect(200)).body as TrackDetails;
const entries = async (): Promise<number[]> =>
  ((await h.get(`/lists/${listId}`).expect(200)).body as ListContents).entries.map((e) => e.id);

test('nothing is lost: nothing is listed and nothing is looked for', async () => {
  expect(await notFound()).toEqual({ lines: [], away: [] });
  expect(await find()).toEqual([]);
  await h.post('/disk/relink', { pairs: [{ trackId: 1, otherId: 2 }] }).expect(409);
});

test('one moved and one renamed outside are not found, those in lists first, and both are found by their sound', async () => {
  mkdirSync(join(h.music, 'Elsewhere'));
  renameSync(join(h.music, 'House/Tin Ladle.mp3'), join(h.music, 'Elsewhere/Tin Ladle.mp3'));
  renameSync(join(h.music, 'House/Eel Grass.mp3'), join(h.music, 'House/eg final.mp3'));
  await scanned(root);
  await h.until(async () => {
    const { rows } = (await h.get('/tracks?limit=50')).body as SheetPage;
    return rows.length === 9 && rows.every((r) => r.values.analysisState === 'done');
  }, 'the files are measured that came');
  const { lines } = await notFound();
  expect(lines.map((l) => [l.title, l.path, l.lists, l.rootId])).toEqual([
    ['Tin Ladle', 'House/Tin Ladle.mp3', ['Late shift'], root],
    ['Eel Grass', 'House/Eel Grass.mp3', [], root],
  ]);
  const found = new Map((await find()).map((f) => [f.trackId, f]));
  for (const [title, path] of [
    ['Tin Ladle', 'Elsewhere/Tin Ladle.mp3'],
    ['Eel Grass', 'House/eg final.mp3'],
  ] as const)
    expect(found.get(ids.get(title)!)!.found).toMatchObject({ path, by: 'same sound, byte for byte', sure: 1 });
  expect(await find([ids.get('Eel Grass')!])).toHaveLength(1);
});

test('a path map is tried out: what lies below its beginning, and what is where it leads', async () => {
  const map = { from: `${h.music}/house`, to: `${h.music}\\Elsewhere` };
  const { below, lines } = (await h.post('/disk/path-map', map).expect(200)).body as MapTried;
  expect(below).toBe(2);
  expect(lines.flatMap((l) => (l.found ? [[l.trackId, l.found.path]] : []))).toEqual([
    [ids.get('Tin Ladle'), 'Elsewhere/Tin Ladle.mp3'],
  ]);
});

test('tied again they are the tracks they were, with their lists and what was typed; undo parts them again', async () => {
  const pairs = (await find()).map(({ trackId, found }) => ({
    trackId,
    otherId: found!.trackId,
    offsetSeconds: found!.offsetSeconds,
  }));
  const { title } = (await h.post('/disk/relink', { pairs }).expect(200)).body as Applied;
  expect(title).toBe('Find 2 tracks again');
  expect((await notFound()).lines).toEqual([]);
  const { values } = await track('Tin Ladle');
  expect([values.path, values.fileState, values.notes]).toEqual(['Elsewhere/Tin Ladle.mp3', 'here', 'by hand']);
  expect(await entries()).toEqual([ids.get('Slack Water'), ids.get('Tin Ladle')]);
  expect(((await h.get('/tracks?limit=50').expect(200)).body as SheetPage).total).toBe(7);
  // Another scan finds all of it as it is.
  await scanned(root);
  expect((await notFound()).lines).toEqual([]);
  expect(((await h.get('/tracks?limit=50').expect(200)).body as SheetPage).total).toBe(7);

  await h.post('/undo', {}).expect(200);
  expect((await notFound()).lines.map((l) => l.title).sort()).toEqual(['Eel Grass', 'Tin Ladle']);
  expect(((await h.get('/tracks?limit=50').expect(200)).body as SheetPage).total).toBe(9);
  expect((await track('Tin Ladle')).values).toMatchObject({ path: 'House/Tin Ladle.mp3', fileState: 'missing' });
  await h.post('/undo', { redo: true }).expect(200);
  expect((await notFound()).lines).toEqual([]);
});

test('a file belongs to one track', async () => {
  const twice = { pairs: [1, 2].map((n) => ({ trackId: ids.get(NAMES[n]!)!, otherId: ids.get('Slack Water')! })) };
  await h.post('/disk/relink', twice).expect(400);
});

test('where it begins earlier, cues and anchors move along, to a hundredth of a second', async () => {
  const long = join(h.music, 'long.wav');
  playLike(long, 3, 40);
  await scanned(root);
  const [{ id }] = (await h.query<{ id: number }>("SELECT id FROM tracks WHERE path = 'long.wav'")) as [{ id: number }];
  const settled = (): Promise<void> =>
    h.until(
      async () => (await h.query("SELECT 1 FROM tracks WHERE analysis_state IN ('waiting', 'running')")).length === 0,
      'all is measured',
    );
  await settled();
  const cues = JSON.stringify([{ at: 12.345, name: 'in' }]);
  await h.post('/fields', { selection: { ids: [id] }, field: 'cues', value: cues }).expect(200);
  ffmpeg('-ss', '1.43', '-i', long, '-b:a', '192k', join(h.music, 'short.mp3'));
  rmSync(long);
  await scanned(root);
  await settled();
  const [line] = await find([id]);
  expect(line!.found).toMatchObject({ path: 'short.mp3', by: 'sound' });
  const { trackId: otherId, offsetSeconds } = line!.found!;
  const drawn = async (of: number): Promise<string | undefined> =>
    (await h.query<{ w: string }>('SELECT md5(waveform) AS w FROM analyses WHERE track_id = $1', [of]))[0]?.w;
  const [whole, cut] = [await drawn(id), await drawn(otherId)];
  await h.post('/disk/relink', { pairs: [{ trackId: id, otherId, offsetSeconds }] }).expect(200);
  const [now] = await h.query<{ cues: string }>('SELECT cues FROM tracks WHERE id = $1', [id]);
  const [cue] = JSON.parse(now!.cues) as [{ at: number }];
  expect(Math.abs(cue.at - (12.345 - 1.43))).toBeLessThan(0.02);
  // What is heard begins later: it is measured again, and so is the former file when it is back.
  await h.until(async () => (await drawn(id)) === cut, 'waveform and grid are those of the file that plays');
  await settled();
  await h.post('/undo', {}).expect(200);
  playLike(long, 3, 40);
  await scanned(root);
  await h.until(async () => (await drawn(id)) === whole, 'waveform and grid are those of the former file');
  await settled();
});
