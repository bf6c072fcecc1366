/** The pool by itself: what it offers, links that expire, files that break off. */
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startKnotPool, type KnotPool, type Mood } from './service.ts';

let folder: string, pool: KnotPool;
const track = (n: number): object => ({
  ...{ id: `k${n}`, title: `Knot ${n} [promo]`, version: null, artists: ['Iri Vane'], label: 'Kelp & Cinder' },
  ...{ genre: 'House', year: 2026, bpm: 124, key: 'A minor', seconds: 60, added: '2026-11-20' },
  ...{ file: `${n}.mp3`, preview: `${n}.mp3` },
});
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'knotpool-'));
  for (const name of ['files', 'previews']) mkdirSync(join(folder, name));
  const all = Array.from({ length: 60 }, (_, i) => track(i + 1));
  writeFileSync(join(folder, 'tracks.jsonl'), all.map((t) => `${JSON.stringify(t)}\n`).join(''));
  writeFileSync(join(folder, 'lists.jsonl'), `${JSON.stringify({ id: 'l1', name: 'New', tracks: ['k1', 'k2'] })}\n`);
  for (let n = 1; n <= 60; n++) writeFileSync(join(folder, 'files', `${n}.mp3`), Buffer.alloc(200_000, n));
  writeFileSync(join(folder, 'previews', '1.mp3'), Buffer.alloc(1000, 1));
  pool = await startKnotPool({ folder, mood: { breakEvery: 0, expiredEvery: 0 } });
});
afterEach(async () => {
  await pool.stop();
  rmSync(folder, { recursive: true, force: true });
});
const get = (path: string): Promise<Response> => fetch(`${pool.address}${path}`);
const answered = async (path: string): Promise<Record<string, unknown>> =>
  (await (await get(path)).json()) as Record<string, unknown>;
const control = (mood: Partial<Mood>): Promise<Response> =>
  fetch(`${pool.address}/control`, { method: 'POST', body: JSON.stringify(mood) });
const link = async (id: string): Promise<string> => {
  const response = await fetch(`${pool.address}/v1/tracks/${id}/link`, { method: 'POST' });
  return ((await response.json()) as { link: string }).link;
};

test('its lists, its tracks by fifty, a piece to listen to', async () => {
  expect(await answered('/v1/lists')).toEqual({ lists: [{ id: 'l1', name: 'New', tracks: ['k1', 'k2'] }] });
  const first = (await answered('/v1/tracks')) as { tracks: { id: string; bytes: number }[]; more: boolean };
  expect([first.tracks.length, first.more, first.tracks[0]!.bytes]).toEqual([50, true, 200_000]);
  expect(await answered('/v1/tracks?after=k50')).toMatchObject({ tracks: { length: 10 }, more: false });
  expect((await get('/v1/previews/none')).status).toBe(404);
  expect((await (await get('/v1/previews/k1')).arrayBuffer()).byteLength).toBe(1000);
});

test('a link is good for a while, and then for nothing', async () => {
  const good = await link('k1');
  expect((await (await get(good)).arrayBuffer()).byteLength).toBe(200_000);
  await control({ linkMs: -1 });
  expect((await get(await link('k1'))).status).toBe(410);
  await control({ linkMs: 60_000, expiredEvery: 1 });
  expect((await get(await link('k1'))).status).toBe(410);
  expect((await get('/fetch/nothing')).status).toBe(404);
  expect((await (await get(good)).arrayBuffer()).byteLength).toBe(200_000);
});

test('a file breaks off in its middle; too many at a time wait; closed is closed', async () => {
  await control({ breakEvery: 1 });
  const broken = await get(await link('k1'));
  await expect(broken.arrayBuffer()).rejects.toThrow();
  await control({ breakEvery: 0, atOnce: 0 });
  expect((await get(await link('k1'))).status).toBe(429);
  await control({ down: true });
  expect((await get('/v1/lists')).status).toBe(503);
});
