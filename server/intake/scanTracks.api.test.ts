/** The report of a scan can be opened again, and each of its figures is what the sheet then shows. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { renameSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ScanFigures } from '@early-set/core/api/intake';
import type { RunProgress, SheetPage } from '@early-set/core/api/types';
import { SCAN_PARTS, type ScanPart } from '@early-set/core/conditions/condition';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness, rootId: number;
const { scanned, idOf } = hands(() => h);
const file = (path: string): string => join(h.music, path);
const figures = async (id: number): Promise<ScanFigures> =>
  (await h.get(`/runs/${id}/scan`).expect(200)).body as ScanFigures;
const shown = async (ofScan: number, as: ScanPart): Promise<number> => {
  const where = encodeURIComponent(JSON.stringify({ ofScan, as }));
  return ((await h.get(`/tracks?where=${where}`).expect(200)).body as SheetPage).total;
};
const runs = async (query = ''): Promise<RunProgress[]> =>
  (await h.get(`/runs${query}`).expect(200)).body as RunProgress[];
const countsOf = ({ parts }: ScanFigures): Partial<Record<ScanPart, number>> =>
  Object.fromEntries(Object.entries(parts).map(([part, { tracks }]) => [part, tracks]));

beforeAll(async () => {
  h = await startHarness();
  for (const [i, name] of ['one', 'two', 'three'].entries())
    makeAudio(file(`${name}.mp3`), { seconds: 1, hz: 300 + 100 * i, tags: { title: name, artist: 'Brine Choir' } });
  writeFileSync(file('notes.txt'), 'of the boathouse');
  rootId = await h.takeIn(h.music, true);
}, 60_000);
afterAll(() => h?.stop());

test('the first scan: what was taken in and measured, and what was not taken', async () => {
  const [scan] = (await runs()).filter((r) => r.kind === 'intake');
  const report = await figures(scan!.id);
  expect(report).toMatchObject({
    found: 4,
    parts: { taken: { tracks: 3, here: 3 } },
    since: { measured: 3, waiting: 0, failed: 0, duplicates: 0 },
    notTaken: 1,
    newlyRefused: 1,
    refused: [{ path: 'notes.txt', reason: 'Text, not music' }],
  });
  expect(report.seconds).toBeGreaterThan(0);
});

test('later ones: changed, missing, found again, each as the sheet shows it', async () => {
  makeAudio(file('two.mp3'), { seconds: 2, tags: { title: 'two again', artist: 'Brine Choir' } });
  utimesSync(file('two.mp3'), 1_700_000_000, 1_700_000_000);
  renameSync(file('three.mp3'), file('three.away'));
  makeAudio(file('four.mp3'), { seconds: 1, tags: { title: 'four', artist: 'Brine Choir' } });
  const second = await scanned(rootId);
  const report = await figures(second.id);
  expect(countsOf(report)).toEqual({ taken: 1, changed: 1, missing: 1 });
  expect(report.refused.map((r) => r.path)).toEqual(['three.away']);
  renameSync(file('three.away'), file('three.mp3'));
  const third = await scanned(rootId);
  expect(countsOf(await figures(third.id))).toEqual({ returned: 1 });
  for (const { id } of [second, third])
    for (const part of SCAN_PARTS) expect(await shown(id, part)).toBe((await figures(id)).parts[part]?.here ?? 0);
});

test('what has left the library since is said, and is back with its undo', async () => {
  const [scan] = (await runs()).filter((r) => r.kind === 'intake').slice(-1);
  const { changeSetId } = (await h.post('/tracks/remove', { selection: { ids: [await idOf('one.mp3')] } }).expect(200))
    .body as { changeSetId: number };
  expect((await figures(scan!.id)).parts.taken).toEqual({ tracks: 3, here: 2 });
  await h.post(`/changes/${changeSetId}/undo`, {}).expect(200);
  expect((await figures(scan!.id)).parts.taken).toEqual({ tracks: 3, here: 3 });
});

test('earlier runs can be had; what is no scan has no report', async () => {
  const all = await runs();
  expect((await runs(`?before=${all[1]!.id}`)).map((r) => r.id)).toEqual(all.slice(2).map((r) => r.id));
  await h.get(`/runs/${all.find((r) => r.kind !== 'intake')!.id}/scan`).expect(404);
  rmSync(file('four.mp3'));
});
