/** What lies in quarantine: shown, put back, thrown away; real files. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Emptied, Quarantine } from '@early-set/core/api/disk';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
const NAMES = ['a.mp3', 'Crates/b.mp3', 'c.mp3', 'd.mp3', 'e.mp3'];
const ids = new Map<string, number>();
const sums = new Map<string, string>();
const file = (name: string): string => join(h.music, name);
const sum = (name: string): string =>
  createHash('sha256')
    .update(readFileSync(file(name)))
    .digest('hex');
const lying = async (): Promise<Quarantine> => (await h.get('/disk/quarantine').expect(200)).body as Quarantine;
const idOf = async (from: string): Promise<string> => (await lying()).files.find((f) => f.from === from)!.fileId;
const retire = async (...names: string[]): Promise<number> => {
  const wishes = names.map((name) => ({ trackId: ids.get(name)!, mode: 'retire' }));
  const { body } = await h.post('/files/relocate', { wishes }).expect(200);
  return (body as { changeSetId: number }).changeSetId;
};
const stateOf = async (name: string): Promise<string | undefined> =>
  (await h.query<{ s: string }>('SELECT file_state AS s FROM tracks WHERE id = $1', [ids.get(name)]))[0]?.s;
const restore = (fileIds: string[] | null) => h.post('/disk/quarantine/restore', { fileIds });
const empty = async (fileIds: string[] | null): Promise<Emptied> =>
  (await h.post('/disk/quarantine/empty', { fileIds }).expect(200)).body as Emptied;

beforeAll(async () => {
  h = await startHarness();
  mkdirSync(file('Crates'));
  NAMES.forEach((name, i) => makeAudio(file(name), { seconds: 1, hz: 300 + 40 * i, tags: { title: `Tide ${i}` } }));
  await h.takeIn(h.music, false);
  for (const row of await h.query<{ id: number; path: string }>('SELECT id, path FROM tracks')) {
    ids.set(row.path, row.id);
    sums.set(row.path, sum(row.path));
  }
}, 60_000);
afterAll(() => h?.stop());

test('it is told what lies there, from where and since when', async () => {
  expect(await lying()).toEqual({ files: [], bytes: 0 });
  await restore(null).expect(409);
  await retire('a.mp3', 'Crates/b.mp3');
  const { files, bytes } = await lying();
  expect(files.map((f) => [f.from, f.title, f.main]).sort()).toEqual([
    ['Crates/b.mp3', 'Tide 1', true],
    ['a.mp3', 'Tide 0', true],
  ]);
  expect(bytes).toBe(files.reduce((n, f) => n + readFileSync(file(f.path)).length, 0));
  expect(files.every((f) => Math.abs(Date.parse(f.since) - Date.now()) < 60_000)).toBe(true);
});

test('put back, a file lies where it lay; beside it, numbered, where something unknown lies by now', async () => {
  writeFileSync(file('a.mp3'), 'somebody else’s');
  await restore(null).expect(200);
  expect(readFileSync(file('a.mp3'), 'utf8')).toBe('somebody else’s');
  expect([sum('a (2).mp3'), sum('Crates/b.mp3')]).toEqual([sums.get('a.mp3'), sums.get('Crates/b.mp3')]);
  expect((await lying()).files).toEqual([]);
  const [change] = (await h.get('/changes?limit=1').expect(200)).body as { id: number }[];
  await h.post(`/changes/${change!.id}/undo`, {}).expect(200);
  expect((await lying()).files).toHaveLength(2);
  await restore([await idOf('Crates/b.mp3')]).expect(200);
  // Before that change was undone it lay beside its place.
  expect((await lying()).files.map((f) => f.from)).toEqual(['a (2).mp3']);
});

test('thrown away, a file is gone for good, and its track with it where no list holds it: undo says so', async () => {
  const changeSetId = await retire('c.mp3', 'd.mp3');
  const c = (await lying()).files.find((f) => f.from === 'c.mp3')!;
  expect(await empty([c.fileId])).toEqual({ files: 1, bytes: c.size, left: [] });
  expect(existsSync(file(c.path))).toBe(false);
  expect((await lying()).files.map((f) => f.from).sort()).toEqual(['a (2).mp3', 'd.mp3']);
  const { body } = await h.post(`/changes/${changeSetId}/undo`, {}).expect(200);
  expect(JSON.stringify(body)).toContain(c.path.split('/').at(-1)!);
  expect(sum('d.mp3')).toBe(sums.get('d.mp3'));
  expect(await stateOf('c.mp3')).toBeUndefined();
});

test('a track that a list holds stays there as missing', async () => {
  await h.post('/lists', { kind: 'playlist', name: 'Late', selection: { ids: [ids.get('e.mp3')] } }).expect(200);
  await retire('e.mp3');
  expect(await stateOf('e.mp3')).toBe('retired');
  await empty([await idOf('e.mp3')]);
  expect(await stateOf('e.mp3')).toBe('missing');
});

test('a file that lies elsewhere by way of a link, or that cannot be reached, is left and named', async () => {
  await retire('d.mp3');
  const { path, fileId } = (await lying()).files.find((f) => f.from === 'd.mp3')!;
  const outside = join(h.folder, 'outside.mp3');
  renameSync(file(path), outside);
  symlinkSync(outside, file(path));
  const { files, left } = await empty([fileId]);
  expect([files, left.map((l) => l.path)]).toEqual([0, ['music: d.mp3']]);
  expect(existsSync(outside)).toBe(true);
});

test('a file that went away by itself is forgotten when it is emptied', async () => {
  const { fileId, path } = (await lying()).files.find((f) => f.from === 'd.mp3')!;
  rmSync(file(path));
  expect(await empty([fileId])).toMatchObject({ files: 1, left: [] });
  expect((await lying()).files.map((f) => f.from)).toEqual(['a (2).mp3']);
});

test('by age, only when the settings say so, and only what has lain there so long', async () => {
  const [old] = (await lying()).files.filter((f) => f.from === 'a (2).mp3');
  await h.query("UPDATE track_files SET state_since = now() - interval '31 days' WHERE id = $1", [old!.fileId]);
  await retire('Crates/b.mp3');
  await h.patch('/settings', { quarantineDays: 30 }).expect(200);
  await h.until(async () => !(await lying()).files.some((f) => f.fileId === old!.fileId), 'the old one is gone');
  expect(existsSync(file(old!.path))).toBe(false);
  expect((await lying()).files.some((f) => f.from === 'Crates/b.mp3')).toBe(true);
  await h.patch('/settings', { quarantineDays: 0 }).expect(400);
});
