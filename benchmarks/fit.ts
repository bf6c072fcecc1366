/** Fits the weights of tempo and bar on the benchmark's pieces that are not held back, and writes core/analysis/weights.ts. */
import { writeFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { barProfile, shiftProfile, slotSeries, SLOTS } from '@early-set/core/analysis/meter';
import { possibleTempi } from '@early-set/core/analysis/tempo';
import { createFeaturePool } from './fit/featurePool.ts';
import { fitSoftmax, hitRate, type Case } from './fit/softmax.ts';
import { makePieces } from './pieces/make.ts';
import { percent, table } from './table.ts';

const PENALTY = 0.003;
/** The same piece played a little slower and faster, so that no style owns a tempo. */
const SPEEDS = [0.9, 1, 1.1];

const pieces = await makePieces(process.env.BENCH_CACHE!);
const pool = createFeaturePool(pathToFileURL(process.env.BENCH_FEATURES!));
const tempo: Case[] = [], bars: Record<3 | 4, Case[]> = { 3: [], 4: [] };
const held: { tempo: Case[]; bars: Record<3 | 4, Case[]> } = { tempo: [], bars: { 3: [], 4: [] } };
await Promise.all(pieces.filter((p) => p.bpm !== null).map(async (piece) => {
  const { onsets, chroma } = await pool.features(piece.file);
  for (const speed of piece.heldBack ? [1] : SPEEDS) {
    const { bpms, known } = possibleTempi({ ...onsets, frameRate: onsets.frameRate * speed });
    const wanted = piece.bpm! * speed;
    const right = bpms.reduce((best, bpm, i) => (Math.abs(bpm / wanted - 1) < Math.abs((bpms[best] ?? Infinity) / wanted - 1) ? i : best), 0);
    if (bpms.length > 0 && Math.abs(bpms[right]! / wanted - 1) < 0.04) (piece.heldBack ? held.tempo : tempo).push({ candidates: known, right });
  }
  const beatsPerBar = piece.beatsPerBar === 3 ? 3 : 4;
  const slots = beatsPerBar * SLOTS;
  const profile = barProfile(slotSeries(piece.beats, onsets, chroma), slots);
  (piece.heldBack ? held.bars : bars)[beatsPerBar].push({ candidates: Array.from({ length: slots }, (_, shift) => shiftProfile(profile, slots, shift)), right: 0 });
}));
await pool.close();

const weights = { tempo: fitSoftmax(tempo, { penalty: PENALTY }), 3: fitSoftmax(bars[3], { penalty: PENALTY, rounds: 400 }), 4: fitSoftmax(bars[4], { penalty: PENALTY, rounds: 400 }) };
const rate = (cases: Case[], w: Float64Array): string => percent(hitRate(cases, w) * cases.length, cases.length);
table(['fitted', 'cases', 'right', 'held back', 'right'], [
  ['tempo among its candidates', tempo.length, rate(tempo, weights.tempo), held.tempo.length, rate(held.tempo, weights.tempo)],
  ['bar of four on true beats', bars[4].length, rate(bars[4], weights[4]), held.bars[4].length, rate(held.bars[4], weights[4])],
  ['bar of three on true beats', bars[3].length, rate(bars[3], weights[3]), held.bars[3].length, rate(held.bars[3], weights[3])],
]);
const list = (w: Float64Array): string => `[${Array.from(w, (v) => Number(v.toFixed(3))).join(', ')}]`;
writeFileSync('core/analysis/weights.ts', `/** Weights fitted on the benchmark's pieces that are not held back; written by \`npm run bench:fit\`. */

/** For what possibleTempi knows of each period. */
export const TEMPO_WEIGHTS: readonly number[] = ${list(weights.tempo)};

/** For the bar's profile, by beats in a bar. */
export const DOWNBEAT_WEIGHTS: Readonly<Record<3 | 4, readonly number[]>> = {
  3: ${list(weights[3])},
  4: ${list(weights[4])},
};
`);
console.log('written: core/analysis/weights.ts');
