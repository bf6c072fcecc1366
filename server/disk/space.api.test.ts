/** Where the space goes, on real files; what is marked goes into quarantine and comes back. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Space } from '@early-set/core/api/disk';
import type { SheetPage } from '@early-set/core/api/types';
import { alongKeys, OTHERS, SPACE_BY, tracksAt, type SpaceBy, type SpaceNode } from '@early-set/core/space/space';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number;
const FILES = [
  'Crates/Late/a.flac',
  'Crates/Late/b.mp3',
  'Crates/c.mp3',
  'Packs/Drum loop 1.wav',
  'Packs/Drum loop 2.wav',
];
const size = (path: string): number => statSync(join(h.music, path)).size;
const space = async (by: SpaceBy): Promise<Space> => (await h.get(`/disk/space?by=${by}`).expect(200)).body as Space;
const at = (top: SpaceNode, ...keys: string[]): SpaceNode | undefined => {
  const nodes = alongKeys(top, keys);
  return nodes.length === keys.length + 1 ? nodes.at(-1) : undefined;
};

beforeAll(async () => {
  h = await startHarness();
  for (const folder of ['Crates/Late', 'Packs']) mkdirSync(join(h.music, folder), { recursive: true });
  FILES.forEach((path, i) =>
    makeAudio(join(h.music, path), { seconds: path.includes('loop') ? 2 : 20, hz: 200 + 50 * i }),
  );
  writeFileSync(join(h.music, 'Packs/read me.txt'), 'x'.repeat(1000));
  rootId = await h.takeIn(h.music, false);
  const [a] = await h.query<{ id: number }>("SELECT id FROM tracks WHERE path LIKE '%a.flac'");
  await h.post('/lists', { kind: 'playlist', name: 'Late', selection: { ids: [a!.id] } }).expect(200);
  await h.query('UPDATE tracks SET times_used = 3 WHERE id = $1', [a!.id]);
}, 60_000);
afterAll(() => h?.stop());

test('by folder: every file is counted where it lies, and in all folders above', async () => {
  const { top } = await space('folder');
  const all = FILES.reduce((sum, path) => sum + size(path), 0) + 1000;
  expect(top).toMatchObject({ files: 6, tracks: 5, others: 1, samples: 2, listed: 1, bytes: all });
  expect(at(top, String(rootId), 'Crates')).toMatchObject({
    files: 3,
    listed: 1,
    samples: 0,
    bytes: size(FILES[0]!) + size(FILES[1]!) + size(FILES[2]!),
  });
  expect(at(top, String(rootId), 'Crates', 'Late')).toMatchObject({ files: 2, listed: 1, children: [] });
  expect(at(top, String(rootId), 'Packs')).toMatchObject({ files: 3, tracks: 2, others: 1, samples: 2, listed: 0 });
});

test.each(SPACE_BY)(
  'by %s: Tracks shows just the tracks that a band counts, and nothing is counted twice',
  async (by) => {
    const { top, listIds } = await space(by);
    const nodes: [string[], SpaceNode][] = [[[], top]];
    for (const [keys, node] of nodes) {
      for (const child of node.children) nodes.push([[...keys, child.key], child]);
      const direct = node.children.reduce((sum, child) => sum + child.tracks, 0);
      if (by !== 'folder' && node.children.length) expect(direct).toBe(node.tracks);
      const where = tracksAt(by, keys, listIds);
      if (!where) {
        expect(keys).toEqual([OTHERS]);
        continue;
      }
      const address = `/tracks?limit=1&where=${encodeURIComponent(JSON.stringify(where))}`;
      expect([keys, ((await h.get(address).expect(200)).body as SheetPage).total]).toEqual([keys, node.tracks]);
    }
    expect(nodes.length).toBeGreaterThan(3);
  },
);

test('what is put into quarantine takes no space any more; undo brings it back', async () => {
  const where = { inFolder: { rootId, path: 'Packs' }, below: true };
  const selection = { where, except: [] };
  const { body } = await h.post('/disk/retire', { selection }).expect(200);
  const { changeSetId, title } = body as { changeSetId: number; title: string };
  expect(title).toBe('Put 2 files into quarantine');
  const gone = FILES.filter((path) => path.startsWith('Packs'));
  await h.until(() => Promise.resolve(!gone.some((path) => existsSync(join(h.music, path)))), 'they are gone');
  expect(at((await space('folder')).top, String(rootId), 'Packs')).toMatchObject({ files: 1, tracks: 0 });
  await h.post('/disk/retire', { selection }).expect(409);
  await h.post(`/changes/${changeSetId}/undo`, {}).expect(200);
  await h.until(() => Promise.resolve(gone.every((path) => existsSync(join(h.music, path)))), 'they are back');
  expect(at((await space('folder')).top, String(rootId), 'Packs')).toMatchObject({ files: 3, tracks: 2 });
});
