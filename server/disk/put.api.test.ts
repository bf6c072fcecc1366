/** Files moved and copied into folders of their own root and of another; real files. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { PutLook } from '@early-set/core/api/disk';
import { DEFAULT_NAME_OPTIONS } from '@early-set/core/naming/safeNames';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let here = 0,
  stick = 0;
const other = (): string => join(h.folder, 'stick');
const ids = new Map<string, number>();
const sums = new Map<string, string>();
const file = (name: string): string => join(h.music, name);
const sumOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
const wish = (names: string[], more: object = {}): object => ({
  selection: { ids: names.map((name) => ids.get(name)!) },
  mode: 'move',
  into: { rootId: stick, path: 'Late shift' },
  taken: 'keep both',
  ...more,
});
const look = async (asked: object): Promise<PutLook> =>
  (await h.post('/disk/put/look', asked).expect(200)).body as PutLook;
const undoLast = async (): Promise<void> => {
  await h.post('/undo', {}).expect(200);
};

beforeAll(async () => {
  h = await startHarness();
  for (const folder of ['a', 'b']) mkdirSync(file(folder));
  mkdirSync(other());
  ['a/Tide.mp3', 'b/Tide.mp3', 'Ebb.flac'].forEach((name, i) =>
    makeAudio(file(name), { seconds: 1, hz: 300 + 50 * i, tags: { title: name } }),
  );
  here = await h.takeIn(h.music, false);
  makeAudio(join(other(), 'there.mp3'), { seconds: 1, hz: 700 });
  stick = await h.takeIn(other(), false);
  for (const row of await h.query<{ id: number; path: string }>('SELECT id, path FROM tracks'))
    ids.set(row.path, row.id);
  for (const name of ['a/Tide.mp3', 'b/Tide.mp3', 'Ebb.flac']) sums.set(name, sumOf(file(name)));
}, 60_000);
afterAll(() => h?.stop());

test('what it would do is told before: how many, what is taken, how much has to be written', async () => {
  const all = ['a/Tide.mp3', 'b/Tide.mp3', 'Ebb.flac'];
  expect(await look(wish(all))).toMatchObject({ files: 3, numbered: 1, skipped: 0, right: 0 });
  expect(await look(wish(all, { taken: 'skip' }))).toMatchObject({ files: 2, numbered: 0, skipped: 1 });
  const size = readFileSync(file('Ebb.flac')).length;
  const copied = await look(wish(['Ebb.flac'], { mode: 'copy' }));
  expect(copied.bytes).toBe(size);
  expect(copied.free).toBeGreaterThan(size);
  expect(await look(wish(['a/Tide.mp3'], { into: { rootId: here, path: 'a' } }))).toMatchObject({ files: 0, right: 1 });
});

test('moved to another root: files lie there, tracks are the same, undo brings them back', async () => {
  await h.post('/disk/put', wish(['a/Tide.mp3', 'b/Tide.mp3'])).expect(200);
  expect(sumOf(join(other(), 'Late shift/Tide.mp3'))).toBe(sums.get('a/Tide.mp3'));
  expect(sumOf(join(other(), 'Late shift/Tide (2).mp3'))).toBe(sums.get('b/Tide.mp3'));
  expect(existsSync(file('a/Tide.mp3'))).toBe(false);
  const [row] = await h.query<{ root_id: number; path: string }>('SELECT root_id, path FROM tracks WHERE id = $1', [
    ids.get('a/Tide.mp3'),
  ]);
  expect(row).toEqual({ root_id: stick, path: 'Late shift/Tide.mp3' });
  await undoLast();
  for (const name of ['a/Tide.mp3', 'b/Tide.mp3']) expect(sumOf(file(name))).toBe(sums.get(name));
  expect(existsSync(join(other(), 'Late shift/Tide.mp3'))).toBe(false);
});

test('copied: the track keeps its file, and the copy goes into quarantine by undo', async () => {
  await h.post('/disk/put', wish(['Ebb.flac'], { mode: 'copy' })).expect(200);
  expect(sumOf(join(other(), 'Late shift/Ebb.flac'))).toBe(sums.get('Ebb.flac'));
  expect(sumOf(file('Ebb.flac'))).toBe(sums.get('Ebb.flac'));
  // It is no track of its own after a scan.
  const { body } = await h.post(`/roots/${stick}/scan`, {}).expect(200);
  await h.until(async () => {
    const [run] = await h.query<{ state: string }>('SELECT state FROM runs WHERE id = $1', [
      (body as { runId: number }).runId,
    ]);
    return run!.state !== 'running';
  }, 'the scan is over');
  expect(await h.query('SELECT id FROM tracks')).toHaveLength(4);
  await undoLast();
  expect(existsSync(join(other(), 'Late shift/Ebb.flac'))).toBe(false);
  expect(sumOf(file('Ebb.flac'))).toBe(sums.get('Ebb.flac'));
});

test('nothing is put over a file that nobody took in; where names are skipped, it stays', async () => {
  mkdirSync(join(other(), 'Late shift'), { recursive: true });
  writeFileSync(join(other(), 'Late shift/Ebb.flac'), 'somebody else’s');
  expect(await look(wish(['Ebb.flac']))).toMatchObject({ files: 1, numbered: 1 });
  await h.post('/disk/put', wish(['Ebb.flac'], { taken: 'skip' })).expect(409);
  await h.post('/disk/put', wish(['Ebb.flac'])).expect(200);
  expect(readFileSync(join(other(), 'Late shift/Ebb.flac'), 'utf8')).toBe('somebody else’s');
  expect(sumOf(join(other(), 'Late shift/Ebb (2).flac'))).toBe(sums.get('Ebb.flac'));
  await undoLast();
});

test('a folder that cannot be is refused in words', async () => {
  for (const path of ['..', '.hidden', `${'x'.repeat(300)}`, 'a/../../b'])
    await h.post('/disk/put', wish(['Ebb.flac'], { into: { rootId: stick, path } })).expect(400);
  await h.post('/disk/put', wish(['Ebb.flac'], { into: { rootId: 999, path: '' } })).expect(404);
  await h.query('UPDATE roots SET away_since = now() WHERE id = $1', [stick]);
  const { body } = await h.post('/disk/put', wish(['Ebb.flac'])).expect(409);
  expect(JSON.stringify(body)).toContain('The drive of stick is not there');
  await h.query('UPDATE roots SET away_since = NULL WHERE id = $1', [stick]);
});

test('copied by the naming rules into an empty folder: originals are untouched, a report says which rule', async () => {
  const rule = {
    id: 'r',
    name: 'Year and title',
    where: null,
    template: '{{ year | default: "no year" }}/{{ title }}',
    on: true,
  };
  await h.post('/disk/put/look', wish(['Ebb.flac'], { names: 'by rules' })).expect(409);
  await h.patch('/settings', { naming: { rules: [rule], options: DEFAULT_NAME_OPTIONS } }).expect(200);
  const asked = wish(['Ebb.flac', 'a/Tide.mp3'], {
    mode: 'copy',
    names: 'by rules',
    into: { rootId: stick, path: 'Copies' },
  });
  expect(await look(asked)).toMatchObject({ files: 2, numbered: 0, unnamed: 0 });
  const { changeSetId } = (await h.post('/disk/put', asked).expect(200)).body as { changeSetId: number };
  expect(sumOf(join(other(), 'Copies/no year/Ebb.flac.flac'))).toBe(sums.get('Ebb.flac'));
  expect(sumOf(file('a/Tide.mp3'))).toBe(sums.get('a/Tide.mp3'));
  const csv = (await h.get(`/changes/${changeSetId}/csv`).expect(200)).text.replace('\uFEFF', '').trim().split('\n');
  expect(csv[0]).toBe('Name,What,Before,After,State,Why');
  expect(csv).toContain('Ebb.flac,"Copy, Year and title",Ebb.flac,Copies/no year/Ebb.flac.flac,done,Year and title');
  expect(csv).toHaveLength(3);
  expect((await h.get('/changes/99999/csv').expect(404)).body).toMatchObject({ error: { code: 'not-found' } });
  await undoLast();
  expect(existsSync(join(other(), 'Copies'))).toBe(false);
});

test('with their folders; and what was exported is said to name the old places', async () => {
  const { listId } = (
    await h.post('/lists', { kind: 'playlist', name: 'Given', selection: { ids: [ids.get('a/Tide.mp3')] } }).expect(200)
  ).body as { listId: string };
  await h.post(`/lists/${listId}/export`, { format: 'm3u8', paths: 'absolute' }).expect(200);
  const asked = wish(['a/Tide.mp3'], { names: 'with folders' });
  expect((await look(asked)).given).toEqual([{ name: 'download of Given.m3u8', files: 1 }]);
  expect((await look({ ...asked, mode: 'copy' })).given).toEqual([]);
  await h.post('/disk/put', asked).expect(200);
  expect(sumOf(join(other(), 'Late shift/a/Tide.mp3'))).toBe(sums.get('a/Tide.mp3'));
  await undoLast();
  expect(sumOf(file('a/Tide.mp3'))).toBe(sums.get('a/Tide.mp3'));
});

test('a folder is renamed with all below it, and undo brings its old name back', async () => {
  mkdirSync(file('a/deep'));
  makeAudio(file('a/deep/Swell.mp3'), { seconds: 1, hz: 900, tags: { title: 'Swell' } });
  await h.post(`/roots/${here}/scan`, {}).expect(200);
  await h.until(async () => (await h.query("SELECT 1 FROM tracks WHERE title = 'Swell'")).length > 0, 'it is taken in');
  const where = { inFolder: { rootId: here, path: 'a' }, below: true };
  const asked = wish([], {
    selection: { where, except: [] },
    names: 'with folders',
    below: 'a',
    into: { rootId: here, path: 'The/harbour' },
  });
  const { title } = (await h.post('/disk/put', asked).expect(200)).body as { title: string };
  expect(title).toMatch(/^Move the folder a to .*The\/harbour$/);
  expect([existsSync(file('The/harbour/deep/Swell.mp3')), existsSync(file('a'))]).toEqual([true, false]);
  expect(sumOf(file('The/harbour/Tide.mp3'))).toBe(sums.get('a/Tide.mp3'));
  await undoLast();
  expect(existsSync(file('a/deep/Swell.mp3'))).toBe(true);
});
