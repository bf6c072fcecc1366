/** Throughput and processor time of the analysis, against ffmpeg decoding alone in the same run. */
import { spawnSync } from 'node:child_process';
import { createBandSplit } from '@early-set/core/analysis/bands';
import { createChromaExtractor } from '@early-set/core/analysis/chroma';
import { createAnalysis, interpret } from '@early-set/core/analysis/engine';
import { createFeatureExtractor } from '@early-set/core/analysis/features';
import { createLoudnessMeter } from '@early-set/core/analysis/loudness';
import { createOnsetDetector } from '@early-set/core/analysis/onsets';
import { createRunPeaks, RUN } from '@early-set/core/analysis/peaks';
import { createSoundMeter } from '@early-set/core/analysis/soundMeter';
import { createTruePeakMeter } from '@early-set/core/analysis/truePeak';
import { createDecimator } from '@early-set/core/signal/filters';
import { BLOCK, createKernels } from '@early-set/core/signal/kernels/kernels';
import { decode, probe } from '../server/media/decode.ts';
import { table } from './table.ts';
import { loadTruth } from './truth.ts';

/** Two channels of something like music. */
const second = (s: number): Float32Array => Float32Array.from({ length: 44100 * 2 }, (_, i) => {
  const t = s + (i >> 1) / 44100, beat = (t * 2) % 1;
  return 0.4 * Math.exp(-12 * beat) * Math.sin(t * 340) + 0.2 * Math.sin(t * 1381 + (i & 1)) + 0.1 * Math.exp(-40 * ((t * 4) % 1)) * (((i * 7919) % 199) / 99 - 1);
});

/** What the process holds at its height while it measures so much sound; decoding is a process of its own. */
function memory(minutes: number): void {
  const analysis = createAnalysis({ sampleRate: 44100, channels: 2 });
  const some = Array.from({ length: 8 }, (_, s) => second(s));
  let top = 0;
  for (let s = 0; s < minutes * 60; s++) {
    analysis.push(some[s % 8]!);
    if (s % 20 === 0) top = Math.max(top, process.memoryUsage().rss);
  }
  analysis.finish();
  console.log(`memory while measuring ${minutes} minutes of sound: ${(Math.max(top, process.memoryUsage().rss) / 2 ** 20).toFixed(0)} MB at most`);
}

/** Shares of the parts of an analysis, each run alone on three minutes. */
function partsTable(): void {
  const kernels = createKernels();
  const seconds = 180;
  const left = kernels.floats(BLOCK), right = kernels.floats(BLOCK), runs = [kernels.floats(BLOCK / RUN), kernels.floats(BLOCK / RUN)];
  left.forEach((_, i) => { const x = second(0); left[i] = x[i * 2]!; right[i] = x[i * 2 + 1]!; });
  const planes = [left, right], blocks = Math.round((seconds * 44100) / BLOCK);
  const loudness = createLoudnessMeter(44100, 2, kernels), peaks = createTruePeakMeter(44100, 2, kernels), sound = createSoundMeter(44100, 2, kernels), takeRuns = createRunPeaks(kernels);
  const toMid = createDecimator(2, BLOCK, kernels), toLow = createDecimator(4, BLOCK, kernels);
  const bands = createBandSplit(22050, kernels), onsets = createOnsetDetector(22050, kernels), chroma = createChromaExtractor(22050 / 4, kernels);
  toMid.push(left, BLOCK);
  toLow.push(toMid.output, BLOCK / 2);
  const parts: [string, () => void][] = [
    ['loudness (K-weighting)', () => loudness.push(planes, BLOCK)],
    ['peaks of runs', () => planes.forEach((x, c) => { takeRuns(x, BLOCK, runs[c]!); })],
    ['true peak', () => peaks.push(planes, BLOCK, runs)],
    ['sound quality', () => sound.push(planes, BLOCK, runs)],
    ['halving the rate', () => { toMid.push(left, BLOCK); toLow.push(toMid.output, BLOCK / 2); }],
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
  table(['part', 'share', 'times real time alone'], all.map(([name, t]) => [name, `${((100 * t) / total).toFixed(0)} %`, `${(seconds / t).toFixed(0)} ×`]));
}

if (process.argv[2] === '--memory') {
  memory(Number(process.argv[3]));
  process.exit(0);
}

const truths = loadTruth(process.argv[2]!);
/** So many files of each format go before those that count: a long run is what matters. */
const WARM_UP = 4;
const rows: (string | number)[][] = [];
for (const ending of ['mp3', 'flac', 'm4a', 'ogg', 'opus', 'wav']) {
  const files = truths.filter((t) => t.path.endsWith(`.${ending}`)).slice(0, 6);
  let seconds = 0, analysis = 0, wall = 0, decoding = 0;
  for (const [round, t] of [...files.slice(0, WARM_UP), ...files].entries()) {
    const probed = await probe(t.file);
    const before = process.cpuUsage(), start = performance.now();
    const running = createAnalysis(probed);
    await decode(t.file, probed, (samples) => running.push(samples));
    const { durationSeconds } = running.finish();
    const used = process.cpuUsage(before);
    if (round < Math.min(WARM_UP, files.length)) continue;
    wall += (performance.now() - start) / 1000;
    analysis += (used.user + used.system) / 1e6;
    seconds += durationSeconds;
    const bench = spawnSync('ffmpeg', ['-v', 'info', '-benchmark', '-nostdin', '-i', t.file, '-map', '0:a:0', '-f', 'f32le', '-y', '/dev/null'], { encoding: 'utf8' });
    const times = /utime=([\d.]+)s stime=([\d.]+)s/.exec(bench.stderr);
    decoding += times ? Number(times[1]) + Number(times[2]) : 0;
  }
  rows.push([ending, files.length, `${(seconds / wall).toFixed(0)} ×`, `${(seconds / analysis).toFixed(0)} ×`, `${(seconds / decoding).toFixed(0)} ×`, `${((analysis + decoding) / decoding).toFixed(1)}`]);
}
console.log('Speed in times real time, one file at a time\n');
table(['format', 'files', 'whole, wall clock', 'analysis, processor', 'ffmpeg alone, processor', 'both ÷ ffmpeg'], rows);
partsTable();
for (const minutes of [5, 120]) {
  const { stdout } = spawnSync(process.execPath, [process.argv[1]!, '--memory', String(minutes)], { encoding: 'utf8' });
  console.log(stdout.trim());
}
