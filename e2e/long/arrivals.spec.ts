/** Servers killed while music comes in: out of archives, from outside, into a watched folder. */
import { expect, test } from '@playwright/test';
import { ZipArchive } from 'archiver';
import { copyFileSync, createWriteStream, existsSync, mkdirSync, readdirSync, readFileSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import type { Overview, RootLine, RunProgress, SheetPage } from '@early-set/core/api/types';
import { demoMusic, freshFolder, settled, startApp, type App } from '../app.ts';

const KILLS = 20,
  FILES = 40;
let folder: string, remove: () => void, music: string, outside: string, song: Buffer, app: App, rootId: number;
let kills = 0;
const NAMES = Array.from({ length: FILES }, (_, i) => `Tide ${String(i + 1).padStart(2, '0')}.mp3`);

const start = async (): Promise<void> => {
  app = await startApp(folder, [], { EARLY_SET_PLACES: folder });
};
const die = async (): Promise<void> => {
  await app.kill();
  kills++;
  await start();
};
/** Looks again and again, as fast as it goes, until something is so or a run is over. */
async function seen(runId: number, so: () => boolean): Promise<void> {
  for (;;) {
    for (let i = 0; i < 50; i++) if (so()) return;
    const run = (await app.get<RunProgress[]>('/runs')).find((r) => r.id === runId);
    if (run?.finishedAt) return;
  }
}
const filesIn = (path: string): string[] =>
  existsSync(path) ? readdirSync(path, { recursive: true, encoding: 'utf8' }).filter((p) => p.endsWith('.mp3')) : [];
const idle = (): Promise<RunProgress[]> =>
  settled(
    () => app.get<RunProgress[]>('/runs'),
    (runs) => runs.every((r) => r.state !== 'running'),
  );
const whole = (path: string): void => {
  expect(filesIn(path).sort()).toEqual(NAMES);
  for (const name of NAMES) expect(readFileSync(join(path, name)).equals(song)).toBe(true);
};
const tracks = async (): Promise<number> => (await app.get<Overview>('/overview')).tracks;
/** Each file that lies there is one track, and nothing half done lies about. */
async function agrees(files: number): Promise<void> {
  await settled(tracks, (n) => n === files);
  const { rows } = await app.get<SheetPage>('/tracks?limit=500&sort=path');
  expect(new Set(rows.map((r) => r.values.path)).size).toBe(rows.length);
  expect(filesIn(music)).toHaveLength(files);
  expect(readdirSync(music, { recursive: true, encoding: 'utf8' }).filter((p) => /(^|\/)\.early-set/.test(p))).toEqual(
    [],
  );
}
const scan = async (): Promise<void> => {
  await app.post(`/roots/${rootId}/scan`);
  await idle();
};

test.beforeAll(async () => {
  ({ folder, remove } = freshFolder('arrivals'));
  music = join(folder, 'music');
  outside = join(folder, 'outside');
  for (const path of [music, outside]) mkdirSync(path);
  const demo = join(demoMusic(), 'music');
  const first = readdirSync(demo, { recursive: true, encoding: 'utf8' }).find((path) => path.endsWith('.mp3'))!;
  song = readFileSync(join(demo, first));
  for (const name of NAMES) copyFileSync(join(demo, first), join(outside, name));
  const archive = new ZipArchive({});
  const out = createWriteStream(join(music, 'pack.zip'));
  archive.pipe(out);
  for (const name of NAMES) archive.append(song, { name });
  await archive.finalize();
  await finished(out);
  await start();
  await app.post('/roots', { path: music, measure: false });
  await idle();
  rootId = (await app.get<RootLine[]>('/roots'))[0]!.id;
});
test.afterAll(async () => {
  await app?.stop();
  remove?.();
});

test(`${KILLS} kills while an archive is unpacked: each time all of it lies there once, or begins anew`, async () => {
  test.setTimeout(600_000);
  for (let n = 0; n < KILLS; n++) {
    const { runId } = await app.post<{ runId: number }>(`/roots/${rootId}/archive`, { path: 'pack.zip' });
    const aside = join(music, `.early-set-unpacking-${runId}`);
    const enough = 1 + Math.floor(((n + 1) * (FILES + 4)) / KILLS);
    await seen(runId, () => filesIn(aside).length >= enough);
    await die();
    await idle();
    whole(join(music, n === 0 ? 'pack' : `pack (${n + 1})`));
    await agrees((n + 1) * FILES);
  }
});

test(`${KILLS} kills while files are copied from outside: each lies there once, as it was`, async () => {
  test.setTimeout(600_000);
  const before = filesIn(music).length;
  for (let n = 0; n < KILLS; n++) {
    const into = `Copied ${n}`;
    const wish = { from: outside, paths: NAMES, rootId, into, names: 'own' };
    const { runId } = await app.post<{ runId: number }>('/places/copy', wish);
    const enough = Math.floor(((n + 1) * FILES) / KILLS);
    await seen(runId, () => filesIn(join(music, into)).length >= enough);
    await die();
    await idle();
    whole(join(music, into));
    await scan();
    await agrees(before + (n + 1) * FILES);
  }
  whole(outside);
});

test(`${KILLS} kills while files come into a watched folder: each is one track`, async () => {
  test.setTimeout(600_000);
  await app.post(`/roots/${rootId}/watch`, { watch: true });
  await idle();
  let files = filesIn(music).length;
  for (let n = 0; n < KILLS; n++) {
    const into = join(music, `Watched ${n}`);
    mkdirSync(into);
    const there = await tracks();
    for (const name of NAMES.slice(0, 8)) {
      copyFileSync(join(outside, name), join(folder, 'coming'));
      renameSync(join(folder, 'coming'), join(into, name));
    }
    files += 8;
    // In turns before the scan begins, while it reads, and when it has ended.
    const enough = [0, 1, 8][n % 3]!;
    await settled(tracks, (now) => now >= there + enough);
    await die();
    await agrees(files);
  }
  await idle();
});

test.afterAll(() => {
  process.stdout.write(`${kills} kills while music came in\n`);
});
