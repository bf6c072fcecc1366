/**
 * Sticks: 500 files (or BENCH_FILES) written beside a plain copy of the same bytes; sound converted on two cores beside
 * ffmpeg alone; and a second look at 5,000 files (or BENCH_SAME) of which nothing has changed.
 */
import { execFile } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import type { StickAnswer, StickLine, StickSettings } from '@early-set/core/api/stick';
import type { Applied, RunProgress } from '@early-set/core/api/types';
import { writeTags } from '../server/files/tagFile.ts';
import { start } from '../server/main.ts';
import { asMetadata, synthesize } from '../server/testing/ffmpeg.ts';
import { freshDatabase } from './database.ts';
import { table } from './table.ts';

const FILES = Number(process.env.BENCH_FILES ?? 500);
const SAME = Number(process.env.BENCH_SAME ?? 5000);
const TO_CONVERT = 24;
const WAIT_MS = 100;
const folder = mkdtempSync(join(process.env.BENCH_FOLDER ?? tmpdir(), 'early-set-bench-'));
process.env.EARLY_SET_PLACES = folder;

const NOISE = (seconds: number): string => `anoisesrc=duration=${seconds}:color=pink:amplitude=0.4:sample_rate=44100`;
/** So many files in a folder, with a title each. */
function music(name: string, count: number, ending: string, seconds: number, args: string[] = []): string {
  const into = join(folder, name);
  mkdirSync(into);
  const first = join(folder, `${name}${ending}`);
  synthesize(first, NOISE(seconds), ...args, ...asMetadata({ artist: 'Odette Kassar', album: 'Slack Water EP' }));
  for (let i = 0; i < count; i++) {
    const path = join(into, `${String(i).padStart(5, '0')}${ending}`);
    copyFileSync(first, path);
    writeTags(path, { fields: { title: [`Track ${i}`] } });
  }
  return into;
}
const bytesIn = (where: string): number =>
  readdirSync(where).reduce((sum, name) => sum + statSync(join(where, name)).size, 0);

const { url, drop } = await freshDatabase();
const server = await start({
  ...{ databaseUrl: url, dataFolder: join(folder, 'data'), webFolder: null, port: 0, demoRoot: null },
  ...{ threads: 2, compare: false, threadFolder: new URL('.', `file://${process.env.BENCH_FILE_THREAD!}`) },
});
const ask = async <T>(path: string, body?: object, method = body ? 'POST' : 'GET'): Promise<T> => {
  const answer = await fetch(`${server.address}/api${path}`, {
    method,
    // While files are made here, nobody keeps a connection up.
    headers: { 'content-type': 'application/json', connection: 'close' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  const said = (await answer.json()) as T & { error?: { message: string } };
  if (!answer.ok || said.error) throw new Error(`${path}: ${said.error?.message ?? answer.status}`);
  return said;
};
const pause = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, WAIT_MS));
const ended = async (runId: number): Promise<RunProgress> => {
  for (;;) {
    const run = (await ask<RunProgress[]>('/runs')).find((r) => r.id === runId);
    if (run && run.finishedAt !== null) return run;
    await pause();
  }
};
/** Takes a folder in, and makes a stick of it. */
async function stickOf(where: string, settings: Partial<StickSettings>): Promise<number> {
  const { rootId, runId } = await ask<{ rootId: number; runId: number }>('/roots', { path: where, measure: false });
  await ended(runId);
  const home = `${where} on a stick`;
  mkdirSync(home);
  const wish = { folder: home, player: 'folder', settings: { folders: [{ rootId, path: '' }], ...settings } };
  return (await ask<{ id: number }>('/sticks', wish)).id;
}
const look = (id: number): Promise<StickAnswer> => ask(`/sticks/${id}/look`, { listId: null });
/** Seconds of writing it, as it says itself. */
async function written(id: number): Promise<StickLine> {
  const { token } = await look(id);
  const { files } = await ask<Applied>(`/sticks/${id}/write`, { token });
  await ended(files!.runId!);
  const line = (await ask<StickLine[]>('/sticks')).find((s) => s.id === id)!;
  if (line.report?.failed.length || line.report?.stopped) throw new Error(JSON.stringify(line.report));
  return line;
}
const seconds = (n: number): string => `${n.toFixed(1)} s`;
const timed = async (work: () => Promise<unknown>): Promise<number> => {
  const begun = performance.now();
  await work();
  return (performance.now() - begun) / 1000;
};
const run = promisify(execFile);

const plain = music('plain', FILES, '.mp3', 60, ['-b:a', '192k']);
const id = await stickOf(plain, { names: '{{ title }}', m3u8: false });
const megabytes = bytesIn(plain) / 1e6;
const copied = await timed(() => run('cp', ['-r', plain, join(folder, 'copied')]));
const settled = await timed(() => run('sync', ['-f', join(folder, 'copied')]));
const { report } = await written(id);
const rate = (s: number): string => `${(megabytes / s).toFixed(0)} MB/s`;
console.log(`${FILES.toLocaleString('en-GB')} files, ${megabytes.toFixed(0)} MB\n`);
table(
  ['', 'time', 'rate'],
  [
    ['cp', seconds(copied), rate(copied)],
    ['cp, then sync', seconds(copied + settled), rate(copied + settled)],
    ['a stick: copied, on the drive, read back from it', seconds(report!.seconds), rate(report!.seconds)],
  ],
);

const flac = music('flac', TO_CONVERT, '.flac', 120);
const toConvert = { when: 'always' as const, format: 'mp3' as const, kbps: 256 };
const asIs = await stickOf(flac, { names: '{{ title }}', m3u8: false, convert: { ...toConvert, lufs: null } });
const one = (name: string): string[] => [
  ...['-y', '-loglevel', 'error', '-i', join(flac, name), '-vn', '-c:a', 'libmp3lame', '-b:a', '256k'],
  join(folder, `${name}.mp3`),
];
const names = readdirSync(flac);
const oneByOne = await timed(async () => {
  for (const name of names) await run('ffmpeg', one(name));
});
const two = await timed(async () => {
  const left = [...names];
  const next = async (): Promise<void> => {
    for (let name = left.pop(); name; name = left.pop()) await run('ffmpeg', one(name));
  };
  await Promise.all([next(), next()]);
});
const ours = (await written(asIs)).report!.seconds;
const times = (s: number): string => `${((TO_CONVERT * 120) / s).toFixed(0)}×`;
console.log(`${TO_CONVERT} FLAC files of 2 minutes to MP3 256\n`);
table(
  ['', 'time', 'of its length'],
  [
    ['ffmpeg, one after the other', seconds(oneByOne), times(oneByOne)],
    ['ffmpeg, two at a time', seconds(two), times(two)],
    ['a stick: with tags, copied, read back', seconds(ours), times(ours)],
  ],
);

const many = music('many', SAME, '.mp3', 1, ['-b:a', '64k']);
const again = await stickOf(many, {});
const first = (await written(again)).report!.seconds;
const looks = [await timed(() => look(again)), await timed(() => look(again)), await timed(() => look(again))];
const { counts } = await look(again);
if (counts.write > 0) throw new Error(`${counts.write} files would be written again`);
console.log(`${SAME.toLocaleString('en-GB')} files of a second\n`);
table(
  ['', 'time'],
  [
    ['written for the first time', seconds(first)],
    ['looked at again, nothing changed (median of 3)', `${looks.sort((a, b) => a - b)[1]!.toFixed(2)} s`],
  ],
);
await server.stop();
await drop();
rmSync(folder, { recursive: true, force: true });
