/** Taking back what could be taken back, and the rest later. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { chmodSync, copyFileSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, DateInfo, DateLine } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
const { set, undo, details, bytesOf, pathOf, inFile } = hands(() => h);
const FILES = Array.from({ length: 50 }, (_, i) => `many/${i}.mp3`),
  READ_ONLY = FILES.slice(20, 30);

beforeAll(async () => {
  h = await startHarness();
  mkdirSync(join(h.music, 'many'));
  makeAudio(join(h.music, FILES[0]!), { seconds: 1, tags: { title: 'Many', artist: 'Keel Nine' } });
  for (const name of FILES.slice(1)) copyFileSync(pathOf(FILES[0]!), pathOf(name));
  await h.takeIn(h.music, false);
});
afterAll(() => h?.stop());

const open = async (id: number): Promise<number> =>
  (await details(id)).lines.filter((l) => l.state === 'done' && !l.undone).length;

test('of fifty files ten are read-only: forty are undone, the ten later, and the same goes for redo', async () => {
  const before = bytesOf(FILES);
  const applied = await set(FILES, 'title', 'All the same');
  expect(applied.files).toMatchObject({ written: 50 });
  for (const name of READ_ONLY) chmodSync(pathOf(name), 0o444);
  const first = await undo(applied);
  expect([first.files!.written, first.conflicts.length]).toEqual([40, 10]);
  expect(new Set(first.conflicts.map((c) => c.reason))).toEqual(new Set(['The file is read-only']));
  const half = await details(applied.changeSetId);
  expect([half.undoneBy, await open(applied.changeSetId)]).toEqual([null, 10]);
  for (const [i, bytes] of bytesOf(FILES).entries())
    expect([FILES[i], bytes.equals(before[i]!)]).toEqual([FILES[i], !READ_ONLY.includes(FILES[i]!)]);
  for (const name of READ_ONLY) chmodSync(pathOf(name), 0o644);
  const rest = await undo(applied);
  expect([rest.files!.written, rest.conflicts]).toEqual([10, []]);
  expect((await details(applied.changeSetId)).undoneBy).toBe(rest.changeSetId);
  bytesOf(FILES).forEach((bytes, i) => expect([FILES[i], bytes.equals(before[i]!)]).toEqual([FILES[i], true]));
  // Redo: the ten that were undone last are made again but for three that are read-only, these later.
  for (const name of READ_ONLY.slice(0, 3)) chmodSync(pathOf(name), 0o444);
  const again = await undo(rest);
  expect([again.files!.written, again.conflicts.length]).toEqual([7, 3]);
  expect(await open(applied.changeSetId)).toBe(7);
  for (const name of READ_ONLY.slice(0, 3)) chmodSync(pathOf(name), 0o644);
  await undo(rest);
  expect(await open(applied.changeSetId)).toBe(10);
  for (const name of READ_ONLY) expect(inFile(name).title).toEqual(['All the same']);
});

test('what was cancelled can be undone and made again like the rest; Ctrl Z goes on to the change before', async () => {
  const first = await set([FILES[1]!], 'title', 'First');
  const second = await set([FILES[2]!], 'title', 'Second');
  chmodSync(pathOf(FILES[2]!), 0o444);
  const tried = (await h.post('/undo').expect(200)).body as Applied;
  expect(tried.conflicts).toHaveLength(1);
  const next = (await h.post('/undo').expect(200)).body as Applied;
  expect(next.title).toContain('Title on one track');
  expect((await details(first.changeSetId)).undoneBy).toBe(next.changeSetId);
  chmodSync(pathOf(FILES[2]!), 0o644);
  expect(await open(second.changeSetId)).toBe(1);
  await undo(second);
  expect(await open(second.changeSetId)).toBe(0);
});

test('dates are changes too: made, changed and taken off, each undone', async () => {
  const date: DateInfo = {
    name: 'Slipway',
    kind: 'gig',
    day: '2031-03-07',
    startsAt: '22:00',
    asks: 'floor',
    listIds: [],
  };
  const names = async (): Promise<string[]> =>
    ((await h.get('/dates?today=2031-03-01')).body as DateLine[]).map((d) => d.name);
  const { id } = (await h.post('/dates', date).expect(200)).body as { id: number };
  await h.patch(`/dates/${id}`, { ...date, name: 'Slipway, late' }).expect(200);
  const removed = (await h.delete(`/dates/${id}`).expect(200)).body as Applied;
  expect(await names()).toEqual([]);
  await undo(removed);
  expect(await names()).toEqual(['Slipway, late']);
  await h.post('/undo').expect(200);
  expect(await names()).toEqual(['Slipway']);
  await h.post('/undo').expect(200);
  expect(await names()).toEqual([]);
  expect((await h.get('/changes?area=dates')).body).toHaveLength(6);
});
