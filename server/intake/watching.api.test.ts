/** A watched folder: what comes there comes in by itself, whole; what the desk writes starts nothing. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { appendFileSync, copyFileSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RootLine, RunProgress } from '@early-set/core/api/types';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number;
const file = (name: string): string => join(h.music, name);
const scans = async (): Promise<RunProgress[]> =>
  ((await h.get('/runs')).body as RunProgress[]).filter((r) => r.kind === 'intake');
const paths = async (): Promise<string[]> =>
  (await h.query<{ path: string }>("SELECT path FROM tracks WHERE file_state = 'here' ORDER BY path")).map(
    (r) => r.path,
  );
const quiet = (): Promise<void> =>
  h.until(async () => (await scans()).every((r) => r.state !== 'running'), 'no scan runs');
const watch = (on: boolean) => h.post(`/roots/${rootId}/watch`, { watch: on });
const root = async (): Promise<RootLine> => ((await h.get('/roots')).body as RootLine[]).find((r) => r.id === rootId)!;

beforeAll(async () => {
  h = await startHarness();
  makeAudio(file('a.mp3'), { seconds: 2, tags: { title: 'Tide' } });
  makeAudio(join(h.folder, 'b.mp3'), { seconds: 3, hz: 300 });
  makeAudio(join(h.folder, 'c.wav'), { seconds: 60, hz: 500 });
  rootId = await h.takeIn(h.music, false);
}, 60_000);
afterAll(() => h?.stop());

test('a new file comes in, one that is renamed is there by its new name, one that goes is told as missing', async () => {
  await watch(true).expect(200);
  expect(await root()).toMatchObject({ watch: true, watchTrouble: null });
  const first = (await scans()).length;
  await h.until(async () => (await scans()).length > first, 'it is scanned as a whole');
  await quiet();
  copyFileSync(join(h.folder, 'b.mp3'), file('b.mp3'));
  await h.until(async () => (await paths()).includes('b.mp3'), 'the new one is here');
  renameSync(file('b.mp3'), file('again.mp3'));
  await h.until(async () => (await paths()).includes('again.mp3'), 'it is there by its new name');
  rmSync(file('again.mp3'));
  await h.until(async () => !(await paths()).includes('again.mp3'), 'it is missing');
  await quiet();
});

test('a file that still grows waits until it is whole', async () => {
  const whole = readFileSync(join(h.folder, 'c.wav'));
  const part = Math.ceil(whole.length / 8);
  writeFileSync(file('c.wav'), whole.subarray(0, part));
  // Another one, complete, has the folder scanned meanwhile.
  copyFileSync(join(h.folder, 'b.mp3'), file('d.mp3'));
  let at = part;
  await h.until(async () => {
    if (at < whole.length) appendFileSync(file('c.wav'), whole.subarray(at, (at += part)));
    return at >= whole.length && (await paths()).includes('c.wav');
  }, 'it is here');
  const [row] = await h.query<{ size: number; seconds: number }>(
    "SELECT file_size AS size, duration_seconds AS seconds FROM tracks WHERE path = 'c.wav'",
  );
  expect(row).toMatchObject({ size: whole.length });
  expect(row!.seconds).toBeCloseTo(60, 0);
  await quiet();
  const refused = await h.query("SELECT path FROM not_taken WHERE path = 'c.wav'");
  expect(refused).toEqual([]);
});

test('what the desk writes into files starts no scan', async () => {
  const before = (await scans()).length;
  await hands(() => h).set(['a.mp3'], 'title', 'Ebb');
  const [track] = await h.query<{ id: number }>("SELECT id FROM tracks WHERE path = 'a.mp3'");
  await h
    .post('/files/relocate', { wishes: [{ trackId: track!.id, mode: 'move', to: { rootId, path: 'moved.mp3' } }] })
    .expect(200);
  await h.until(async () => (await paths()).includes('moved.mp3'), 'it is moved');
  // Something that does start one, so that it is known to have been looked at.
  makeAudio(file('e.mp3'), { seconds: 1, hz: 900 });
  await h.until(async () => (await paths()).includes('e.mp3'), 'the other has come');
  await quiet();
  expect((await scans()).length).toBe(before + 1);
});

test('what came while nobody watched comes in with the next start', async () => {
  makeAudio(file('f.mp3'), { seconds: 1, hz: 1100 });
  await h.restart();
  await h.until(async () => (await paths()).includes('f.mp3'), 'it is here');
  await quiet();
});

test('no longer watched, nothing comes by itself; a destination cannot be watched', async () => {
  await watch(false).expect(200);
  expect(await root()).toMatchObject({ watch: false });
  await h.query("UPDATE roots SET purpose = 'destination' WHERE id = $1", [rootId]);
  await watch(true).expect(409);
});
