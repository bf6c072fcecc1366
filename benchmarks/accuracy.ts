/** How well tempo, grid, downbeat and key are found on the demo's music, whose truth is known. */
import { pathToFileURL } from 'node:url';
import { beatsOf } from '@early-set/core/analysis/engine';
import { fifthsApart, keyParts } from '@early-set/core/fields/keys';
import { createAnalysisPool } from '../server/media/analysisPool.ts';
import { percent, percentile, table } from './table.ts';
import { loadTruth } from './truth.ts';

const truths = loadTruth(process.argv[2]!);
const pool = createAnalysisPool(pathToFileURL(process.env.BENCH_THREAD!));

interface Row { style: string; path: string; beat: boolean; dance: boolean; steady: boolean; within4: boolean; octave: boolean; exact: boolean; gridErrors: number[]; downbeat: boolean; key: boolean; mirex: number; lufsError: number; confidence: number; said: string; truth: string }

/** MIREX key score: same 1, fifth 0.5, relative 0.3, parallel 0.2. */
function mirex(found: string | null, truth: string): number {
  if (found === truth) return 1;
  const a = found === null ? null : keyParts(found), b = keyParts(truth);
  if (!a || !b) return 0;
  const interval = (a.tonic - b.tonic + 12) % 12;
  if (a.mode === b.mode && (interval === 7 || interval === 5)) return 0.5;
  if (a.mode !== b.mode && fifthsApart(found!, truth) === 0) return 0.3;
  return a.mode !== b.mode && interval === 0 ? 0.2 : 0;
}

const rows = (await Promise.all(truths.map(async (t): Promise<Row> => {
  const answer = await pool.analyse(t.file);
  if (!answer.ok) throw new Error(`${t.path}: ${answer.reason}`);
  const { result } = answer.analysed;
  const { bpm, firstDownbeatSeconds } = result.tempo;
  const ratio = bpm === null || t.bpm === null ? 0 : bpm / t.bpm;
  const near = (m: number): boolean => Math.abs(ratio / m - 1) < 0.04;
  const beats = beatsOf(result);
  const gridErrors = t.bpm === null ? [] : beats.filter((b) => b < t.beats.at(-1)!).map((b) => Math.min(...t.beats.map((x) => Math.abs(x - b))));
  const bar = t.beats.findIndex((x) => Math.abs(x - (firstDownbeatSeconds ?? -9)) < 0.05);
  return {
    style: t.style, path: t.path, beat: t.bpm !== null, steady: t.steady, dance: !['ballad', 'ambient', 'waltz', 'soul'].includes(t.style),
    within4: near(1), octave: [1, 2, 0.5, 3, 1 / 3].some(near), exact: bpm !== null && t.bpm !== null && Math.abs(bpm - t.bpm) <= 0.05,
    gridErrors, downbeat: bar >= 0 && bar % t.beatsPerBar === 0, key: result.key.key === t.key, mirex: mirex(result.key.key, t.key),
    lufsError: Math.abs((result.loudness.integratedLufs ?? -99) - t.lufs), confidence: result.tempo.confidence,
    said: `${bpm?.toFixed(2) ?? '–'} ${result.key.key ?? '–'}`, truth: `${t.bpm ?? '–'} ${t.key}`,
  };
}))).sort((a, b) => (a.path < b.path ? -1 : 1));
await pool.close();

const summary = (name: string, set: Row[]): (string | number)[] => {
  const steady = set.filter((r) => r.beat && r.steady), errors = steady.filter((r) => r.within4).flatMap((r) => r.gridErrors);
  const ms = (p: number): string => (errors.length ? `${(1000 * percentile(errors, p)).toFixed(1)} ms` : '–');
  return [name, set.length, percent(steady.filter((r) => r.within4).length, steady.length), percent(steady.filter((r) => r.octave).length, steady.length), percent(steady.filter((r) => r.exact).length, steady.length), ms(0.5), ms(0.95), percent(set.filter((r) => r.beat && r.downbeat).length, set.filter((r) => r.beat).length), percent(set.filter((r) => r.key).length, set.length), (set.reduce((a, r) => a + r.mirex, 0) / set.length).toFixed(2)];
};
console.log('Accuracy on the demo (tempo and grid on steady tracks)\n');
table(['style', 'tracks', 'tempo ±4 %', 'with ½ ×2 ×3', '±0.05 BPM', 'grid median', 'grid 95 %', 'downbeat', 'key', 'MIREX'],
  [summary('all', rows), summary('dance', rows.filter((r) => r.dance)), ...[...new Set(rows.map((r) => r.style))].sort().map((s) => summary(s, rows.filter((r) => r.style === s)))]);
const wrong = rows.filter((r) => (r.beat && !r.within4) || !r.key).sort((a, b) => Number(a.within4) - Number(b.within4) || a.mirex - b.mirex).slice(0, 20);
table(['twenty worst', 'said', 'true'], wrong.map((r) => [r.path.split('/').at(-1)!.slice(0, 46), r.said, r.truth]));
