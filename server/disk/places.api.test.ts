/** Files moved to where naming rules want them, and back. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import type { OutOfPlace } from '@early-set/core/api/disk';
import type { Facets, Overview } from '@early-set/core/api/types';
import type { DeskSettings } from '@early-set/core/api/settings';
import { READY_RULES, type Naming } from '@early-set/core/naming/naming';
import { DEFAULT_NAME_OPTIONS } from '@early-set/core/naming/safeNames';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
const file = (name: string): string => join(h.music, name);
const sum = (name: string): string =>
  createHash('sha256')
    .update(readFileSync(file(name)))
    .digest('hex');
const ready = (...names: string[]): Naming => ({
  rules: names.map((name, i) => ({ ...READY_RULES.find((r) => r.name === name)!, id: String(i) })),
  options: DEFAULT_NAME_OPTIONS,
});
const own = (template: string): Naming => ({
  rules: [{ id: 'own', name: 'Own', where: null, on: true, template }],
  options: DEFAULT_NAME_OPTIONS,
});
const look = async (): Promise<OutOfPlace> => (await h.get('/disk/places').expect(200)).body as OutOfPlace;
const save = async (naming: Naming): Promise<void> => {
  const { body } = await h.patch('/settings', { naming }).expect(200);
  expect((body as DeskSettings).naming).toEqual(naming);
};
let foldersBefore: string[];
const folders = (): string[] =>
  readdirSync(h.music, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isDirectory())
    .map((entry) => join(entry.parentPath, entry.name))
    .sort();
const moves = ({ lines }: OutOfPlace): Record<string, string> =>
  Object.fromEntries(lines.map(({ path, wanted }) => [path, wanted]));

const FILES: [path: string, tags: Record<string, string>][] = [
  ['Inbox/one.mp3', { title: 'Tide', artist: 'Keel Nine', album: 'Quay' }],
  ['Inbox/two.flac', { title: 'Ebb', artist: 'Keel Nine', album: 'Quay', track: '2' }],
  ['Keel Nine/Quay/Tide.mp3', { title: 'Ebb', artist: 'Keel Nine', album: 'Quay' }],
  ['Inbox/mix.mp3', { title: 'Weir', artist: 'Odette Kassar', album: 'Shoal', album_artist: 'Various Artists' }],
  ['Inbox/nameless.mp3', {}],
];
beforeAll(async () => {
  h = await startHarness();
  for (const [path, tags] of FILES) {
    mkdirSync(dirname(file(path)), { recursive: true });
    makeAudio(file(path), { seconds: 1, tags });
  }
  await h.takeIn(h.music, false);
}, 60_000);
afterAll(() => h?.stop());

const RULES = ready('Compilations', 'Artist, album, number and title');

test('what is out of place is shown by the rules that are kept, and nothing is moved', async () => {
  expect(await look()).toMatchObject({ lines: [], elsewhere: 0, right: 0, unnamed: 0 });
  await save(RULES);
  const found = await look();
  expect(moves(found)).toEqual({
    'Inbox/one.mp3': 'Keel Nine/Quay/Tide.mp3',
    'Inbox/two.flac': 'Keel Nine/Quay/02 Ebb.flac',
    'Keel Nine/Quay/Tide.mp3': 'Keel Nine/Quay/Ebb.mp3',
    'Inbox/mix.mp3': 'Compilations/Shoal/Odette Kassar - Weir.mp3',
  });
  expect(found.lines.find((l) => l.path === 'Inbox/mix.mp3')!.rule).toBe('Compilations');
  expect(found.troubles).toMatchObject([{ path: 'Inbox/nameless.mp3', why: 'It has no title' }]);
  for (const [path] of FILES) expect(existsSync(file(path))).toBe(true);
});

test('Tracks, the stages and the page count the same', async () => {
  const counted = async (): Promise<unknown> => {
    const { onDisk, stages } = (await h.get('/overview').expect(200)).body as Overview;
    const { needs } = (await h.get('/facets').expect(200)).body as Facets;
    return [onDisk.place, stages.disk.count, needs.place];
  };
  const isCounted = (n: number) => async (): Promise<boolean> => isDeepStrictEqual(await counted(), [n, n, n]);
  await h.until(isCounted(4), 'four are counted');
  await save({ ...RULES, rules: [] });
  await h.until(isCounted(0), 'none is counted without rules');
  await save(RULES);
  await h.until(isCounted(4), 'they are counted again');
});

test('a rule that cannot be read is not kept, one that cannot be filled is told', async () => {
  const { body } = await h.patch('/settings', { naming: own('{{ title') }).expect(400);
  expect(JSON.stringify(body)).toContain('The rule “Own” cannot be used');
  await h.patch('/settings', { naming: own('') }).expect(400);
  await h.patch('/settings', { naming: own('{{ title | shout }}') }).expect(400);
  const slow = '{% for i in (1..9999) %}{{ title }}{% endfor %}{% for i in (1..9999) %}{{ title }}{% endfor %}';
  await save(own(slow));
  expect((await look()).trouble).toMatch(/^The rule “Own” cannot be used/);
  const { body: refused } = await h.post('/disk/places/move', { trackIds: null }).expect(400);
  expect(JSON.stringify(refused)).toContain('The rule “Own” cannot be used');
});

describe('moved', () => {
  let changeSetId = 0;
  const before = new Map<string, string>();

  test('one of them alone goes round what stays', async () => {
    await save(RULES);
    const { lines } = await look();
    const one = lines.find((l) => l.path === 'Inbox/one.mp3')!;
    const { body } = await h.post('/disk/places/move', { trackIds: [one.trackId] }).expect(200);
    // Its name is still another file's, which was not chosen.
    expect(existsSync(file('Keel Nine/Quay/Tide (2).mp3'))).toBe(true);
    await h.post(`/changes/${(body as { changeSetId: number }).changeSetId}/undo`, {}).expect(200);
    expect(existsSync(file('Inbox/one.mp3'))).toBe(true);
  });

  test('all of them: names change hands, lists and tags follow, what nobody named stays', async () => {
    for (const [path] of FILES) before.set(path, sum(path));
    foldersBefore = folders();
    const { body } = await h.post('/disk/places/move', { trackIds: null }).expect(200);
    changeSetId = (body as { changeSetId: number }).changeSetId;
    const after: Record<string, string> = {
      'Keel Nine/Quay/Tide.mp3': 'Inbox/one.mp3',
      'Keel Nine/Quay/02 Ebb.flac': 'Inbox/two.flac',
      'Keel Nine/Quay/Ebb.mp3': 'Keel Nine/Quay/Tide.mp3',
      'Compilations/Shoal/Odette Kassar - Weir.mp3': 'Inbox/mix.mp3',
      'Inbox/nameless.mp3': 'Inbox/nameless.mp3',
    };
    for (const [now, was] of Object.entries(after)) expect([now, sum(now)]).toEqual([now, before.get(was)]);
    expect(await look()).toMatchObject({ elsewhere: 0, right: 4, unnamed: 1 });
    await h.post('/disk/places/move', { trackIds: null }).expect(409);
    const rows = await h.query<{ path: string }>("SELECT path FROM track_files WHERE role = 'main' ORDER BY path");
    expect(rows.map((r) => r.path)).toEqual(Object.keys(after).sort());
  });

  test('undo brings all back, byte for byte', async () => {
    await h.post(`/changes/${changeSetId}/undo`, {}).expect(200);
    for (const [path, bytes] of before) expect([path, sum(path)]).toEqual([path, bytes]);
    expect((await look()).elsewhere).toBe(4);
    // Folders that were made for it are gone, those that it left empty are back.
    expect(folders()).toEqual(foldersBefore);
  });

  test('what lies there unknown is not overwritten; it is told by name, and the rest goes on', async () => {
    mkdirSync(dirname(file('Compilations/Shoal/x')), { recursive: true });
    writeFileSync(file('Compilations/Shoal/Odette Kassar - Weir.mp3'), 'somebody else’s');
    const { body } = await h.post('/disk/places/move', { trackIds: null }).expect(200);
    expect(JSON.stringify(body)).toContain('Odette Kassar - Weir.mp3');
    expect(readFileSync(file('Compilations/Shoal/Odette Kassar - Weir.mp3'), 'utf8')).toBe('somebody else’s');
    expect(sum('Inbox/mix.mp3')).toBe(before.get('Inbox/mix.mp3'));
    expect(sum('Keel Nine/Quay/Tide.mp3')).toBe(before.get('Inbox/one.mp3'));
  });

  test('one of two that want one name gets the name that was shown', async () => {
    await save(own('All/{{ artist }}'));
    const second = (await look()).lines.find((line) => line.numbered)!;
    await h.post('/disk/places/move', { trackIds: [second.trackId] }).expect(200);
    expect(second.wanted).toBe('All/Keel Nine (2).mp3');
    expect(existsSync(file(second.wanted))).toBe(true);
    expect((await look()).lines.find((line) => line.trackId === second.trackId)).toBeUndefined();
  });
});
