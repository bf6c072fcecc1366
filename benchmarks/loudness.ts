/** Loudness: the EBU's test signals, and agreement with ffmpeg's ebur128 filter on every demo and benchmark file. */
import { spawnSync } from 'node:child_process';
import { basename } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createAnalysisPool } from '../server/media/analysisPool.ts';
import { EBU_CASES } from './ebu.ts';
import { makePieces } from './makePieces.ts';
import { BENCH_PLAN } from './pieces/plan.ts';
import { percentile, table } from './table.ts';
import { loadTruth } from './truth.ts';

const signed = (v: number): string => `${v < 0 ? '−' : ''}${Math.abs(v).toFixed(2)}`;
const cases = EBU_CASES.map((c) => ({ ...c, got: c.measure() }));
table(
  ['EBU Tech', 'case', 'what', 'expected', 'measured', 'tolerance', 'inside'],
  cases.map((c) => [
    c.standard,
    c.number,
    c.what,
    signed(c.expected),
    signed(c.got),
    `−${c.below} +${c.above}`,
    c.got >= c.expected - c.below && c.got <= c.expected + c.above ? 'yes' : 'NO',
  ]),
);

const truths = [...loadTruth(process.argv[2]!), ...(await makePieces(process.env.BENCH_CACHE!, BENCH_PLAN))];
const pool = createAnalysisPool(pathToFileURL(process.env.BENCH_THREAD!));
const differences = { integrated: [] as number[], range: [] as number[], peak: [] as number[] };
const ranges: { name: string; own: number; ffmpeg: number }[] = [];
for (const t of truths) {
  const answer = await pool.analyse(t.file);
  if (!answer.ok) continue;
  const { stderr } = spawnSync(
    'ffmpeg',
    ['-nostdin', '-i', t.file, '-map', '0:a:0', '-af', 'ebur128=peak=true', '-f', 'null', '-'],
    { encoding: 'utf8', maxBuffer: 1 << 26 },
  );
  const summary = stderr.slice(stderr.lastIndexOf('Summary:'));
  const value = (name: string): number => Number(new RegExp(`${name}:\\s+(-?[\\d.]+)`).exec(summary)?.[1]);
  const { loudness } = answer.analysed.result;
  differences.integrated.push(Math.abs(loudness.integratedLufs! - value('I')));
  differences.range.push(Math.abs(loudness.rangeLu! - value('LRA')));
  ranges.push({ name: basename(t.file), own: loudness.rangeLu!, ffmpeg: value('LRA') });
  differences.peak.push(Math.abs(loudness.truePeakDbtp! - value('Peak')));
}
await pool.close();
console.log(`Against ffmpeg's ebur128 on ${differences.integrated.length} files (it prints one decimal)\n`);
table(
  ['measure', 'median', '95 %', 'largest'],
  Object.entries(differences).map(([name, d]) => [
    name,
    percentile(d, 0.5).toFixed(3),
    percentile(d, 0.95).toFixed(3),
    Math.max(...d).toFixed(3),
  ]),
);
ranges.sort((a, b) => Math.abs(b.own - b.ffmpeg) - Math.abs(a.own - a.ffmpeg));
table(
  ['largest differences in range', 'ours', 'ffmpeg'],
  ranges.slice(0, 5).map((r) => [r.name, r.own.toFixed(2), r.ffmpeg.toFixed(1)]),
);
