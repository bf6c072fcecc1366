/** Throughput and processor time of the analysis, against ffmpeg decoding alone in the same run. */
import { spawnSync } from 'node:child_process';
import { createAnalysis } from '@early-set/core/analysis/engine';
import { decode, probe } from '../server/media/decode.ts';
import { table } from './table.ts';
import { loadTruth } from './truth.ts';

const truths = loadTruth(process.argv[2]!);
const rows: (string | number)[][] = [];
for (const ending of ['mp3', 'flac', 'm4a', 'ogg', 'opus', 'wav']) {
  const files = truths.filter((t) => t.path.endsWith(`.${ending}`)).slice(0, 6);
  let seconds = 0, analysis = 0, wall = 0, decoding = 0;
  for (const [round, t] of [...files.slice(0, 1), ...files].entries()) {
    const probed = await probe(t.file);
    const before = process.cpuUsage(), start = performance.now();
    const running = createAnalysis(probed);
    await decode(t.file, probed, (samples) => running.push(samples));
    const { durationSeconds } = running.finish();
    const used = process.cpuUsage(before);
    if (round === 0) continue; // warms up
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
for (const minutes of [5, 120]) {
  const analysis = createAnalysis({ sampleRate: 44100, channels: 2 });
  const block = Float32Array.from({ length: 44100 * 2 }, (_, i) => 0.3 * Math.sin(i / 20) * Math.sin(i / 9000));
  for (let s = 0; s < minutes * 60; s++) analysis.push(block);
  analysis.finish();
  console.log(`memory after ${minutes} minutes of sound: ${(process.memoryUsage().rss / 2 ** 20).toFixed(0)} MB`);
}
