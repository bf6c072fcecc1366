/** Throughput and processor time of the analysis, against ffmpeg decoding alone in the same run. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, renameSync } from 'node:fs';
import { join } from 'node:path';
import { createBandSplit } from '@early-set/core/analysis/rhythm/bands';
import { createChromaExtractor } from '@early-set/core/analysis/harmony/chroma';
import { createAnalysis, interpret } from '@early-set/core/analysis/engine';
import { createFeatureExtractor } from '@early-set/core/analysis/features';
import { createLoudnessMeter } from '@early-set/core/analysis/loudness/loudness';
import { createOnsetDetector } from '@early-set/core/analysis/rhythm/onsets';
import { createRunPeaks, RUN } from '@early-set/core/analysis/loudness/peaks';
import { createSoundMeter } from '@early-set/core/analysis/sound/soundMeter';
import { createTruePeakMeter } from '@early-set/core/analysis/loudness/truePeak';
import { createDecimator } from '@early-set/core/signal/filters';
import { BLOCK, createKernels } from '@early-set/core/signal/kernels/kernels';
import { decode, probe } from '../server/media/decode.ts';
import { asRunTable, memoryTable } from './speed/asRun.ts';
import { table } from './table.ts';
import { loadTruth } from './truth.ts';

/** Two channels of something like music. */
const second = (s: number): Float32Array =>
  Float32Array.from({ length: 44100 * 2 }, (_, i) => {
    const t = s + (i >> 1) / 44100,
      beat = (t * 2) % 1;
    return (
      0.4 * Math.exp(-12 * beat) * Math.sin(t * 340) +
      0.2 * Math.sin(t * 1381 + (i & 1)) +
      0.1 * Math.exp(-40 * ((t * 4) % 1)) * (((i * 7919) % 199) / 99 - 1)
    );
  });

/** Shares of the parts of an analysis, each run alone on three minutes. */
function partsTable(): void {
  const kernels = createKernels();
  const seconds = 180;
  const left = kernels.floats(BLOCK),
    right = kernels.floats(BLOCK),
    runs = [kernels.floats(BLOCK / RUN), kernels.floats(BLOCK / RUN)];
  left.forEach((_, i) => {
    const x = second(0);
    left[i] = x[i * 2]!;
    right[i] = x[i * 2 + 1]!;
  });
  const planes = [left, right],
    blocks = Math.round((seconds * 44100) / BLOCK);
  const loudness = createLoudnessMeter(44100, 2, kernels),
    peaks = createTruePeakMeter(44100, 2, kernels),
    sound = createSoundMeter(44100, 2, kernels),
    takeRuns = createRunPeaks(kernels);
  const toMid = createDecimator(2, BLOCK, kernels),
    toLow = createDecimator(4, BLOCK, kernels);
  const bands = createBandSplit(22050, kernels),
    onsets = createOnsetDetector(22050, kernels),
    chroma = createChromaExtractor(22050 / 4, kernels);
  toMid.push(left, BLOCK);
  toLow.push(toMid.output, BLOCK / 2);
  const parts: [string, () => void][] = [
    ['loudness (K-weighting)', () => loudness.push(planes, BLOCK)],
    [
      'peaks of runs',
      () =>
        planes.forEach((x, c) => {
          takeRuns(x, BLOCK, runs[c]!);
        }),
    ],
    ['true peak', () => peaks.push(planes, BLOCK, runs)],
    ['sound quality', () => sound.push(planes, BLOCK, runs)],
    [
      'halving the rate',
      () => {
        toMid.push(left, BLOCK);
        toLow.push(toMid.output, BLOCK / 2);
      },
    ],
    ['bands, waveform', () => bands.push(toMid.output, BLOCK / 2)],
    ['onsets', () => onsets.push(toMid.output, BLOCK / 2)],
    ['pitch classes', () => chroma.push(toLow.output, BLOCK / 8)],
  ];
  const times = parts.map(([name, run]) => {
    for (let b = 0; b < 60; b++) run();
    const start = performance.now();
    for (let b = 0; b < blocks; b++) run();
    return [name, (performance.now() - start) / 1000] as const;
  });
  const extractor = createFeatureExtractor({ sampleRate: 44100, channels: 2 });
  for (let s = 0; s < seconds; s++) extractor.push(second(s % 60));
  const features = extractor.finish();
  interpret(features);
  const start = performance.now();
  interpret(features);
  const all = [...times, ['interpretation at the end', (performance.now() - start) / 1000] as const];
  const total = all.reduce((sum, [, t]) => sum + t, 0);
  console.log('\nShare of each part of the analysis, without decoding\n');
  table(
    ['part', 'share', 'times real time alone'],
    all.map(([name, t]) => [name, `${((100 * t) / total).toFixed(0)} %`, `${(seconds / t).toFixed(0)} ×`]),
  );
}

/**
 * A track's usual length: the demo's are shorter, and starting ffmpeg would count for more than it does in a library.
 */
const DEFAULT_SECONDS = 300;
const TRACKS = 4;
const ENCODERS: Record<string, string[]> = {
  mp3: ['-c:a', 'libmp3lame', '-b:a', '320k'],
  flac: ['-c:a', 'flac'],
  m4a: ['-c:a', 'aac', '-b:a', '256k'],
  ogg: ['-c:a', 'libvorbis', '-q:a', '7'],
  opus: ['-c:a', 'libopus', '-b:a', '160k'],
  wav: ['-c:a', 'pcm_s16le'],
};

/**
 * Tracks of usual length in a format, at 44.1 kHz where it can be: demo tracks repeated, kept beside the other
 * material.
 */
function usualTracks(sources: readonly string[], ending: string): string[] {
  const folder = join(process.env.BENCH_CACHE!, 'speed');
  mkdirSync(folder, { recursive: true });
  return sources.map((source, i) => {
    const file = join(folder, `${i}.${ending}`);
    if (!existsSync(file)) {
      const made = `${file}.part.${ending}`;
      const { status, stderr } = spawnSync(
        'ffmpeg',
        [
          '-v',
          'error',
          '-nostdin',
          '-y',
          '-stream_loop',
          '-1',
          '-i',
          source,
          '-map',
          '0:a:0',
          '-t',
          String(DEFAULT_SECONDS),
          ...(ending === 'opus' ? [] : ['-ar', '44100']),
          '-ac',
          '2',
          ...ENCODERS[ending]!,
          made,
        ],
        { encoding: 'utf8' },
      );
      if (status !== 0) throw new Error(stderr);
      renameSync(made, file);
    }
    return file;
  });
}

interface Spent {
  seconds: number;
  wall: number;
  analysis: number;
  decoding: number;
}

/** Times of one file: analysis while ffmpeg decodes, and ffmpeg alone. */
async function spentOn(file: string): Promise<Spent> {
  const probed = await probe(file);
  const before = process.cpuUsage(),
    start = performance.now();
  const running = createAnalysis(probed);
  await decode(file, probed, (samples) => running.push(samples));
  const { durationSeconds: seconds } = running.finish();
  const wall = (performance.now() - start) / 1000,
    { user, system } = process.cpuUsage(before);
  const alone = spawnSync(
    'ffmpeg',
    ['-v', 'info', '-benchmark', '-nostdin', '-i', file, '-map', '0:a:0', '-f', 'f32le', '-y', '/dev/null'],
    { encoding: 'utf8' },
  );
  const times = /utime=([\d.]+)s stime=([\d.]+)s/.exec(alone.stderr);
  return {
    seconds,
    wall,
    analysis: (user + system) / 1e6,
    decoding: times ? Number(times[1]) + Number(times[2]) : NaN,
  };
}

/** The quicker of so many runs counts: other work on the machine only ever slows one down. */
const RUNS = 2;

async function quickest(file: string): Promise<Spent> {
  const runs: Spent[] = [];
  for (let r = 0; r < RUNS; r++) runs.push(await spentOn(file));
  const least = (of: keyof Spent): number => Math.min(...runs.map((s) => s[of]));
  return { seconds: runs[0]!.seconds, wall: least('wall'), analysis: least('analysis'), decoding: least('decoding') };
}

const wavs = loadTruth(process.argv[2]!).filter((t) => /\.(wav|flac|mp3)$/.test(t.path));
// Spread over the styles: the truth lists a style's tracks together.
const sources = Array.from({ length: TRACKS }, (_, i) => wavs[Math.floor(((i + 0.5) * wavs.length) / TRACKS)]!.file);
// Everything on one processor, ffmpeg too: a second one would hide what decoding costs.
const PINNED = 'BENCH_PINNED';
if (!process.env[PINNED]) {
  const { error } = spawnSync('taskset', ['-c', '0', process.execPath, ...process.argv.slice(1)], {
    stdio: 'inherit',
    env: { ...process.env, [PINNED]: '1' },
  });
  if (error) throw error;
  asRunTable((ending) => usualTracks(sources, ending));
  partsTable();
  await memoryTable(usualTracks(sources, 'mp3')[0]!);
  process.exit(0);
}

const rows: (string | number)[][] = [];
for (const ending of Object.keys(ENCODERS)) {
  const files = usualTracks(sources, ending);
  if (rows.length === 0) for (const file of files) await spentOn(file); // a long run is what matters: the code is warm
  const all: Spent[] = [];
  for (const file of files) all.push(await quickest(file));
  const sum = (of: keyof Spent): number => all.reduce((total, s) => total + s[of], 0);
  const seconds = sum('seconds'),
    times = (spent: number): string => `${(seconds / spent).toFixed(0)} ×`;
  rows.push([
    ending,
    times(sum('wall')),
    times(sum('analysis')),
    times(sum('decoding')),
    ((sum('analysis') + sum('decoding')) / sum('decoding')).toFixed(1),
  ]);
}
console.log(
  `Speed in times real time, all on one processor: ${TRACKS} tracks of ${DEFAULT_SECONDS / 60} minutes a format, one after the other, the quicker of ${RUNS} runs each\n`,
);
table(['format', 'whole, by the clock', 'analysis, processor', 'ffmpeg alone, processor', 'both ÷ ffmpeg'], rows);
