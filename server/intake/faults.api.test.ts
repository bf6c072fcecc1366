/** Drives that are full or read-only while music comes in: a clear reason, nothing half there, nothing lost. */
import { afterAll, beforeAll, expect } from '@jest/globals';
import { ZipArchive } from 'archiver';
import { spawnSync } from 'node:child_process';
import { createWriteStream, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import type { CopyReport } from '@early-set/core/api/intake';
import type { Applied, RootLine, RunProgress } from '@early-set/core/api/types';
import request from 'supertest';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { mountSmall, testOnDrive, unmount } from '../testing/mounts.ts';

let h: Harness, drive: string, music: number, small: number;
const { ended: over } = hands(() => h);
const ended = async (runId: number): Promise<RunProgress> => {
  const run = await over(runId);
  // The scan behind it, too.
  const runs = async (): Promise<RunProgress[]> => (await h.get('/runs')).body as RunProgress[];
  await h.until(async () => (await runs()).every((r) => r.state !== 'running'), 'the folder is read');
  return run;
};
const begun = async (path: string, wish: object): Promise<number> =>
  ((await h.post(path, wish).expect(200)).body as { runId: number }).runId;
const lying = (folder = drive): string[] =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile())
    .map((e) => join(e.parentPath, e.name).slice(folder.length + 1))
    .sort();
const remount = (options: string): void => {
  const done = spawnSync('mount', ['-o', `remount,${options}`, drive], { encoding: 'utf8' });
  if (done.status !== 0) throw new Error(done.stderr);
};
/** So many that their sizes fit and the pages they take do not. */
const MANY = 60;
const FIRST = ['here.mp3', 'notes.txt'];
const unpackThere = (): Promise<number> =>
  begun(`/roots/${music}/archive`, { path: 'pack.zip', into: { rootId: small, path: 'New' } });
const copyThere = (into = 'Copied'): Promise<number> =>
  begun('/places/copy', { from: join(h.folder, 'stick'), paths: names, rootId: small, into, names: 'own' });
const names = Array.from({ length: MANY }, (_, i) => `${i}.mp3`);

beforeAll(async () => {
  h = await startHarness();
  drive = join(h.folder, 'small');
  for (const folder of [drive, join(h.folder, 'stick')]) mkdirSync(folder);
  if (!mountSmall(drive, '200k')) return;
  const bytes = Buffer.alloc(1000, 7);
  const archive = new ZipArchive({});
  const out = createWriteStream(join(h.music, 'pack.zip'));
  archive.pipe(out);
  for (const name of names) {
    archive.append(bytes, { name });
    writeFileSync(join(h.folder, 'stick', name), bytes);
  }
  await archive.finalize();
  await finished(out);
  makeAudio(join(drive, 'here.mp3'), { seconds: 1 });
  writeFileSync(join(drive, 'notes.txt'), 'Brine Choir');
  music = await h.takeIn(h.music, false);
  small = await h.takeIn(drive, false);
}, 60_000);
afterAll(async () => {
  unmount(drive);
  await h?.stop();
});

testOnDrive(
  'an archive that fills the drive leaves nothing of itself, and is unpacked once there is room',
  async () => {
    const run = await ended(await unpackThere());
    expect([run.state, run.reason]).toEqual(['failed', expect.stringContaining('The disk is full')]);
    expect(lying()).toEqual(FIRST);
    remount('size=2m');
    const again = (await h.post(`/runs/${run.id}/retry`, {}).expect(200)).body as { runId: number };
    expect(await ended(again.runId)).toMatchObject({ state: 'done', done: MANY });
    expect(lying(join(drive, 'New/pack'))).toHaveLength(MANY);
  },
);

testOnDrive(
  'copying onto a drive that becomes full: what is there is whole, the rest has a reason, sources stay',
  async () => {
    remount('size=400k');
    const { report, done, failed } = (await ended(await copyThere())) as RunProgress & { report: CopyReport };
    expect(done + failed).toBe(MANY);
    expect(failed).toBeGreaterThan(0);
    expect(JSON.stringify(report)).toContain('The disk is full');
    const there = lying(join(drive, 'Copied'));
    expect(there).toHaveLength(done);
    for (const name of there) expect(readFileSync(join(drive, 'Copied', name)).length).toBe(1000);
    expect(lying().filter((path) => path.includes('early-set'))).toEqual([]);
    expect(lying(join(h.folder, 'stick'))).toHaveLength(MANY);
    remount('size=2m');
    expect(await ended(await copyThere())).toMatchObject({ state: 'done', failed: 0 });
    expect(lying(join(drive, 'Copied')).length).toBeGreaterThanOrEqual(MANY);
  },
);

testOnDrive('on a drive that is read-only nothing goes, nothing comes, and each says why', async () => {
  const before = lying();
  remount('ro');
  try {
    const [track] = await h.query<{ id: number }>("SELECT id FROM tracks WHERE path = 'here.mp3'");
    const retired = (await h.post('/disk/retire', { selection: { ids: [track!.id] } }).expect(200)).body as Applied;
    const aside = (await h.post('/disk/others/put-aside', { refs: [{ rootId: small, path: 'notes.txt' }] }).expect(200))
      .body as Applied;
    for (const { conflicts, files } of [retired, aside])
      expect([files?.written, conflicts.map((c) => c.reason)]).toEqual([0, [expect.stringContaining('read-only')]]);
    const unpacked = await ended(await unpackThere());
    expect([unpacked.state, unpacked.reason]).toEqual(['failed', expect.stringContaining('read-only')]);
    const copied = await ended(await copyThere('Read-only'));
    expect([copied.done, JSON.stringify([copied.report, copied.reason])]).toEqual([
      0,
      expect.stringContaining('read-only'),
    ]);
  } finally {
    remount('rw');
  }
  expect(lying()).toEqual(before);
  const roots = (await h.get('/roots')).body as RootLine[];
  expect(roots.find((r) => r.id === small)).toMatchObject({ awaySince: null, missing: 0 });
});

testOnDrive(
  'of a drive that was pulled nothing is taken for there; nothing is written where it was mounted',
  async () => {
    unmount(drive);
    const [track] = await h.query<{ id: number }>("SELECT id FROM tracks WHERE path = 'here.mp3'");
    const gone = expect.stringContaining('is not there');
    const retired = (await h.post('/disk/retire', { selection: { ids: [track!.id] } }).expect(200)).body as Applied;
    const aside = (await h.post('/disk/others/put-aside', { refs: [{ rootId: small, path: 'notes.txt' }] }).expect(200))
      .body as Applied;
    for (const { conflicts, files } of [retired, aside])
      expect([files?.written, conflicts.map((c) => c.reason)]).toEqual([0, [gone]]);
    await h.post(`/roots/${music}/archive`, { path: 'pack.zip', into: { rootId: small, path: 'New' } }).expect(409);
    const copied = await ended(await copyThere('Pulled'));
    expect([copied.done, JSON.stringify([copied.report, copied.reason])]).toEqual([0, gone]);
    const dropped = await request(h.server.address)
      .post(`/api/roots/${small}/files`)
      .field('path', 'late.mp3')
      .attach('file', Buffer.alloc(2000, 3), 'x');
    expect([dropped.status, JSON.stringify(dropped.body)]).toEqual([409, gone]);
    expect(lying()).toEqual([]);
  },
);
