/**
 * 10,000 files that cannot be found are looked for among 30,000 that were moved, renamed, tagged, encoded or trimmed
 * since, and others that look like them. Facts are made up; what encoding does to fingerprints and lengths is measured
 * on rendered pieces, and so is how near another mix of a piece comes to it.
 */
import { findAgain } from '@early-set/core/relink/findAgain';
import { makePieces } from './makePieces.ts';
import { BENCH_PLAN, CHANCE_PLAN } from './pieces/plan.ts';
import { madeUpWorld, WAYS, type Way } from './relink/world.ts';
import { mixesOf, wearOf } from './relink/wear.ts';
import { percentile, table } from './table.ts';

const MIXES = 60;
const cache = process.env.BENCH_CACHE!;
const pieces = [...(await makePieces(cache, BENCH_PLAN)), ...(await makePieces(`${cache}-chance`, CHANCE_PLAN))];
const worn = await wearOf(pieces, `${cache}-worn`);
const plan = BENCH_PLAN.slice(0, MIXES).map((p) => ({ ...p, name: `${p.name}-mix`, scatter: 0.7, seed: p.seed + 1 }));
const mixes = await mixesOf(pieces.slice(0, MIXES), await makePieces(`${cache}-mixes`, plan), `${cache}-worn`);

const share = (values: number[], p: number): string => `${(100 * percentile(values, p)).toFixed(1)} %`;
console.log(`What was measured on ${pieces.length} pieces: share of equal bits\n`);
const kinds = [...new Set(worn.map((w) => w.what))].sort();
table(
  ['encoded anew as', 'files', 'least', '1 in 20', 'middle'],
  [
    ...kinds.map((what) => ({ what, equal: worn.filter((w) => w.what === what).map((w) => w.equal) })),
    { what: 'trimmed by 2 s, all', equal: worn.filter((w) => w.trimmed > 0).map((w) => w.equal) },
  ].map(({ what, equal }) => [what, equal.length, share(equal, 0), share(equal, 0.05), share(equal, 0.5)]),
);
const near = mixes.map((m) => m.equal);
console.log(
  `another mix of the same piece: middle ${share(near, 0.5)}, at most ${share(near, 1)} (${near.length} pieces)\n`,
);

const { lost, files, truth, ways } = madeUpWorld(worn, mixes);
const started = performance.now();
const found = findAgain(lost, files);
const seconds = (performance.now() - started) / 1000;

console.log(`${lost.length} files looked for among ${files.length}: ${seconds.toFixed(1)} s on one core\n`);
const rows = WAYS.map((way: Way) => {
  const own = ways.flatMap((w, i) => (w === way ? [i] : []));
  const right = own.filter((i) => found[i]!.found?.at === truth[i]).length,
    wrong = own.filter((i) => found[i]!.found && found[i]!.found!.at !== truth[i]).length;
  const shown = own.filter((i) => !found[i]!.found && found[i]!.candidates.some((c) => c.at === truth[i])).length;
  return [
    way,
    own.length,
    `${((100 * right) / own.length).toFixed(2)} %`,
    wrong,
    shown,
    own.length - right - wrong - shown,
  ];
});
table(['', 'files', 'found', 'wrong', 'only shown', 'not found'], rows);
const offsets = found.flatMap(({ found: f }, i) =>
  f && ways[i] === 'trimmed and encoded anew' && f.at === truth[i] ? [Math.abs(f.offsetSeconds + 2)] : [],
);
console.log(
  `trimmed by 2 s: the offset is off by ${(1000 * percentile(offsets, 0.95)).toFixed(0)} ms at most in 19 of 20`,
);
