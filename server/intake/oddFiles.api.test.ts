/** Files that no column was made for: taken as far as they can be, or told, and the rest of the folder goes on. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { copyFileSync, existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { unfinishedName } from '../files/unfinished.ts';
import { writeTags } from '../files/tagFile.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let root: number;
const { scanned } = hands(() => h);
const names = async (): Promise<string[]> =>
  (await h.query<{ path: string }>('SELECT path FROM tracks ORDER BY path')).map((r) => r.path);

beforeAll(async () => {
  h = await startHarness();
  makeAudio(join(h.music, 'a plain.mp3'), { seconds: 1, tags: { title: 'Plain', artist: 'Brine Choir' } });
  const copy = (name: string): string => {
    copyFileSync(join(h.music, 'a plain.mp3'), join(h.music, name));
    return join(h.music, name);
  };
  writeTags(copy('b emoji.mp3'), { fields: { title: [`${'a'.repeat(79)}\u{1f30a} and on`], comment: ['x\u0000y'] } });
  writeTags(copy('c many.mp3'), {
    fields: {
      genre: Array.from({ length: 6000 }, (_, i) => `Genre ${i}`),
      artist: Array.from({ length: 4000 }, (_, i) => `Hand ${i} of the whole Low Tide Assembly`),
    },
  });
  // A path longer than an entry of an index may be.
  let folder = h.music;
  for (let i = 0; i < 15; i++) folder = join(folder, `${i}`.padEnd(200, 'x'));
  mkdirSync(folder, { recursive: true });
  copyFileSync(join(h.music, 'a plain.mp3'), join(folder, 'd deep.mp3'));
  copy('e last.mp3');
  root = await h.takeIn(h.music, false);
});
afterAll(() => h?.stop());

test('odd tags are cleaned or shortened; what cannot be stored is told; the rest of the folder is there', async () => {
  const there = await names();
  for (const name of ['a plain.mp3', 'b emoji.mp3', 'c many.mp3', 'e last.mp3']) expect(there).toContain(name);
  const refused = await h.query<{ path: string; reason: string }>('SELECT path, reason FROM not_taken');
  const deep = there.find((p) => p.endsWith('d deep.mp3')) ?? refused.find((r) => r.path.endsWith('d deep.mp3'));
  expect(deep).toBeDefined();
  for (const sort of ['title', 'artist', 'genre', 'path']) await h.get(`/tracks?sort=${sort}&limit=50`).expect(200);
  expect((await h.get('/facets?filters={}')).status).toBe(200);
  const [emoji] = await h.query<{ title: string }>("SELECT title FROM tracks WHERE path = 'b emoji.mp3'");
  expect(emoji!.title).toContain('\u{1f30a} and on');
});

test('what a killed process left unfinished goes with the next scan, and is told; what is in the making stays', async () => {
  const own = unfinishedName(join(h.music, 'in the making.mp3'));
  const dead = own.replace(`.${process.pid}-`, '.4194303-');
  for (const path of [own, dead]) writeFileSync(path, 'half');
  const report = (await scanned(root)).report as { remains: number };
  expect(report.remains).toBe(1);
  expect([existsSync(own), existsSync(dead)]).toEqual([true, false]);
  expect(readdirSync(h.music).filter((n) => n.startsWith('.early-set-unfinished'))).toHaveLength(1);
});
