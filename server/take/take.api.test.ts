/** Tracks and lists taken from a program, a list file and the pool: recognised, copied, left where they are, undone. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RootLine, SavedPreset, ListLine } from '@early-set/core/api/types';
import type { TakeLook, TakeReport, TakeWish } from '@early-set/core/api/take';
import { newStep } from '@early-set/core/clean/steps';
import { writeList, writeTracks, type Track } from '../../standins/plover/data.ts';
import { startKnotPool, type KnotPool } from '../../standins/knotpool/service.ts';
import { ffmpeg } from '../testing/ffmpeg.ts';
import { hands } from '../testing/hands.ts';
import { startHarness, type Harness } from '../testing/harness.ts';
import { playLike } from '../testing/music.ts';

let h: Harness;
let rootId: number, source: string, outside: string, plover: string, pool: KnotPool;
const { undo, ended: endOf, scanned } = hands(() => h);
const tags = (title: string, more: Record<string, string> = {}): string[] =>
  Object.entries({ title, artist: 'Keel Nine', ...more }).flatMap(([k, v]) => ['-metadata', `${k}=${v}`]);
const file = (path: string): string => `file://${path.split('/').map(encodeURIComponent).join('/')}`;
const look = async (of: string, more: object = {}): Promise<TakeLook> =>
  (await h.post('/take/look', { source: of, ...more }).expect(200)).body as TakeLook;
const NO_WISH = { lists: [], tracks: [], over: 'replace', fromComments: true, presetId: null, crate: null } as const;
const take = async (wish: Partial<TakeWish>): Promise<TakeReport & { state: string }> => {
  const body = { source, copy: null, ...NO_WISH, ...wish };
  const { runId } = (await h.post('/take', body).expect(200)).body as { runId: number };
  const ended = await endOf(runId);
  return { ...(ended.report as TakeReport), state: ended.state };
};
const titles = async (): Promise<string[]> =>
  (await h.query<{ title: string }>('SELECT title FROM tracks ORDER BY title')).map((t) => t.title);
const listsOf = async (): Promise<unknown[]> =>
  ((await h.get('/lists')).body as ListLine[]).filter((l) => !l.removed).map((l) => [l.kind, l.name, l.tracks]);
const track = (id: string, path: string, more: Partial<Track> = {}): Track => ({ id, location: file(path), ...more });

beforeAll(async () => {
  h = await startHarness();
  outside = join(h.folder, 'outside');
  mkdirSync(join(outside, 'Old/B'), { recursive: true });
  playLike(join(h.music, 'Lamp Room.flac'), 1, 30, tags('Lamp Room'));
  playLike(join(h.music, 'Signal Box.flac'), 2, 30, tags('Signal Box'));
  rootId = await h.takeIn(h.music);
  // The same sound under another name and in another encoding; the same bytes; two that are not here.
  ffmpeg('-i', join(h.music, 'Lamp Room.flac'), '-map_metadata', '-1', '-b:a', '192k', join(outside, 'Old/zz.mp3'));
  copyFileSync(join(h.music, 'Signal Box.flac'), join(outside, 'Old/copy.flac'));
  playLike(join(outside, 'Old/B/eel.mp3'), 3, 20, tags('Eel Grass (from the file)'));
  playLike(join(outside, 'Old/B/kelp.mp3'), 4, 20, tags('Kelp Line'));
  playLike(join(outside, 'Old/B/other.mp3'), 5, 20, tags('Nobody asked'));
  plover = join(h.folder, 'plover');
  const data = join(plover, 'collection');
  mkdirSync(join(data, 'lists/Gigs'), { recursive: true });
  const all = [
    track('p1', join(outside, 'Old/zz.mp3'), { title: 'zz', stars: 4, comment: 'opener', cues: [{ at: 3025 }] }),
    track('p2', join(outside, 'Old/copy.flac'), { title: 'Signal Box', stars: 2 }),
    track('p3', join(outside, 'Old/B/eel.mp3'), {
      ...{ title: 'Eel Grass', comment: 'energy 7; dark', key: 'F#m', cues: [{ at: 1025, name: 'in' }], played: 9 },
    }),
    track('p4', join(outside, 'Old/B/kelp.mp3'), { title: 'Kelp Line' }),
    track('p5', join(outside, 'gone.mp3'), { title: 'Gone' }),
  ];
  writeTracks(data, all);
  const locations = ['p3', 'p1', 'p2'].map((id) => all.find((t) => t.id === id)!.location);
  writeList(data, { file: 'Gigs/After ten.xspf', title: 'After ten', identifier: 'urn:1', locations });
  const { id } = (await h.post('/destinations', { folder: plover }).expect(200)).body as { id: number };
  source = `destination:${id}`;
}, 180_000);
afterAll(async () => {
  await pool?.stop();
  await h?.stop();
});

describe('looked at before anything is taken', () => {
  test('lists with their places, tracks with what they are, narrowed and sorted', async () => {
    const all = await look(source);
    expect(all.lists).toEqual([{ id: 'urn:1', name: 'After ten', place: ['Gigs'], tracks: 3, fresh: 3 }]);
    expect(all.counts).toEqual({ new: 4, here: 0, 'not found': 1 });
    expect(all.inComments).toBe(1);
    expect((await look(source, { list: 'urn:1' })).rows.map((r) => r.id)).toEqual(['p3', 'p1', 'p2']);
    const sorted = await look(source, { state: 'new', sort: { field: 'title', descending: true } });
    expect(sorted.rows.map((r) => r.values.title)).toEqual(['zz', 'Signal Box', 'Kelp Line', 'Eel Grass']);
    expect((await look(source, { find: 'eel DARK' })).rows.map((r) => r.id)).toEqual(['p3']);
    await h.post('/take/look', { source: 'destination:999' }).expect(404);
    await h.post('/take/look', { source: 'list:/etc/passwd' }).expect(403);
  });

  test('heard, where it can be', async () => {
    const sound = await h.get(`/take/sound?source=${source}&track=p3`).expect(200);
    expect(sound.headers['content-type']).toBe('audio/mpeg');
    await h.get(`/take/sound?source=${source}&track=p5`).expect(404);
    await h.get(`/take/sound?source=${source}&track=nothing`).expect(404);
    await h.get(`/take/picture?source=${source}&track=p3`).expect(204);
  });
});

test('a list is copied in: what is here is linked by bytes and by sound, the rest is new; undone, and again', async () => {
  const copy = { rootId, into: 'From Plover', names: 'own' } as const;
  const report = await take({ lists: ['urn:1'], copy });
  expect(report).toMatchObject({ taken: 1, linked: 2, bySound: 1, failed: 0, told: [], lists: 1 });
  expect(existsSync(join(h.music, 'From Plover/eel.mp3'))).toBe(true);
  expect(existsSync(join(h.music, 'From Plover/zz.mp3'))).toBe(false);
  expect(await titles()).toEqual(['Eel Grass', 'Lamp Room', 'Signal Box']);
  const rows = await h.query<Record<string, unknown>>(
    'SELECT title, rating, comment, energy, moods, cues, times_used AS used FROM tracks ORDER BY title',
  );
  expect(rows).toMatchObject([
    {
      title: 'Eel Grass',
      comment: 'energy 7; dark',
      energy: 70,
      moods: ['dark'],
      cues: '[{"at":1,"name":"in"}]',
      used: 9,
    },
    // Recognised by its sound: gaps are filled, places in another encoding are not taken over.
    { title: 'Lamp Room', rating: 4, comment: 'opener', cues: null },
    { title: 'Signal Box', rating: 2 },
  ]);
  expect(await listsOf()).toEqual([
    ['crate', 'Gigs', 0],
    ['playlist', 'After ten', 3],
  ]);
  expect((await look(source)).counts).toEqual({ new: 1, here: 3, 'not found': 1 });
  // The program's own track is known for it, although it lies elsewhere: handed over, it would not be doubled.
  const compared = await h.post(`/destinations/${source.split(':')[1]!}/compare`, { choices: {} }).expect(200);
  expect((compared.body as { counts: object }).counts).toMatchObject({ tied: 3, notHere: 2 });
  const again = await take({ lists: ['urn:1'], copy });
  expect(again).toMatchObject({ taken: 0, linked: 3, lists: 0, changeSetId: null });
  await undo({ changeSetId: report.changeSetId! });
  expect(await titles()).toEqual(['Lamp Room', 'Signal Box']);
  expect(await listsOf()).toEqual([]);
  expect(existsSync(join(h.music, 'From Plover/eel.mp3'))).toBe(true);
  expect((await look(source)).counts).toEqual({ new: 2, here: 2, 'not found': 1 });
});

test('left where they lie: their folder becomes a library folder, the others in it are left out', async () => {
  const report = await take({ tracks: ['p3', 'p4', 'p5'], crate: 'From Plover' });
  expect(report).toMatchObject({ state: 'done', taken: 2, failed: 1, lists: 1 });
  expect(report.told).toEqual([{ path: join(outside, 'gone.mp3'), reason: 'Its file is not there' }]);
  const roots = (await h.get('/roots')).body as RootLine[];
  const root = roots.find((r) => r.path === join(outside, 'Old/B'))!;
  expect(root).toMatchObject({ tracks: 2, notTaken: 1 });
  await scanned(root.id);
  expect(await titles()).toEqual(['Eel Grass', 'Kelp Line', 'Lamp Room', 'Signal Box']);
  expect(await listsOf()).toEqual([['crate', 'From Plover', 2]]);
});

test('what is no music, broken or empty is told and not copied, nor heard', async () => {
  for (const [name, text] of Object.entries({ 'a.mp3': 'not a sound at all', 'b.mp3': '', 'c.txt': 'words' }))
    writeFileSync(join(outside, name), text);
  const list = join(outside, 'bad.m3u8');
  writeFileSync(list, 'a.mp3\nb.mp3\nc.txt\n');
  const bad = `list:${list}`;
  const report = await take({ source: bad, lists: ['list'], copy: { rootId, into: 'Bad', names: 'own' } });
  expect(report).toMatchObject({ taken: 0, failed: 3, lists: 0 });
  expect(report.told.map((t) => t.reason)).toContain('The file is empty (zero bytes)');
  expect(existsSync(join(h.music, 'Bad'))).toBe(false);
  const of = `source=${encodeURIComponent(bad)}&track=${encodeURIComponent(join(outside, 'c.txt'))}`;
  await h.get(`/take/sound?${of}`).expect(415);
  await h.get(`/take/picture?${of}`).expect(204);
});

test('where nothing of a list can be taken, no empty list is made', async () => {
  const before = await listsOf();
  const list = join(outside, 'nothing.m3u8');
  writeFileSync(list, 'not there.mp3\n');
  const report = await take({ source: `list:${list}`, lists: ['list'], crate: 'Never' });
  expect(report).toMatchObject({ taken: 0, failed: 1, lists: 0, changeSetId: null });
  expect(await listsOf()).toEqual(before);
});

test('a list file: what it names is found beside it, its order becomes a playlist', async () => {
  writeFileSync(
    join(outside, 'early.m3u8'),
    '#EXTM3U\n#EXTINF:20,Keel Nine - Kelp Line\nOld/B/kelp.mp3\nOld/B/other.mp3\n',
  );
  const list = `list:${join(outside, 'early.m3u8')}`;
  const seen = await look(list);
  expect(seen).toMatchObject({ name: 'early', counts: { new: 1, here: 1, 'not found': 0 }, listKind: 'playlist' });
  expect(await take({ source: list, lists: ['list'] })).toMatchObject({ taken: 1, linked: 1, lists: 1 });
  expect(await listsOf()).toContainEqual(['playlist', 'early', 2]);
});

describe('the pool', () => {
  beforeAll(async () => {
    const folder = join(h.folder, 'pool');
    for (const name of ['files', 'previews']) mkdirSync(join(folder, name), { recursive: true });
    const lines = ['Sand Martin', 'Thole Pin', 'Gannet'].map((title, i) => {
      const [id, name] = [`k${i + 1}`, `${title.toLowerCase().replace(' ', '_')}_promo.mp3`];
      playLike(join(folder, 'files', name), 10 + i, 12, tags(`[promo] ${title}`, { comment: 'www.promos.example' }));
      copyFileSync(join(folder, 'files', name), join(folder, 'previews', `${id}.mp3`));
      return {
        ...{ id, title: `[promo] ${title}`, version: null, artists: ['Keel Nine'], label: null, genre: 'House' },
        ...{ year: 2026, bpm: 124, key: 'A minor', seconds: 12, added: '2026-11-24', file: name, preview: `${id}.mp3` },
      };
    });
    writeFileSync(join(folder, 'tracks.jsonl'), lines.map((l) => `${JSON.stringify(l)}\n`).join(''));
    writeFileSync(join(folder, 'lists.jsonl'), `${JSON.stringify({ id: 'new', name: 'New', tracks: ['k1', 'k2'] })}\n`);
    pool = await startKnotPool({ folder, mood: { expiredEvery: 2, breakEvery: 3, atOnce: 2 } });
    await h.query(
      "INSERT INTO settings (name, value) VALUES ('pool', $1) ON CONFLICT (name) DO UPDATE SET value = $1",
      [JSON.stringify(pool.address)],
    );
  }, 60_000);

  test('downloads begin again where links expire or files break off; marks are cleaned, all is in a crate', async () => {
    expect((await look('pool')).counts).toEqual({ new: 3, here: 0, 'not found': 0 });
    const piece = await h.get('/take/sound?source=pool&track=k1').expect(200);
    expect(piece.headers['content-type']).toBe('audio/mpeg');
    await h.post('/take', { source: 'pool', copy: null, ...NO_WISH, tracks: ['k1'] }).expect(400);
    const steps = [newStep('marks', 's1')];
    const preset = (await h.post('/presets', { name: 'Promo out', steps }).expect(200)).body as SavedPreset;
    const report = await take({
      ...{ source: 'pool', tracks: ['k3'], lists: ['new'], crate: 'From the pool', presetId: preset.id },
      copy: { rootId, into: 'Pool', names: 'own' },
    });
    expect(report).toMatchObject({ taken: 3, failed: 0, lists: 2, cleaned: { preset: 'Promo out', tracks: 3 } });
    expect((await titles()).filter((t) => ['Sand Martin', 'Thole Pin', 'Gannet'].includes(t))).toHaveLength(3);
    expect(readdirSync(join(h.music, 'Pool'))).toHaveLength(3);
    for (const name of readdirSync(join(h.music, 'Pool')))
      expect(readFileSync(join(h.folder, 'pool/files', name)).length).toBeGreaterThan(0);
    expect(await listsOf()).toContainEqual(['crate', 'From the pool', 3]);
    expect((await look('pool')).counts).toEqual({ new: 0, here: 3, 'not found': 0 });
    expect(readdirSync(join(h.folder, 'data/arriving')).length > 0).toBe(false);
  });

  test('closed, it says so', async () => {
    await fetch(`${pool.address}/control`, { method: 'POST', body: JSON.stringify({ down: true }) });
    rmSync(join(h.music, 'Pool'), { recursive: true });
    await h.query("DELETE FROM taken_tracks WHERE source = 'pool'");
    const answer = await h.post('/take/look', { source: 'pool' });
    expect([answer.status, JSON.stringify(answer.body)]).toEqual([502, expect.stringContaining('The pool is down')]);
  });
});
