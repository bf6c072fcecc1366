/**
 * What goes wrong on the other side: written by somebody in the midst of it, its drive full, some of its lines broken.
 * What stands there is whole each time, and what was left is named.
 */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { appendFileSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ComparisonAnswer } from '@early-set/core/api/handover';
import type { Applied } from '@early-set/core/api/types';
import { DEFAULT_POLICIES } from '@early-set/core/sync/policies';
import { readData, writeTracks, type Track } from '../../standins/plover/data.ts';
import type { ChangeContext } from '../changes/context.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { mountSmall, testOnDrive, unmount } from '../testing/mounts.ts';
import { setCheckers } from './checker.ts';

let h: Harness;
let atStep: NonNullable<ChangeContext['step']> = () => undefined;
const { finished } = hands(() => h);
const TRACKS = 3;

beforeAll(async () => {
  setCheckers(join(process.cwd(), 'dist/standins'));
  h = await startHarness({ step: (...told) => atStep(...told) });
  for (let n = 1; n <= TRACKS; n++)
    makeAudio(join(h.music, `${n}.mp3`), {
      seconds: 1,
      hz: 300 * n,
      tags: { title: `Tide ${n}`, artist: 'Keel Nine' },
    });
  await h.takeIn(h.music, false);
}, 60_000);
afterAll(async () => {
  setCheckers(null);
  await h?.stop();
});

async function plover(folder: string, tracks: readonly Track[] = []): Promise<{ id: number; data: string }> {
  const data = join(folder, 'collection');
  mkdirSync(join(data, 'lists'), { recursive: true });
  writeTracks(data, tracks);
  const { id } = (await h.post('/destinations', { folder }).expect(200)).body as { id: number };
  const policies = { ...DEFAULT_POLICIES, tracks: 'all' };
  await h.patch(`/destinations/${id}`, { settings: { policies } }).expect(200);
  return { id, data };
}
const compared = async (id: number): Promise<ComparisonAnswer> =>
  (await h.post(`/destinations/${id}/compare`, { choices: {} }).expect(200)).body as ComparisonAnswer;
const synced = async (id: number): Promise<Applied> => {
  const { token } = await compared(id);
  return (await h.post(`/destinations/${id}/sync`, { token, choices: {} }).expect(200)).body as Applied;
};
const own = (n: number): Track => ({ id: `p-own-${n}`, location: `file:///elsewhere/${n}.mp3`, title: `Own ${n}` });

describe('somebody writes there in the midst of it, whatever the lock says', () => {
  test.each(['prepared', 'staged', 'checked'] as const)('at "%s": what was written stays', async (step) => {
    const { id, data } = await plover(join(h.folder, `plover-${step}`));
    const file = join(data, 'tracks.jsonl');
    const line = `${JSON.stringify(own(1))}\n`;
    let done = false;
    atStep = (at) => {
      if (at !== step || done) return;
      done = true;
      appendFileSync(file, line);
    };
    const made = await synced(id);
    await finished(made.changeSetId);
    atStep = () => undefined;
    expect(done).toBe(true);
    expect(readFileSync(file, 'utf8')).toBe(line);
    expect(readData(data).refused).toEqual([]);
    expect(readdirSync(join(h.folder, `plover-${step}`))).toEqual(['collection']);
    const { body } = await h.get(`/changes/${made.changeSetId}`).expect(200);
    expect(JSON.stringify(body)).toContain('Plover has been changed since: compare again');
    // Compared anew, both are there.
    await finished((await synced(id)).changeSetId);
    expect(readData(data).tracks).toHaveLength(TRACKS + 1);
    expect((await compared(id)).lines).toEqual([]);
  });
});

testOnDrive('its drive is full: said, nothing there is changed, nothing is left beside it', async () => {
  const folder = join(h.folder, 'full');
  mkdirSync(folder);
  expect(mountSmall(folder, '200k')).toBe(true);
  try {
    const notes = 'x'.repeat(900);
    const many = Array.from({ length: 100 }, (_, n) => ({ ...own(n), comment: notes }));
    const { id, data } = await plover(join(folder, 'plover'), many);
    const before = readFileSync(join(data, 'tracks.jsonl'), 'utf8');
    const made = await synced(id);
    await finished(made.changeSetId);
    expect(readFileSync(join(data, 'tracks.jsonl'), 'utf8')).toBe(before);
    expect(readdirSync(join(folder, 'plover'))).toEqual(['collection']);
    const { body } = await h.get(`/changes/${made.changeSetId}`).expect(200);
    expect(JSON.stringify(body)).toContain('disk is full');
    expect((await compared(id)).groups.out).toBe(TRACKS);
  } finally {
    unmount(folder);
  }
});

test('two of a hundred lines cannot be read: named, kept as they are, and the rest goes on', async () => {
  const folder = join(h.folder, 'broken');
  const { id, data } = await plover(
    folder,
    Array.from({ length: 98 }, (_, n) => own(n)),
  );
  const file = join(data, 'tracks.jsonl');
  const broken = ['{"id":"p-torn","location":"file:///else', '\u0000\u0001 nothing that is JSON'];
  const lines = readFileSync(file, 'utf8').split('\n');
  lines.splice(40, 0, broken[0]!);
  lines.splice(80, 0, broken[1]!);
  writeFileSync(file, lines.join('\n'));
  writeFileSync(join(data, 'lists/torn.xspf'), '<playlist><trackList>');
  const { problems, counts, token } = await compared(id);
  expect(problems.map((p) => p.where)).toEqual(['tracks.jsonl, line 41', 'tracks.jsonl, line 81', 'lists/torn.xspf']);
  expect(counts).toMatchObject({ there: 98, notHere: 98 });
  const made = (await h.post(`/destinations/${id}/sync`, { token, choices: {} }).expect(200)).body as Applied;
  await finished(made.changeSetId);
  const after = readFileSync(file, 'utf8').split('\n').filter(Boolean);
  expect(after).toHaveLength(100 + TRACKS);
  for (const line of broken) expect(after).toContain(line);
  expect(readFileSync(join(data, 'lists/torn.xspf'), 'utf8')).toBe('<playlist><trackList>');
});
