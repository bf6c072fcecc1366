/**
 * Fits the weights of tempo, bar and key on the benchmark's pieces that are not held back, and writes
 * core/analysis/fitted/weights.ts.
 */
import { writeFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { ONSET_BAND_COUNT, type Onsets } from '@early-set/core/analysis/rhythm/onsets';
import { barProfile, shiftProfile, slotSeries, SLOTS } from '@early-set/core/analysis/rhythm/meter';
import { estimateTempo, possibleTempi } from '@early-set/core/analysis/rhythm/tempo';
import { barsOf } from '@early-set/core/analysis/engine';
import type { Features } from '@early-set/core/analysis/features';
import { layGrid } from '@early-set/core/analysis/rhythm/grid';
import { pitchKnown, seenFrom, type Bars } from '@early-set/core/analysis/harmony/key';
import { keyParts } from '@early-set/core/fields/keys';
import { createFeaturePool } from './fit/featurePool.ts';
import { fitSoftmax, hitRate, type Case } from './fit/softmax.ts';
import { LESSON_PLAN } from './pieces/lessons.ts';
import { makePieces } from './pieces/make.ts';
import { BENCH_PLAN } from './pieces/plan.ts';
import type { PieceTruth } from './pieces/produce.ts';
import { percent, table } from './table.ts';

const PENALTY = 0.003;
/** Chosen by holding back a quarter of the lessons. */
const TEMPO_PENALTY = 0.0002;
/** The same piece played a little slower and faster, so that no style owns a tempo. */
const SPEEDS = [0.9, 1, 1.1];
/** Bars of three are rare among the pieces; each is heard more often. */
const SPEEDS_OF_THREE = [0.76, 0.83, 0.9, 0.95, 1, 1.05, 1.1, 1.18];
const KEY_PENALTY = 0.004;
/** Parts of a piece that are looked at on their own, so that not only whole pieces teach. */
const CUTS = [
  [0, 1],
  [0, 0.5],
  [0.25, 0.75],
  [0.5, 1],
  [0, 0.75],
  [0.25, 1],
];

const pieces = [
  ...(await makePieces(process.env.BENCH_CACHE!, BENCH_PLAN)),
  ...(await makePieces(`${process.env.BENCH_CACHE!}-lessons`, LESSON_PLAN)),
];
const pool = createFeaturePool(pathToFileURL(process.env.BENCH_FEATURES!));
const keys: Case[] = [],
  heldKeys: Case[] = [];
const tempo: Case[] = [],
  bars: Record<3 | 4, Case[]> = { 3: [], 4: [] };
const held: { tempo: Case[]; bars: Record<3 | 4, Case[]> } = { tempo: [], bars: { 3: [], 4: [] } };
await Promise.all(
  pieces.map(async (piece) => {
    const features = await pool.features(piece.file);
    const { onsets, chroma } = features;
    const { candidates: tempi, pulse, novelty } = estimateTempo(onsets);
    const heardBars =
      tempi[0] && pulse > 0.04 ? barsOf(layGrid(features, novelty, tempi[0].bpm), features) : { times: [], change: [] };
    for (const [from, to] of piece.heldBack
      ? [[0, 1]]
      : piece.changes.includes('modulates')
        ? [
            [0, 0.7],
            [0, 1],
          ]
        : CUTS)
      (piece.heldBack ? heldKeys : keys).push(keyCase(piece, features, heardBars, from!, to!));
    if (piece.bpm === null) return;
    for (const speed of piece.heldBack ? [1] : piece.beatsPerBar === 3 ? SPEEDS_OF_THREE : SPEEDS) {
      const { bpms, known } = possibleTempi({ ...onsets, frameRate: onsets.frameRate * speed });
      const wanted = piece.bpm! * speed;
      const right = bpms.reduce(
        (best, bpm, i) => (Math.abs(bpm / wanted - 1) < Math.abs((bpms[best] ?? Infinity) / wanted - 1) ? i : best),
        0,
      );
      if (bpms.length > 0 && Math.abs(bpms[right]! / wanted - 1) < 0.04)
        (piece.heldBack ? held.tempo : tempo).push({ candidates: known, right });
    }
    const beatsPerBar = piece.beatsPerBar === 3 ? 3 : 4;
    const slots = beatsPerBar * SLOTS;
    const profile = barProfile(slotSeries(piece.beats, onsets, chroma), slots);
    (piece.heldBack ? held.bars : bars)[beatsPerBar].push({
      candidates: Array.from({ length: slots }, (_, shift) => shiftProfile(profile, slots, shift)),
      right: 0,
    });
  }),
);
await pool.close();

/** Bare strokes say nothing but how often they come: within the range of walking and dancing they are the beat. */
for (let bpm = 68; bpm <= 164; bpm += 6) {
  for (const withEighths of [false, true]) {
    const { bpms, known } = possibleTempi(plainStrokes(bpm, withEighths));
    const right = bpms.findIndex((b) => Math.abs(b / bpm - 1) < 0.02);
    if (right >= 0) tempo.push({ candidates: known, right });
  }
}

/** Forty seconds of a thump with a click on each beat, and of lighter clicks between. */
function plainStrokes(bpm: number, withEighths: boolean): Onsets {
  const frameRate = 100;
  const bands = Array.from({ length: ONSET_BAND_COUNT }, () => new Float32Array(40 * frameRate));
  for (let k = 0, t = 0.3; t < 39; k++, t += 30 / bpm) {
    const at = Math.round(t * frameRate);
    if (k % 2 === 0) for (const band of bands) band[at]! += 2;
    else if (withEighths) bands[4]![at]! += 0.8;
  }
  return { bands, centroidHz: new Float32Array(bands[0]!.length), frameRate, startSeconds: 0 };
}

/** One of the 24 keys, each mode with weights of its own. */
function keyCase(piece: PieceTruth, features: Features, bars: Bars, from: number, to: number): Case {
  const { frameCount } = features.chroma;
  const known = pitchKnown(features.chroma, Math.floor(frameCount * from), Math.ceil(frameCount * to), bars);
  const { tonic, mode } = keyParts(piece.key)!;
  return {
    right: tonic + (mode === 'minor' ? 12 : 0),
    candidates: [0, 1].flatMap((m) =>
      Array.from({ length: 12 }, (_, t) => {
        const own = [1, ...seenFrom(known, t)],
          other = own.map(() => 0);
        return m === 0 ? [...own, ...other] : [...other, ...own];
      }),
    ),
  };
}

const keyWeights = fitSoftmax(keys, { penalty: KEY_PENALTY, rounds: 400 });
const weights = {
  tempo: fitSoftmax(tempo, { penalty: TEMPO_PENALTY }),
  3: fitSoftmax(bars[3], { penalty: PENALTY, rounds: 400 }),
  4: fitSoftmax(bars[4], { penalty: PENALTY, rounds: 400 }),
};
const rate = (cases: Case[], w: Float64Array): string => percent(hitRate(cases, w) * cases.length, cases.length);
table(
  ['fitted', 'cases', 'right', 'held back', 'right'],
  [
    [
      'tempo among its candidates',
      tempo.length,
      rate(tempo, weights.tempo),
      held.tempo.length,
      rate(held.tempo, weights.tempo),
    ],
    [
      'bar of four on true beats',
      bars[4].length,
      rate(bars[4], weights[4]),
      held.bars[4].length,
      rate(held.bars[4], weights[4]),
    ],
    ['key', keys.length, rate(keys, keyWeights), heldKeys.length, rate(heldKeys, keyWeights)],
    [
      'bar of three on true beats',
      bars[3].length,
      rate(bars[3], weights[3]),
      held.bars[3].length,
      rate(held.bars[3], weights[3]),
    ],
  ],
);
const list = (w: Float64Array): string => `[${Array.from(w, (v) => Number(v.toFixed(3))).join(', ')}]`;
writeFileSync(
  'core/analysis/fitted/weights.ts',
  `/** Weights fitted on the benchmark's pieces that are not held back; written by \`npm run bench:fit\`. */

/** For what possibleTempi knows of each period. */
export const TEMPO_WEIGHTS: readonly number[] = ${list(weights.tempo)};

/** For the bar's profile, by beats in a bar. */
export const DOWNBEAT_WEIGHTS: Readonly<Record<3 | 4, readonly number[]>> = {
  3: ${list(weights[3])},
  4: ${list(weights[4])},
};

/** For the pitch profiles as seen from the tonic, a constant first. */
export const KEY_WEIGHTS: Readonly<Record<'major' | 'minor', readonly number[]>> = {
  major: ${list(keyWeights.subarray(0, keyWeights.length / 2))},
  minor: ${list(keyWeights.subarray(keyWeights.length / 2))},
};
`,
);
console.log('written: core/analysis/fitted/weights.ts');
