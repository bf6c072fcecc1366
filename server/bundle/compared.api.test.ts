/** A bundle with its music beside a library that is not empty: compared, taken over, taken in, undone. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ComparisonAnswer } from '@early-set/core/api/handover';
import type { Applied } from '@early-set/core/api/types';
import type { TakeLook, TakeReport } from '@early-set/core/api/take';
import type { Line } from '@early-set/core/sync/compareTracks';
import { CATEGORIES } from '@early-set/core/bundle/manifest';
import { marksValue } from '@early-set/core/fields/marks';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

const away = mkdtempSync(join(tmpdir(), 'early-set-away-'));
let h: Harness;
const { undo, ended } = hands(() => h);
const tags = (title: string): { title: string; artist: string } => ({ title, artist: 'Net Loft Seven' });
const idOf = async (title: string): Promise<number> =>
  (await h.query<{ id: number }>('SELECT id FROM tracks WHERE title = $1', [title]))[0]!.id;
const type = async (title: string, fields: Record<string, unknown>): Promise<void> => {
  for (const [field, value] of Object.entries(fields))
    await h.post('/fields', { selection: { ids: [await idOf(title)] }, field, value }).expect(200);
};
const bundle = (name: string): string => join(h.folder, name);
const CUES = marksValue([{ at: 0.5, name: 'in' }]);
let zip: string;

/** On the first computer: three tracks with what is known of them, as a folder with music and as a zip without. */
beforeAll(async () => {
  h = await startHarness();
  for (const [file, title, hz] of [
    ['Lamp Room.flac', 'Lamp Room', 220],
    ['Signal Box.flac', 'Signal Box', 330],
    ['Eel Grass.mp3', 'Eel Grass', 440],
  ] as const)
    makeAudio(join(h.music, file), { seconds: 2, hz, tags: tags(title) });
  await h.takeIn();
  await type('Lamp Room', { rating: 5, notes: 'opens well', freeTags: 'harbour' });
  await type('Signal Box', { genre: 'Dub' });
  await h.query('UPDATE tracks SET cues = $1 WHERE id = $2', [CUES, await idOf('Lamp Room')]);
  const ids = [await idOf('Lamp Room'), await idOf('Eel Grass')];
  const { body } = await h.post('/lists', { kind: 'crate', name: 'Boathouse', parentId: null });
  const { listId } = body as { listId: string };
  await h.post('/lists', { kind: 'playlist', name: 'Friday', parentId: listId, selection: { ids } }).expect(200);
  for (const [name, isZip] of [
    ['loft', false],
    ['packed', true],
  ] as const) {
    const wish = {
      folder: h.folder,
      name,
      zip: isZip,
      music: !isZip,
      categories: CATEGORIES,
      lists: null,
      layouts: [],
    };
    const made = await h.post('/bundles', wish).expect(200);
    expect((await ended((made.body as { runId: number }).runId)).state).toBe('done');
  }
  cpSync(bundle('loft'), join(away, 'loft'), { recursive: true });
  copyFileSync(bundle('packed.zip'), join(away, 'packed.zip'));
  await h.stop();
  // On the second: one track under another name, one with another idea of its genre; the third is not there.
  h = await startHarness();
  cpSync(join(away, 'loft'), bundle('loft'), { recursive: true });
  zip = bundle('packed.zip');
  copyFileSync(join(away, 'packed.zip'), zip);
});
afterAll(async () => {
  await h.stop();
  rmSync(away, { recursive: true, force: true });
});

async function aLibrary(): Promise<void> {
  copyFileSync(bundle('loft/music/1/Lamp Room.flac'), join(h.music, '01 room.flac'));
  copyFileSync(bundle('loft/music/1/Signal Box.flac'), join(h.music, 'Signal Box.flac'));
  await h.takeIn();
  await h.query('UPDATE tracks SET cues = NULL');
  await type('Signal Box', { genre: 'Electro' });
}
const compareBundle = async (path: string): Promise<{ id: number; answer: ComparisonAnswer }> => {
  const { id } = (await h.post('/bundles/compare', { path, folders: [] }).expect(200)).body as { id: number };
  return { id, answer: (await h.post(`/destinations/${id}/compare`).expect(200)).body as ComparisonAnswer };
};
const said = (lines: readonly Line[], name: string): unknown[] =>
  lines.filter((l) => l.name === name).map((l) => [l.field, l.here, l.there, l.group]);

test('into an empty library the music goes along; nothing has to be read or measured again', async () => {
  const place = join(h.folder, 'other');
  mkdirSync(place);
  writeFileSync(join(place, 'Eel Grass.mp3'), 'something else');
  const wish = { path: bundle('loft'), categories: CATEGORIES, folders: [{ id: 1, path: place }], music: true };
  const { runId } = (await h.post('/bundles/read', wish).expect(200)).body as { runId: number };
  const run = await ended(runId);
  expect(run).toMatchObject({ state: 'done', report: { tracks: 3, music: { copied: 2, there: 1, left: 0 } } });
  await h.until(
    async () => (await h.query("SELECT 1 FROM runs WHERE state = 'running'")).length === 0,
    'it is compared',
  );
  // What lay there is nobody's to replace.
  expect(readFileSync(join(place, 'Eel Grass.mp3'), 'utf8')).toBe('something else');
  const states = await h.query(
    "SELECT title, file_state, analysis_state FROM tracks WHERE title <> 'Eel Grass' ORDER BY 1",
  );
  expect(states).toEqual(
    ['Lamp Room', 'Signal Box'].map((title) => ({ title, file_state: 'here', analysis_state: 'done' })),
  );
  expect(await h.query("SELECT 1 FROM runs WHERE kind = 'analysis'")).toEqual([]);
  await h.stop();
  h = await startHarness();
  cpSync(join(away, 'loft'), bundle('loft'), { recursive: true });
  zip = bundle('packed.zip');
  copyFileSync(join(away, 'packed.zip'), zip);
});

test('music goes only into a folder', async () => {
  const wish = {
    folder: h.folder,
    name: 'x',
    zip: true,
    music: true,
    categories: CATEGORIES,
    lists: null,
    layouts: [],
  };
  expect(JSON.stringify((await h.post('/bundles', wish).expect(400)).body)).toContain('Music goes only into a folder');
});

test('beside a library it is compared by sound, taken over as chosen, and undone; the bundle stays as it was', async () => {
  await aLibrary();
  const before = readFileSync(bundle('loft/tracks.jsonl'));
  const { id, answer } = await compareBundle(bundle('loft'));
  expect(answer.counts).toMatchObject({ here: 2, there: 3, tied: 2, notHere: 1 });
  expect(answer.problems).toEqual([]);
  expect(said(answer.lines, 'Lamp Room').sort()).toEqual([
    ['cues', null, CUES, 'in'],
    ['freeTags', null, ['harbour'], 'in'],
    ['notes', null, 'opens well', 'in'],
    ['rating', null, 5, 'in'],
  ]);
  const [genre] = answer.lines.filter((l) => l.field === 'genre');
  expect(genre).toMatchObject({
    group: 'clash',
    here: ['Electro'],
    there: ['Dub'],
    options: ['there', 'both', 'leave'],
  });
  expect(said(answer.lines, 'Friday')).toEqual([['list', null, '2 tracks', 'in']]);
  expect(answer.groups.out).toBe(0);
  const choices = { [genre!.id]: 'both' };
  const chosen = (await h.post(`/destinations/${id}/compare`, { choices }).expect(200)).body as ComparisonAnswer;
  const done = await h.post(`/destinations/${id}/sync`, { token: chosen.token, choices }).expect(200);
  const rows = (): Promise<unknown[]> =>
    h.query('SELECT title, rating, notes, free_tags, cues, genre FROM tracks ORDER BY title');
  const room = { title: 'Lamp Room', rating: 5, notes: 'opens well', free_tags: ['harbour'], cues: CUES, genre: null };
  expect(await rows()).toEqual([
    room,
    { title: 'Signal Box', rating: null, notes: null, free_tags: null, cues: null, genre: ['Electro', 'Dub'] },
  ]);
  const lists = await h.query('SELECT kind, name FROM lists WHERE NOT removed ORDER BY name');
  expect(lists).toEqual([
    { kind: 'crate', name: 'Boathouse' },
    { kind: 'playlist', name: 'Friday' },
  ]);
  expect(readFileSync(bundle('loft/tracks.jsonl'))).toEqual(before);
  await undo(done.body as Applied);
  expect(await rows()).toEqual([
    { ...room, rating: null, notes: null, free_tags: null, cues: null },
    { title: 'Signal Box', rating: null, notes: null, free_tags: null, cues: null, genre: ['Electro'] },
  ]);
  await h.delete(`/destinations/${id}`).expect(200);
  expect(existsSync(bundle('loft/bundle.json'))).toBe(true);
});

test('what is only in it is taken into the library with all that is known of it', async () => {
  const { id } = await compareBundle(bundle('loft'));
  const source = `destination:${id}`;
  const look = (await h.post('/take/look', { source }).expect(200)).body as TakeLook;
  const [eel] = look.rows.filter((r) => r.state === 'new');
  expect(eel).toMatchObject({ values: { title: 'Eel Grass' } });
  const [root] = await h.query<{ id: number }>('SELECT id FROM roots');
  const wish = {
    ...{ source, tracks: [eel!.id], lists: [], over: 'replace', fromComments: false, presetId: null, crate: null },
    copy: { rootId: root!.id, into: 'from loft', names: 'own' },
  };
  const begun = await h.post('/take', wish);
  expect([begun.status, begun.body]).toMatchObject([200, {}]);
  const run = await ended((begun.body as { runId: number }).runId);
  expect(run.report as TakeReport).toMatchObject({ taken: 1, failed: 0 });
  expect((await h.query('SELECT 1 FROM tracks')).length).toBe(3);
  expect(existsSync(join(h.music, 'from loft/Eel Grass.mp3'))).toBe(true);
  await undo({ changeSetId: (run.report as { changeSetId: number }).changeSetId });
  expect((await h.query('SELECT 1 FROM tracks')).length).toBe(2);
});

test('a zip is compared as well; what was unpacked for it goes with it', async () => {
  const { id, answer } = await compareBundle(zip);
  expect(answer.counts).toMatchObject({ there: 3, tied: 2 });
  const [{ folder }] = (await h.query<{ folder: string }>('SELECT folder FROM destinations WHERE id = $1', [id])) as [
    { folder: string },
  ];
  expect(existsSync(join(folder, 'tracks.jsonl'))).toBe(true);
  await h.delete(`/destinations/${id}`).expect(200);
  expect(existsSync(folder)).toBe(false);
  expect(existsSync(zip)).toBe(true);
});

test('a part that is not what was written is said before anything is compared', async () => {
  const path = bundle('spoilt');
  cpSync(join(away, 'loft'), path, { recursive: true });
  writeFileSync(join(path, 'tracks.jsonl'), '{}\n');
  expect((await h.post('/bundles/compare', { path, folders: [] }).expect(409)).body).toMatchObject({
    error: { message: 'tracks.jsonl is not what was written into the bundle' },
  });
  expect(await h.query('SELECT 1 FROM destinations WHERE folder = $1', [path])).toEqual([]);
});
