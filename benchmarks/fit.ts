/**
 * Fits the networks of tempo, bar and key on all music whose truth is known, and their confidences on what the same
 * fit says of sources that it was not shown; writes core/analysis/fitted/weights.ts.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { packed, type Fitted, type Network } from '@early-set/core/analysis/fitted/network';
import { fitCalm, fitSureness, foldsBy, openFolds } from './fit/folds.ts';
import { excerptsOf } from './excerpts.ts';
import { allPieces, handOf, heardOf, keptFiles } from './material.ts';

const TARGET = 'core/analysis/fitted/weights.ts';
const cache = process.env.BENCH_CACHE!;
const whole = await allPieces(cache);
const pieces = [...whole, ...excerptsOf(whole)];
const heard = await heardOf(pieces, cache);
const pool = openFolds(pieces, heard, keptFiles(pieces, cache));
const folds = foldsBy(pieces, handOf);
const [{ fitted: best }, ...parts] = await Promise.all([
  pool.without({ leftOut: [], hear: [] }),
  ...folds.map(async ({ name, leftOut }) => {
    const { unseen } = await pool.without({ leftOut, hear: leftOut });
    console.log(`fitted without ${name}`);
    return leftOut.map((i, n) => ({ truth: pieces[i]!, unseen: unseen[n]! }));
  }),
]);
await pool.close();
const unseen = parts.flat();
const fitted: Fitted = {
  ...best,
  keys: { ...best.keys, calm: fitCalm(unseen) },
  tempoSure: fitSureness(unseen).map((w) => Number(w.toFixed(4))),
};

/** A text of many letters over several lines. */
const lines = (text: string): string =>
  text.length < 90
    ? `'${text}'`
    : `[\n${(text.match(/.{1,107}/g) ?? []).map((part) => `'${part}',`).join('\n')}\n].join('')`;
const pack = (values: ArrayLike<number>): string => {
  const { scale, text } = packed(values);
  return `{ scale: ${scale}, text: ${lines(text)} }`;
};
const network = ({ inputs, hidden, weights, biases, out, straight, bias }: Network): string => {
  const parts = Object.entries({ weights, biases, out, straight }).map(([name, values]) => `${name}: ${pack(values)}`);
  return `{ inputs: ${inputs}, hidden: ${hidden}, ${parts.join(', ')}, bias: ${bias.toFixed(5)} }`;
};
const { readings, keys, tempoSure } = fitted;
const head = readFileSync(TARGET, 'utf8').split('export const WEIGHTS')[0]!;
writeFileSync(
  TARGET,
  `${head}export const WEIGHTS: PackedWeights = {
  beat: ${network(readings.beat)},
  bars: { 2: ${network(readings.bars[2])}, 3: ${network(readings.bars[3])}, 4: ${network(readings.bars[4])} },
  keys: { major: ${network(keys.major)}, minor: ${network(keys.minor)}, calm: ${keys.calm} },
  tempoSure: [${tempoSure.join(', ')}],
};
`,
);
console.log(`written: ${TARGET}; it is to be brought into form by prettier`);
