/** Folders that say what is done to what comes: cleaned by a preset, moved by the naming rules. Real files. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ScanFigures } from '@early-set/core/api/intake';
import type { RootLine, SavedPreset } from '@early-set/core/api/types';
import { newStep } from '@early-set/core/clean/steps';
import type { Naming } from '@early-set/core/naming/naming';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number, preset: SavedPreset;
const { inFile, scanned } = hands(() => h);
const at = (name: string): string => join(h.music, name);
const root = async (): Promise<RootLine> => ((await h.get('/roots')).body as RootLine[]).find((r) => r.id === rootId)!;
const scan = async (): Promise<ScanFigures> =>
  (await h.get(`/runs/${(await scanned(rootId)).id}/scan`).expect(200)).body as ScanFigures;
const set = (wish: object) => h.post(`/roots/${rootId}/new-files`, wish);
const arrives = (name: string, hz: number, tags: Record<string, string>): void => {
  mkdirSync(h.folder, { recursive: true });
  makeAudio(join(h.folder, 'coming.mp3'), { seconds: 1, hz, tags });
  mkdirSync(at('Inbox'), { recursive: true });
  copyFileSync(join(h.folder, 'coming.mp3'), at(name));
};

beforeAll(async () => {
  h = await startHarness();
  arrives('Inbox/old.mp3', 200, { title: 'OLD  ROPE', artist: 'Brine Choir' });
  rootId = await h.takeIn(h.music, false);
  const capitals = newStep('capitals', 's1');
  preset = (await h.post('/presets', { name: 'Tidy', steps: [capitals] }).expect(200)).body as SavedPreset;
  const { naming } = (await h.get('/settings')).body as { naming: Naming };
  const rules = [{ id: 'own', name: 'Own', where: null, on: true, template: 'Sorted/{{ artist }}/{{ title }}' }];
  await h.patch('/settings', { naming: { ...naming, rules } }).expect(200);
}, 60_000);
afterAll(() => h?.stop());

test('nothing is done where it is not asked for; what is asked is kept and checked', async () => {
  arrives('Inbox/one.mp3', 300, { title: 'LAMP ROOM', artist: 'Vesna Rook' });
  expect((await scan()).newFiles).toEqual({});
  expect(existsSync(at('Inbox/one.mp3'))).toBe(true);
  await set({}).expect(400);
  await set({ presetId: 9999 }).expect(404);
  await set({ presetId: preset.id }).expect(200);
  await set({ putByRules: true }).expect(200);
  expect(await root()).toMatchObject({ presetId: preset.id, putByRules: true });
});

test('what comes is cleaned, written and moved; what was there stays; each is a change that is undone', async () => {
  arrives('Inbox/two.mp3', 400, { title: 'WALL LANTERN', artist: 'Odette Kassar' });
  const { newFiles } = await scan();
  expect(newFiles).toEqual({
    cleaned: { preset: 'Tidy', tracks: 1, changeSetId: expect.any(Number), asked: 0, left: [] },
    put: { files: 1, changeSetId: expect.any(Number) },
  });
  const home = 'Sorted/Odette Kassar/Wall Lantern.mp3';
  expect([existsSync(at(home)), existsSync(at('Inbox/one.mp3')), existsSync(at('Inbox/old.mp3'))]).toEqual([
    true,
    true,
    true,
  ]);
  expect(inFile(home).title).toEqual(['Wall Lantern']);
  // Scanned again, nothing is new.
  expect((await scan()).newFiles).toEqual({});
  await h.post(`/changes/${newFiles.put!.changeSetId}/undo`, {}).expect(200);
  await h.post(`/changes/${newFiles.cleaned!.changeSetId}/undo`, {}).expect(200);
  expect(inFile('Inbox/two.mp3').title).toEqual(['WALL LANTERN']);
});

test('in a watched folder all of it happens by itself', async () => {
  await h.post(`/roots/${rootId}/watch`, { watch: true }).expect(200);
  arrives('Inbox/three.mp3', 500, { title: 'ROOF STONE', artist: 'Ada Rook' });
  await h.until(() => Promise.resolve(existsSync(at('Sorted/Ada Rook/Roof Stone.mp3'))), 'it lies in its place');
  await h.post(`/roots/${rootId}/watch`, { watch: false }).expect(200);
});

test('a preset that is removed is no longer asked for; what is no music keeps its place', async () => {
  await h.delete(`/presets/${preset.id}`).expect(200);
  expect(await root()).toMatchObject({ presetId: null, putByRules: true });
  mkdirSync(at('Sorted/Juno Marsh'), { recursive: true });
  writeFileSync(at('Sorted/Juno Marsh/Rope.mp3'), 'in the way');
  arrives('Inbox/four.mp3', 600, { title: 'Rope', artist: 'Juno Marsh' });
  const { newFiles } = await scan();
  expect(newFiles.put?.files).toBe(1);
  expect(existsSync(at('Sorted/Juno Marsh/Rope (2).mp3'))).toBe(true);
});
