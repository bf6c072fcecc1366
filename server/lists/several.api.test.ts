/** Several lists at once: joined, split, one taken out of another, and what the page of all lists says. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync } from 'node:fs';
import { join } from 'node:path';
import type { BetterFile, ListOverview, ToFind } from '@early-set/core/api/lists';
import type { Applied, ListContents, ListLine } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let ids: number[];
let rootId: number;
const { idOf, scanned } = hands(() => h);
beforeAll(async () => {
  h = await startHarness();
  makeAudio(join(h.music, '0.mp3'), { seconds: 1, tags: { title: 'T', artist: 'Keel Nine', genre: 'House' } });
  for (let i = 1; i < 6; i++) copyFileSync(join(h.music, '0.mp3'), join(h.music, `${i}.mp3`));
  rootId = await h.takeIn(h.music, false);
  ids = await Promise.all(Array.from({ length: 6 }, (_, i) => idOf(`${i}.mp3`)));
});
afterAll(() => h.stop());

type Made = Applied & { listId: string };
const make = async (kind: 'crate' | 'playlist', name: string, of: number[]): Promise<string> =>
  ((await h.post('/lists', { kind, name, selection: { ids: of.map((i) => ids[i]!) } }).expect(200)).body as Made)
    .listId;
const contents = async (id: string): Promise<ListContents> =>
  (await h.get(`/lists/${id}`).expect(200)).body as ListContents;
const held = async (id: string): Promise<number[]> => (await contents(id)).entries.map((e) => ids.indexOf(e.id));
const undo = () => h.post('/undo', { redo: false }).expect(200);

test('joined one after the other: a crate holds each track once, a playlist as often as they do', async () => {
  const [a, b] = [await make('playlist', 'A', [0, 1, 2]), await make('crate', 'B', [2, 3])];
  const rule = { where: { field: 'genre', test: 'one of', values: ['House'] } };
  const filling = ((await h.post('/lists', { kind: 'crate', name: 'All', rule }).expect(200)).body as Made).listId;
  await h.post(`/lists/${a}/entries/other`, { kind: 'pause', data: { seconds: 10 }, index: 1 }).expect(200);
  const joined = async (kind: string, listIds: string[]): Promise<number[]> =>
    held(((await h.post('/lists/join', { kind, name: 'Both', listIds }).expect(200)).body as Made).listId);
  expect(await joined('playlist', [a, b])).toEqual([0, -1, 1, 2, 2, 3]);
  expect(await joined('crate', [b, a])).toEqual([2, 3, 0, 1]);
  expect((await joined('crate', [filling, b])).length).toBe(6);
  await h.post('/lists/join', { kind: 'crate', name: ' ', listIds: [a, b] }).expect(400);
  await h.post('/lists/join', { kind: 'crate', name: 'x', listIds: [a] }).expect(400);
});

test('split in two at an entry, and undone as one', async () => {
  const id = await make('playlist', 'Long', [0, 1, 2, 3, 4]);
  const { entries } = await contents(id);
  const made = (await h.post(`/lists/${id}/split`, { entryId: entries[3]!.entryId }).expect(200)).body as Made;
  expect([await held(id), await held(made.listId)]).toEqual([
    [0, 1, 2],
    [3, 4],
  ]);
  expect((await contents(made.listId)).info.name).toBe('Long, part 2');
  await h.post(`/lists/${id}/split`, { entryId: entries[0]!.entryId }).expect(409);
  await undo();
  expect(await held(id)).toEqual([0, 1, 2, 3, 4]);
  await h.get(`/lists/${made.listId}`).expect(404);
});

test('what is in another list is taken out; when nothing is, it is said', async () => {
  const [a, b] = [await make('playlist', 'Here', [0, 1, 2]), await make('crate', 'There', [1, 5])];
  const made = (await h.post(`/lists/${a}/take-out`, { listId: b }).expect(200)).body as Applied;
  expect(made.title).toBe('Take 1 track out of "Here" that is in "There"');
  expect(await held(a)).toEqual([0, 2]);
  await h.post(`/lists/${a}/take-out`, { listId: b }).expect(409);
  await undo();
  expect(await held(a)).toEqual([0, 1, 2]);
  await h.post(`/lists/${a}/take-out`, { listId: '00000000-0000-4000-8000-000000000000' }).expect(404);
});

test('a list has a colour and a note, undone like the rest; a copy has them too', async () => {
  const id = await make('crate', 'Marked', [0]);
  await h.patch(`/lists/${id}`, { colour: 'kelp' }).expect(200);
  await h.patch(`/lists/${id}`, { note: '  bring the spare needle\n' }).expect(200);
  expect((await contents(id)).info).toMatchObject({ colour: 'kelp', note: 'bring the spare needle' });
  const copy = (await h.post(`/lists/${id}/duplicate`).expect(200)).body as Made;
  expect((await contents(copy.listId)).info).toMatchObject({ colour: 'kelp', note: 'bring the spare needle' });
  await undo();
  await undo();
  expect((await contents(id)).info).toMatchObject({ colour: 'kelp', note: null });
  await h.patch(`/lists/${id}`, { colour: 'pink' }).expect(400);
});

test('a list is found by a track that it holds', async () => {
  const id = await make('crate', 'With two', [0, 1]);
  const holding = async (text: string) => (await h.get(`/lists/holding?text=${text}`).expect(200)).body as unknown[];
  expect(await holding('keel')).toContainEqual({ id, tracks: 2 });
  expect(await holding('nobody')).toEqual([]);
});

test('removed together as one change, which brings all of them back', async () => {
  const listIds = [await make('playlist', 'One', [0]), await make('crate', 'Two', [1])];
  expect(((await h.post('/lists/remove', { listIds }).expect(200)).body as Applied).title).toBe('Remove 2 lists');
  const removed = async (): Promise<boolean[]> =>
    ((await h.get('/lists')).body as ListLine[]).filter((l) => listIds.includes(l.id)).map((l) => l.removed);
  expect(await removed()).toEqual([true, true]);
  await undo();
  expect(await removed()).toEqual([false, false]);
});

test('the page of all lists: how ready, used on which date, where given', async () => {
  const id = await make('playlist', 'Seven', [0, 1, 1]);
  const date = { kind: 'show', name: 'The hour', day: '2031-03-07', startsAt: '07:00', asks: 'playout', listIds: [id] };
  await h.post('/dates', date).expect(200);
  await h.post(`/lists/${id}/export`, { format: 'm3u8', paths: 'absolute', rootId: null, line: '' }).expect(200);
  const all = (await h.get('/lists/overview').expect(200)).body as ListOverview[];
  const own = all.find((l) => l.id === id)!;
  expect(own).toMatchObject({ held: 2, missing: 0, floor: 0, dates: [{ name: 'The hour', day: '2031-03-07' }] });
  expect(own.given!.to).toMatch(/Seven/);
  expect(all.length).toBe(((await h.get('/lists').expect(200)).body as ListLine[]).length);
});

test('other tracks in place of what is in a list: it says how many go, and undo brings them back', async () => {
  const id = await make('playlist', 'Tonight', [0, 1, 2]);
  const first = (await contents(id)).entries[1]!;
  await h.patch(`/lists/${id}/entries/${first.entryId}`, { pinned: true }).expect(200);
  const wish = { selection: { ids: [3, 1].map((i) => ids[i]!) } };
  const made = (await h.post(`/lists/${id}/replace`, wish).expect(200)).body as Applied;
  expect(made.title).toBe('Replace what is in "Tonight" with 2 tracks; 2 go');
  expect((await held(id)).sort()).toEqual([1, 3]);
  // What stays keeps what it carries.
  expect((await contents(id)).entries.find((e) => e.id === ids[1])).toMatchObject({
    entryId: first.entryId,
    data: { pinned: true },
  });
  await h.post(`/lists/${id}/replace`, wish).expect(409);
  await undo();
  expect(await held(id)).toEqual([0, 1, 2]);
});

test('open slots are gathered as what is to be found; a track takes the place of one', async () => {
  const id = await make('playlist', 'Wishes', [0, 1]);
  const slot = { kind: 'open slot', data: { text: 'Somebody - Something', seconds: 240 }, index: 1 };
  await h.post(`/lists/${id}/entries/other`, slot).expect(200);
  await h.post(`/lists/${id}/entries/other`, { ...slot, data: {} }).expect(200);
  const find = (await h.get('/lists/to-find').expect(200)).body as ToFind[];
  expect(find).toEqual([
    {
      entryId: (await contents(id)).entries[2]!.entryId,
      listId: id,
      list: 'Wishes',
      position: 2,
      text: 'Somebody - Something',
      seconds: 240,
    },
  ]);
  await h.post(`/lists/${id}/entries/${find[0]!.entryId}/swap`, { trackId: ids[4] }).expect(200);
  expect(await held(id)).toEqual([0, -1, 4, 1]);
  expect((await h.get('/lists/to-find')).body).toEqual([]);
  await undo();
  expect(await held(id)).toEqual([0, -1, -1, 1]);
});

test('entries go to the reserve of a playlist, in one change', async () => {
  const id = await make('playlist', 'Floor', [0, 1, 2]),
    crate = await make('crate', 'In reserve', [1]);
  const entries = (await contents(id)).entries.slice(1).map((e) => e.entryId);
  await h.post(`/lists/${id}/entries/reserve`, { entryIds: entries }).expect(409);
  await h.patch(`/lists/${id}`, { reserveId: id }).expect(400);
  await h.patch(`/lists/${id}`, { reserveId: crate }).expect(200);
  await h.post(`/lists/${id}/entries/reserve`, { entryIds: entries }).expect(200);
  expect([await held(id), await held(crate)]).toEqual([[0], [1, 2]]);
  await undo();
  expect([await held(id), await held(crate)]).toEqual([[0, 1, 2], [1]]);
});

test('a list that is given no name is called after what it holds', async () => {
  const id = await make('playlist', '', [0, 1]),
    other = await make('playlist', '', [2, 3]);
  expect([(await contents(id)).info.name, (await contents(other)).info.name]).toEqual(['Keel Nine', 'Keel Nine 2']);
  await h.post('/lists', { kind: 'crate', name: '' }).expect(400);
});

test('entries whose recording is here as a better file: named, replaced at their place as one change, undone', async () => {
  const id = await make('playlist', 'Worn', [0, 1, 2]);
  await h.post(`/lists/${id}/entries/pin`, { entryIds: [(await contents(id)).entries[1]!.entryId], pinned: true });
  const better = async (list = id): Promise<BetterFile[]> => {
    const entries = JSON.stringify((await contents(list)).entries.map((e) => e.entryId));
    return (await h.get(`/lists/${list}/better?entries=${encodeURIComponent(entries)}`).expect(200))
      .body as BetterFile[];
  };
  expect(await better()).toEqual([]);
  makeAudio(join(h.music, '0.flac'), { seconds: 1, tags: { title: 'T', artist: 'Keel Nine', genre: 'House' } });
  makeAudio(join(h.music, 'other.flac'), { seconds: 1, tags: { title: 'T', artist: 'Pell', genre: 'House' } });
  await scanned(rootId);
  const flac = await idOf('0.flac');
  const found = await better();
  expect(found.map((b) => [b.trackId, b.words])).toEqual(found.map(() => [flac, 'FLAC, lossless']));
  expect(found).toHaveLength(3);
  const { entries } = await contents(id);
  const entryIds = entries.slice(0, 2).map((e) => e.entryId);
  await h.post(`/lists/${id}/entries/better`, { entryIds }).expect(200);
  const after = (await contents(id)).entries;
  expect(after.map((e) => [e.id, e.data.pinned ?? false])).toEqual([
    [flac, false],
    [flac, true],
    [ids[2], false],
  ]);
  await undo();
  expect((await contents(id)).entries.map((e) => e.id)).toEqual(ids.slice(0, 3));
  // A crate holds a track once.
  const crate = (
    (await h.post('/lists', { kind: 'crate', name: 'Both', selection: { ids: [ids[0], flac] } })).body as Made
  ).listId;
  expect(await better(crate)).toEqual([]);
  await h.post(`/lists/${crate}/entries/better`, { entryIds: [entries[0]!.entryId] }).expect(409);
});
