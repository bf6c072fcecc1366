/** The lists that come with the demo, in a library of its titles. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, mkdirSync } from 'node:fs';
import { dirname, extname, join } from 'node:path';
import type { DateLine, ListContents, ListLine } from '@early-set/core/api/types';
import { makeDemoLists, seedLists } from '../../demo/lists.ts';
import { seedMany } from '../../demo/many.ts';
import { PLAN } from '../../demo/scenario/plan.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
beforeAll(async () => {
  h = await startHarness();
});
afterAll(() => h.stop());

const lists = async (): Promise<ListLine[]> => (await h.get('/lists').expect(200)).body as ListLine[];
const named = async (name: string): Promise<ListLine> => (await lists()).find((l) => l.name === name)!;

test('come when all music is there, once, and are left as people change them', async () => {
  const date = { kind: 'gig', name: 'Slipway', day: '2031-03-07', startsAt: '22:00', asks: 'floor', listIds: [] };
  await h.post('/dates', date).expect(200);
  expect(await makeDemoLists(h.databaseUrl, h.music)).toBe(false);
  expect(await lists()).toEqual([]);
  const made = new Map<string, string>();
  for (const { path, genre } of PLAN) {
    const to = join(h.music, path),
      kind = `${genre}${extname(path)}`;
    mkdirSync(dirname(to), { recursive: true });
    const same = made.get(kind);
    if (same) copyFileSync(same, to);
    else makeAudio(to, { seconds: 1, tags: { genre, date: '2020' } });
    made.set(kind, to);
  }
  await h.takeIn(h.music, false);
  expect(await makeDemoLists(h.databaseUrl, h.music)).toBe(true);
  const slipway = await named('Slipway, first hour');
  const { entries } = (await h.get(`/lists/${slipway.id}`).expect(200)).body as ListContents;
  expect(entries.map((e) => e.values.path)).toHaveLength(new Set(entries.map((e) => e.id)).size);
  expect([entries.length, slipway.shape]).toEqual([14, 'rising']);
  expect((await named('Openers')).parentId).toBe((await named('Boathouse')).id);
  expect(
    ((await h.get('/dates?today=2031-01-01').expect(200)).body as DateLine[])[0]!.lists.map((l) => l.name),
  ).toEqual([slipway.name]);
  await h.until(async () => (await named('Newest ten')).tracks === 10, 'the self-filling ones are filled');
  // The mirror shows the folders as they are.
  const mirror = await named('Crates on the drive');
  const report = { found: 6, made: 0, moved: 0, gone: 0 };
  expect((await h.post(`/mirrors/${mirror.id}/update`).expect(200)).body).toEqual({ listId: mirror.id, report });
  expect((await lists()).find((l) => l.name === 'Techno' && l.parentId === mirror.id)!.tracks).toBeGreaterThan(0);
  // What was removed does not come back with the next start.
  await h.patch(`/lists/${slipway.id}`, { removed: true }).expect(200);
  const before = (await lists()).length;
  expect(await makeDemoLists(h.databaseUrl, h.music)).toBe(true);
  expect((await lists()).length).toBe(before);
  expect((await named('Slipway, first hour')).removed).toBe(true);
});

test('many made-up ones, in crates, some of which fill themselves', async () => {
  await seedMany(h.databaseUrl, 300);
  const before = (await lists()).length;
  expect(await seedLists(h.databaseUrl, before + 40)).toBe(40);
  const all = await lists();
  expect(all.length).toBe(before + 40);
  expect(all.filter((l) => l.rule !== null && /BPM/.test(l.name)).length).toBeGreaterThan(1);
  expect(await seedLists(h.databaseUrl, 10)).toBe(0);
});
