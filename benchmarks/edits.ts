/**
 * How long an edit takes while nothing else goes on, and beside the copy of a file of 2 GB (or BENCH_GB) on the same
 * drive: in the library alone, and in the library and a file.
 */
import { mkdirSync, mkdtempSync, openSync, rmSync, ftruncateSync, writeSync, closeSync, copyFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Applied, RunProgress, SheetPage } from '@early-set/core/api/types';
import { start } from '../server/main.ts';
import { freshDatabase } from './database.ts';
import { percentile, table } from './table.ts';
import { synthesize } from '../server/testing/ffmpeg.ts';

const GIGABYTES = Number(process.env.BENCH_GB ?? 2);
const IDLE_EDITS = 60;
const SMALL_FILES = 300;
const UNDONE_FILES = 20;
const folder = mkdtempSync(join(tmpdir(), 'early-set-bench-'));
const [music, other] = [join(folder, 'music'), join(folder, 'other')];
for (const path of [music, other]) mkdirSync(path);

/** A WAV of silence: 16 bits, stereo, 44.1 kHz. */
function silence(path: string, bytes: number): void {
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + bytes, 4);
  head.write('WAVEfmt ', 8);
  for (const [at, value] of [
    [16, 16],
    [24, 44_100],
    [28, 176_400],
    [40, bytes],
  ] as const)
    head.writeUInt32LE(value, at);
  for (const [at, value] of [
    [20, 1],
    [22, 2],
    [32, 4],
    [34, 16],
  ] as const)
    head.writeUInt16LE(value, at);
  head.write('data', 36);
  const file = openSync(path, 'w');
  writeSync(file, head);
  ftruncateSync(file, 44 + bytes);
  closeSync(file);
}
silence(join(music, 'long.wav'), Math.floor((GIGABYTES * 1e9) / 4) * 4);
const small = join(music, '0.mp3');
synthesize(small, 'sine=duration=5');
for (let i = 1; i < SMALL_FILES; i++) copyFileSync(small, join(music, `${i}.mp3`));

const { url, drop } = await freshDatabase();
process.env.EARLY_SET_PLACES = folder;
const server = await start({
  databaseUrl: url,
  dataFolder: join(folder, 'data'),
  webFolder: null,
  port: 0,
  demoRoot: null,
  threads: 1,
  threadFolder: pathToFileURL(`${dirname(process.env.BENCH_FILE_THREAD!)}/`),
});

async function ask<T>(method: string, path: string, body?: object): Promise<T> {
  const answer = await fetch(`${server.address}/api${path}`, {
    method,
    headers: { 'content-type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
  return (await answer.json()) as T;
}
const running = async (): Promise<boolean> =>
  (await ask<RunProgress[]>('GET', '/runs')).some((r) => r.state === 'running');
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

await ask('POST', '/roots', { path: music, measure: false });
const { rootId } = await ask<{ rootId: number }>('POST', '/roots', { path: other, measure: false });
while (await running()) await pause(50);
const { rows } = await ask<SheetPage>('GET', '/tracks?limit=500');
const long = rows.find((r) => r.values.path === 'long.wav')!;
const ids = rows.filter((r) => r !== long).map((r) => r.id);

let turn = 0;
/** Types a title on the next of the small tracks; how long that took, in ms. */
async function edit(): Promise<number> {
  const began = performance.now();
  turn++;
  const applied = await ask<Applied>('POST', '/fields', {
    selection: { ids: [ids[turn % ids.length]!] },
    field: 'title',
    value: `Title ${turn}`,
  });
  if (applied.conflicts.length > 0) throw new Error(applied.conflicts[0]!.reason);
  return performance.now() - began;
}
async function alone(): Promise<number[]> {
  const times: number[] = [];
  for (let i = 0; i < IDLE_EDITS; i++) times.push(await edit());
  return times;
}
/** Edits until the long file has been copied. */
async function besideCopy(name: string): Promise<{ times: number[]; seconds: number }> {
  const began = performance.now(),
    times: number[] = [];
  const copied = await ask<Applied>('POST', '/files/relocate', {
    wishes: [{ trackId: long.id, mode: 'copy', to: { rootId, path: name } }],
  });
  const done = async (): Promise<boolean> =>
    (await ask<RunProgress[]>('GET', '/runs')).find((r) => r.id === copied.files?.runId)?.state !== 'running';
  while (!(await done())) {
    times.push(await edit());
    await pause(20);
  }
  return { times, seconds: (performance.now() - began) / 1000 };
}

/** Runs something five times; its times in ms. */
async function fiveTimes(work: () => Promise<number>): Promise<number[]> {
  const times: number[] = [];
  for (let i = 0; i < 5; i++) times.push(await work());
  return times;
}
/** Makes the spreadsheet of all tracks. */
async function spreadsheet(): Promise<number> {
  const began = performance.now();
  const answer = await fetch(`${server.address}/api/completeness/export`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ selection: { ids: rows.map((r) => r.id) }, format: 'xlsx' }),
  });
  if (!answer.ok) throw new Error(await answer.text());
  await answer.arrayBuffer();
  return performance.now() - began;
}
/** Takes a comment given to some files back, until the last file has its bytes again. */
async function undo(): Promise<number> {
  const settled = async (): Promise<void> => {
    while (await running()) await pause(5);
  };
  await ask<Applied>('POST', '/fields', {
    selection: { ids: ids.slice(0, UNDONE_FILES) },
    field: 'comment',
    value: `Comment ${++turn}`,
  });
  await settled();
  const began = performance.now();
  const undone = await ask<Applied>('POST', '/undo', {});
  await settled();
  if (undone.conflicts.length > 0) throw new Error(undone.conflicts[0]!.reason);
  return performance.now() - began;
}

console.log(`Typing a title, alone and beside a copy of ${GIGABYTES} GB on the same drive\n`);
const out: (string | number)[][] = [];
const line = (where: string, when: string, times: number[], seconds: number | null): number =>
  out.push([
    where,
    when,
    times.length,
    ...[0.5, 0.95, 1].map((p) => (times.length ? `${percentile(times, p).toFixed(0)} ms` : '–')),
    seconds === null ? '–' : `${seconds.toFixed(1)} s`,
  ]);
try {
  for (const [where, editsGoTo] of [
    ['library', 'library'],
    ['library and file', 'library and files'],
  ] as const) {
    await ask('PATCH', '/settings', { editsGoTo });
    line(where, 'alone', await alone(), null);
    const { times, seconds } = await besideCopy(`${editsGoTo}.wav`);
    line(where, 'beside the copy', times, seconds);
  }
  table(['edit of', 'when', 'edits', 'p50', 'p95', 'longest', 'the copy took'], out);
  const several = [
    [`spreadsheet of ${rows.length} tracks`, await fiveTimes(spreadsheet)],
    [`undo of ${UNDONE_FILES} files`, await fiveTimes(undo)],
  ] as const;
  console.log('');
  table(
    ['of several', 'p50', 'longest'],
    several.map(([name, times]) => [name, ...[0.5, 1].map((p) => `${percentile(times, p).toFixed(0)} ms`)]),
  );
} finally {
  await server.stop();
  await drop();
  rmSync(folder, { recursive: true, force: true });
}
