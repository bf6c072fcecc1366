/** Covers given to a program that keeps copies of its own. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type { ComparisonAnswer } from '@early-set/core/api/handover';
import type { Applied } from '@early-set/core/api/types';
import { DEFAULT_POLICIES } from '@early-set/core/sync/policies';
import type { Choices } from '@early-set/core/sync/compareTracks';
import { readData, type Row } from '../../standins/dunlin/data.ts';
import { makeEdits } from '../../standins/dunlin/edits.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import type { ArtStore } from '../media/art.ts';
import { setCheckers } from './checker.ts';
import { layCovers } from './covers.ts';

let h: Harness;
let id: number, home: string, data: string;
const { undo, details } = hands(() => h);

const look = async (choices: Choices = {}): Promise<ComparisonAnswer> =>
  (await h.post(`/destinations/${id}/compare`, { choices }).expect(200)).body as ComparisonAnswer;
const sync = async (choices: Choices = {}): Promise<Applied> => {
  const { token } = await look(choices);
  return (await h.post(`/destinations/${id}/sync`, { token, choices }).expect(200)).body as Applied;
};
const row = (title: string): Row => readData(data).tracks.find((t) => t.title === title)!;
const refused = (): string[] => readData(data).refused;
const picture = async (path: string, background: string, edge: number): Promise<void> =>
  writeFileSync(
    path,
    await sharp({ create: { width: edge, height: edge, channels: 3, background } })
      .jpeg()
      .toBuffer(),
  );
const artOf = async (title: string): Promise<string> =>
  (await h.query<{ hash: string }>('SELECT art_hash AS hash FROM tracks WHERE title = $1', [title]))[0]!.hash;

beforeAll(async () => {
  setCheckers(join(process.cwd(), 'dist/standins'));
  h = await startHarness();
  for (const [title, colour, edge] of [
    ['Lamp Room', '#a04020', 900],
    ['Eel Grass', '#20a040', 300],
    ['Dry Dock', '#2040a0', 300],
  ] as const) {
    mkdirSync(join(h.music, title));
    makeAudio(join(h.music, title, 'one.mp3'), { seconds: 1, tags: { title, artist: 'Keel Nine' } });
    await picture(join(h.music, title, 'cover.jpg'), colour, edge);
  }
  await h.takeIn(h.music, false);
  home = join(h.folder, 'dunlin');
  data = join(home, 'data');
  mkdirSync(data, { recursive: true });
  writeFileSync(join(data, 'tracks.csv'), 'path,title\n');
  id = ((await h.post('/destinations', { folder: home }).expect(200)).body as { id: number }).id;
  const settings = { policies: { ...DEFAULT_POLICIES, tracks: 'all' } };
  await h.patch(`/destinations/${id}`, { settings }).expect(200);
}, 120_000);
afterAll(async () => {
  setCheckers(null);
  await h?.stop();
});

test('each is laid there as PNG, at most as large as it may be; what cannot be read goes without, and is said', async () => {
  const lost = await artOf('Dry Dock');
  const original = join(h.folder, 'data/art/originals', lost.slice(0, 2), lost);
  const bytes = readFileSync(original);
  rmSync(original);
  const { changeSetId } = await sync();
  expect(JSON.stringify((await details(changeSetId)).lines)).toContain('without 1 cover that cannot be read');
  const art = await artOf('Lamp Room');
  expect(row('Lamp Room').cover).toBe(`${art}.png`);
  expect(row('Dry Dock').cover).toBe('');
  expect(await sharp(join(home, 'covers', `${art}.png`)).metadata()).toMatchObject({ format: 'png', width: 500 });
  expect(await sharp(join(home, 'covers', `${await artOf('Eel Grass')}.png`)).metadata()).toMatchObject({ width: 300 });
  expect(readdirSync(join(home, 'covers'))).toHaveLength(2);
  expect(refused()).toEqual([]);
  writeFileSync(original, bytes);
  expect((await look()).lines.map((l) => [l.name, l.field, l.group, l.here])).toEqual([
    ['Dry Dock', 'cover', 'out', lost],
  ]);
  await sync();
  expect(row('Dry Dock').cover).toBe(`${lost}.png`);
  expect((await look()).lines).toEqual([]);
});

test('another one here goes there; one of its own stays, until ours is wished for; undone', async () => {
  writeFileSync(join(home, 'covers/mine.png'), await sharp(join(h.music, 'Eel Grass/cover.jpg')).png().toBuffer());
  makeEdits(data, [{ op: 'cover', id: 'Eel Grass', file: 'mine.png' }]);
  const [track] = await h.query<{ id: number }>("SELECT id FROM tracks WHERE title = 'Lamp Room'");
  const hash = await artOf('Dry Dock');
  await h.post('/pictures/set', { selection: { ids: [track!.id] }, hash }).expect(200);
  const { lines } = await look();
  expect(lines.map((l) => [l.name, l.field, l.group, l.will, l.reason]).sort()).toEqual(
    [
      ['Eel Grass', 'cover', 'left', null, 'a picture of its own'],
      ['Lamp Room', 'cover', 'out', 'here', null],
    ].sort(),
  );
  const own = lines.find((l) => l.group === 'left')!;
  expect([own.there, own.options]).toEqual(['mine.png', ['here', 'leave']]);
  await sync();
  expect([row('Lamp Room').cover, row('Eel Grass').cover]).toEqual([`${hash}.png`, 'mine.png']);
  const made = await sync({ [own.id]: 'here' });
  expect(row('Eel Grass').cover).toBe(`${await artOf('Eel Grass')}.png`);
  expect((await look()).lines).toEqual([]);
  makeEdits(data, [{ op: 'cover', id: 'Lamp Room', file: '' }]);
  expect((await look()).lines.map((l) => [l.name, l.group, l.reason])).toEqual([
    ['Lamp Room', 'left', 'emptied there'],
  ]);
  makeEdits(data, [{ op: 'cover', id: 'Lamp Room', file: `${hash}.png` }]);
  await undo(made);
  expect(row('Eel Grass').cover).toBe('mine.png');
  expect(refused()).toEqual([]);
});

test('called off, no further picture is laid', async () => {
  const gone = new AbortController();
  const data = new Uint8Array(await sharp(join(h.music, 'Eel Grass/cover.jpg')).toBuffer());
  const art = { original: () => Promise.resolve({ data, mime: 'image/jpeg' }) } as unknown as ArtStore;
  const wish = { folder: join(h.folder, 'covers'), hashes: ['a1'.repeat(20), 'b2'.repeat(20)], maxPixels: 500 };
  await expect(layCovers(art, wish, () => gone.abort(), gone.signal)).rejects.toThrow();
  expect(readdirSync(wish.folder)).toEqual([`${wish.hashes[0]}.png`]);
});
