/** Dates on a real database: kept, changed, taken off, and how ready their tracks are. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { Applied, DateInfo, DateLine, SheetPage } from '@early-set/core/api/types';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { join } from 'node:path';

let h: Harness;
const DATE: DateInfo = {
  name: 'Slipway',
  kind: 'gig',
  day: '2031-03-07',
  startsAt: '22:00',
  asks: 'floor',
  listIds: [],
};
let ids: number[] = [];

beforeAll(async () => {
  h = await startHarness();
  for (const [i, name] of ['a', 'b', 'c', 'd'].entries())
    makeAudio(join(h.music, `${name}.mp3`), {
      seconds: 1,
      hz: 300 + i * 50,
      tags: { title: `Track ${name}`, artist: 'Brine Choir', genre: 'Dub', date: '2019' },
    });
  await h.takeIn(h.music, false);
  ids = (await h.query<{ id: number }>('SELECT id FROM tracks ORDER BY path')).map((r) => r.id);
  await h.query("UPDATE tracks SET bpm = 120, key = 'A min', energy = 50, analysis_state = 'done'");
});
afterAll(() => h.stop());

const lines = async (query = 'today=2031-03-01'): Promise<DateLine[]> =>
  (await h.get(`/dates?${query}`).expect(200)).body as DateLine[];
const keep = async (info: DateInfo): Promise<{ id: number }> =>
  (await h.post('/dates', info).expect(200)).body as { id: number };
const list = async (kind: 'crate' | 'playlist', trackIds: number[], parentId: string | null = null): Promise<string> =>
  (
    (
      await h
        .post('/lists', { kind, name: `L${trackIds.join('')}`, parentId, selection: { ids: trackIds } })
        .expect(200)
    ).body as Applied & { listId: string }
  ).listId;

test('dates stand in their order, those that have been apart; what makes no sense is refused', async () => {
  const late = await keep({ ...DATE, name: 'Late' }),
    early = await keep({ ...DATE, name: 'Early', startsAt: '07:00', kind: 'show', asks: 'playout' }),
    past = await keep({ ...DATE, name: 'Past', day: '2031-02-28' });
  expect((await lines()).map((d) => d.id)).toEqual([early.id, late.id]);
  expect((await lines('today=2031-03-01&past=true')).map((d) => d.id)).toEqual([past.id]);
  expect((await lines('today=2031-03-07')).length).toBe(2);
  for (const wrong of [
    { day: '2031-02-30' },
    { day: 'Friday' },
    { startsAt: '25:00' },
    { name: '  ' },
    { kind: 'party' },
    { listIds: ['x'] },
  ])
    await h.post('/dates', { ...DATE, ...wrong }).expect(400);
  await h.get('/dates?today=now').expect(400);
  const changed = (await h.patch(`/dates/${late.id}`, { ...DATE, name: 'Later', startsAt: null }).expect(200))
    .body as DateInfo;
  expect(changed).toMatchObject({ name: 'Later', startsAt: null });
  await h.patch('/dates/999', DATE).expect(404);
  for (const { id } of [late, early, past]) await h.delete(`/dates/${id}`).expect(200);
  await h.delete(`/dates/${past.id}`).expect(404);
  expect(await lines()).toEqual([]);
});

test('readiness counts each track of its lists and of the crates below them once', async () => {
  const outer = await list('crate', [ids[0]!]),
    inner = await list('crate', [ids[1]!, ids[0]!], outer),
    other = await list('playlist', [ids[1]!, ids[2]!]);
  const { id } = await keep({ ...DATE, listIds: [outer, other] });
  const one = async (): Promise<DateLine> => (await lines()).find((d) => d.id === id)!;
  expect(await one()).toMatchObject({ tracks: 3, measured: 3, filled: 3, here: 3, written: 3, ready: 3 });
  expect((await one()).lists.map((l) => l.id).sort()).toEqual([outer, other].sort());
  expect([...(await one()).within].sort()).toEqual([outer, inner, other].sort());
  await h.query('UPDATE tracks SET genre = NULL WHERE id = $1', [ids[0]]);
  await h.query("UPDATE tracks SET file_state = 'missing' WHERE id = $1", [ids[1]]);
  await h.query("UPDATE tracks SET unwritten = '{title}', analysis_state = 'failed' WHERE id = $1", [ids[2]]);
  expect(await one()).toMatchObject({ tracks: 3, measured: 2, filled: 2, here: 2, written: 2, ready: 0 });
  // What the card leads to is the same.
  const inLists = async (also: object[]): Promise<number[]> =>
    (
      (
        await h
          .get(
            `/tracks?where=${encodeURIComponent(JSON.stringify({ all: [{ inLists: (await one()).within }, ...also] }))}`,
          )
          .expect(200)
      ).body as SheetPage
    ).rows
      .map((r) => r.id)
      .sort((a, b) => a - b);
  expect(await inLists([])).toEqual(ids.slice(0, 3));
  expect(await inLists([{ field: 'genre', test: 'empty' }])).toEqual([ids[0]]);
  expect(await inLists([{ not: { inLists: [other] } }])).toEqual([ids[0]]);
  // A list that was put away no longer counts.
  await h.patch(`/lists/${other}`, { removed: true }).expect(200);
  expect(await one()).toMatchObject({ tracks: 2, lists: [{ id: outer }] });
});
