/** What is no music: told, put into quarantine, restored, deleted; empty folders removed and made again. Real files. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Others, Quarantine } from '@early-set/core/api/disk';
import type { Applied, ChangeSetDetails } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number;
const { scanned } = hands(() => h);
const TEXT = 'Brine Choir, recorded at the foreshore';
const at = (path: string): string => join(h.music, path);
const others = async (): Promise<Others> => (await h.get('/disk/others').expect(200)).body as Others;
const told = async (): Promise<string[]> => (await others()).lines.map((l) => `${l.path}: ${l.reason}`);
const quarantine = async (): Promise<Quarantine> => (await h.get('/disk/quarantine').expect(200)).body as Quarantine;
const put = (...paths: string[]) => h.post('/disk/others/put-aside', { refs: paths.map((path) => ({ rootId, path })) });
const undo = (id: number) => h.post(`/changes/${id}/undo`, {}).expect(200);
const ALL = [
  'Bare: An empty folder',
  'Bare/deep: An empty folder',
  'Set/notes.txt: Text, not music',
  'Set/pack.part: An unfinished download',
];

beforeAll(async () => {
  h = await startHarness();
  mkdirSync(at('Set'));
  mkdirSync(at('Bare/deep'), { recursive: true });
  mkdirSync(at('Kept'));
  writeFileSync(at('Kept/.hidden'), '');
  // What is in a hidden folder is not looked at: the one around it is not empty.
  mkdirSync(at('Veiled/.inner'), { recursive: true });
  writeFileSync(at('Veiled/.inner/kept'), '');
  makeAudio(at('Set/a.mp3'), { seconds: 1 });
  makeAudio(at('Set/out.mp3'), { seconds: 1, hz: 300 });
  writeFileSync(at('Set/notes.txt'), TEXT);
  writeFileSync(at('Set/pack.part'), 'half of it');
  rootId = await h.takeIn(h.music, false);
}, 60_000);
afterAll(() => h?.stop());

test('is told with what it is; music, also what was taken out of the library, is not among it', async () => {
  const [out] = await h.query<{ id: number }>("SELECT id FROM tracks WHERE path = 'Set/out.mp3'");
  await h.post('/tracks/remove', { selection: { ids: [out!.id] } }).expect(200);
  expect(await told()).toEqual(ALL);
  await put('Set/a.mp3', 'Set/out.mp3', 'Kept').expect(409);
});

test('goes into quarantine and back, byte for byte; empty folders go and come again', async () => {
  const { body } = await put('Set/notes.txt', 'Bare', 'Bare/deep').expect(200);
  const applied = body as Applied;
  expect(applied).toMatchObject({
    title: 'Put 1 file that is no music into quarantine, remove 2 empty folders',
    files: { written: 3 },
    conflicts: [],
  });
  expect([existsSync(at('Set/notes.txt')), existsSync(at('Bare'))]).toEqual([false, false]);
  expect(await told()).toEqual(ALL.slice(3));
  const { files } = await quarantine();
  expect(files).toMatchObject([{ trackId: null, from: 'Set/notes.txt', reason: 'Text, not music', size: TEXT.length }]);
  const { lines } = (await h.get(`/changes/${applied.changeSetId}`)).body as ChangeSetDetails;
  expect(lines.map((l) => l.name)).toEqual(['Set/notes.txt', 'Bare/deep', 'Bare']);
  await undo(applied.changeSetId);
  expect(readFileSync(at('Set/notes.txt'), 'utf8')).toBe(TEXT);
  expect(readdirSync(at('Bare'))).toEqual(['deep']);
  expect(await told()).toEqual(ALL);
  expect((await quarantine()).files).toEqual([]);
});

test('a scan in between changes nothing about it', async () => {
  const applied = (await put('Set/notes.txt', 'Set/pack.part').expect(200)).body as Applied;
  await scanned(rootId);
  expect(await told()).toEqual(ALL.slice(0, 2));
  expect((await quarantine()).files).toHaveLength(2);
  await undo(applied.changeSetId);
  await scanned(rootId);
  expect(await told()).toEqual(ALL);
});

test('restored from quarantine it lies beside what has its place by now; deleted, its undo says so', async () => {
  const applied = (await put('Set/notes.txt', 'Set/pack.part').expect(200)).body as Applied;
  writeFileSync(at('Set/notes.txt'), 'others');
  const { files } = await quarantine();
  const idOf = (from: string): string => files.find((f) => f.from === from)!.fileId;
  await h.post('/disk/quarantine/restore', { fileIds: [idOf('Set/notes.txt')] }).expect(200);
  expect(readFileSync(at('Set/notes (2).txt'), 'utf8')).toBe(TEXT);
  expect(readFileSync(at('Set/notes.txt'), 'utf8')).toBe('others');
  await h.post('/disk/quarantine/empty', { fileIds: [idOf('Set/pack.part')] }).expect(200, {
    files: 1,
    bytes: 10,
    left: [],
  });
  expect(readdirSync(at('.early-set-quarantine'))).toEqual([]);
  const undone = (await undo(applied.changeSetId)).body as Applied;
  expect(undone.conflicts.map((c) => c.reason)).toContain('It has been deleted from quarantine');
  rmSync(at('Set/notes (2).txt'));
});

test('what has become music or is no longer empty is left, and said', async () => {
  writeFileSync(at('Bare/deep/late.txt'), 'just now');
  const left = (await put('Bare/deep').expect(200)).body as Applied;
  expect(left.files).toMatchObject({ written: 0 });
  expect(left.conflicts[0]!.reason).toMatch(/not empty/);
  expect(readFileSync(at('Bare/deep/late.txt'), 'utf8')).toBe('just now');
  await scanned(rootId);
  renameSync(at('Set/notes.txt'), at('Set/gone.txt'));
  const gone = (await put('Set/notes.txt').expect(200)).body as Applied;
  expect([gone.files?.written, gone.conflicts.length]).toEqual([0, 1]);
  expect((await quarantine()).files).toEqual([]);
});
