/** Dates that have passed: what was used, once each, undone like all else, and set by hand. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, ChangeSetLine, ListLine, TrackDetails } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let ids: number[];
const { idOf } = hands(() => h);
beforeAll(async () => {
  h = await startHarness();
  makeAudio(join(h.music, '0.mp3'), { seconds: 1, tags: { title: 'T' } });
  for (let i = 1; i < 4; i++) copyFileSync(join(h.music, '0.mp3'), join(h.music, `${i}.mp3`));
  await h.takeIn(h.music, false);
  ids = await Promise.all(Array.from({ length: 4 }, (_, i) => idOf(`${i}.mp3`)));
});
afterAll(() => h.stop());

const make = async (kind: 'crate' | 'playlist', name: string, of: number[]): Promise<string> =>
  (
    (await h.post('/lists', { kind, name, selection: { ids: of.map((i) => ids[i]!) } }).expect(200)).body as {
      listId: string;
    }
  ).listId;
const date = (day: string, listIds: string[], startsAt: string | null = null) =>
  h.post('/dates', { kind: 'gig', name: 'Slipway', day, startsAt, asks: 'floor', listIds }).expect(200);
/** When and how often each was used. */
const used = async (): Promise<unknown[]> =>
  Promise.all(
    ids.map(async (id) => {
      const { values } = (await h.get(`/tracks/${id}`).expect(200)).body as TrackDetails;
      return [typeof values.lastUsed === 'string' ? values.lastUsed.slice(0, 10) : null, values.timesUsed];
    }),
  );
const NEVER = [null, null];
const counted = (dates: number): Promise<void> =>
  h.until(async () => (await h.query('SELECT 1 FROM dates WHERE counted')).length === dates, 'uses are counted');

test('the playlists of a date that has passed were used then; its crates where it has no playlist', async () => {
  const set = await make('playlist', 'Set', [0, 1]),
    pool = await make('crate', 'Pool', [1, 2]);
  await date('2026-11-20', [set, pool]);
  await date('2026-11-21', [pool]);
  await date('2199-01-01', [set]);
  // The server itself counts what has passed, soon after a date was made.
  await counted(2);
  expect(await used()).toEqual([['2026-11-20', 1], ['2026-11-21', 2], ['2026-11-21', 1], NEVER]);
  const titles = ((await h.get('/changes').expect(200)).body as ChangeSetLine[]).map((c) => c.title);
  expect(titles[0]).toBe('Used: Slipway, 2026-11-21');
  expect(titles).toContain('Used: Slipway, 2026-11-20');
  await h.post('/undo', { redo: false }).expect(200);
  expect(await used()).toEqual([['2026-11-20', 1], ['2026-11-20', 1], NEVER, NEVER]);
  // What was undone is not counted again, when the next date has passed.
  await date('2026-11-22', []);
  await counted(3);
  expect(await used()).toEqual([['2026-11-20', 1], ['2026-11-20', 1], NEVER, NEVER]);
});

test('set by hand, undone to just what was there; a crate of what was not used lately follows', async () => {
  const rule = { where: { not: { field: 'lastUsed', test: 'in the last', days: 90 } } };
  const { listId } = (await h.post('/lists', { kind: 'crate', name: 'Fresh', rule }).expect(200)).body as {
    listId: string;
  };
  const fresh = async (): Promise<number> =>
    ((await h.get('/lists')).body as ListLine[]).find((l) => l.id === listId)!.tracks;
  await h.post('/fields', { selection: { ids }, field: 'lastUsed', value: null }).expect(200);
  expect(await fresh()).toBe(4);
  const today = new Date().toISOString().slice(0, 10);
  const set = (await h.post('/fields', { selection: { ids: ids.slice(0, 3) }, field: 'lastUsed', value: today }))
    .body as Applied;
  expect(set.conflicts).toEqual([]);
  expect(await fresh()).toBe(1);
  const undone = (await h.post(`/changes/${set.changeSetId}/undo`).expect(200)).body as Applied;
  expect(undone.conflicts).toEqual([]);
  expect(await fresh()).toBe(4);
  await h.post('/fields', { selection: { ids }, field: 'lastUsed', value: 'some day' }).expect(400);
});
