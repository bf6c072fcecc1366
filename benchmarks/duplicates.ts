/**
 * Pieces again as recordings (encoded, quieter, mono, trimmed) and as other versions made of the same material: which
 * are taken for the same? And 100,000 made-up fingerprints searched as a whole.
 */
import { mkdirSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { fingerprintWords, sameRecording } from '@early-set/core/analysis/fingerprint';
import { compareSounds, type Relation, type Sound } from '@early-set/core/duplicates/compare';
import { proposals } from '@early-set/core/duplicates/propose';
import { pick, seeded } from '../demo/synth/random.ts';
import { createAnalysisPool } from '../server/media/analysisPool.ts';
import { original, OTHER_DRUMS, versionsOf, type Heard } from './duplicates/versions.ts';
import { madeUpPrint, wornAs } from './prints.ts';
import { makePieces } from './makePieces.ts';
import { BENCH_PLAN, type PiecePlan } from './pieces/plan.ts';
import { percentile, table } from './table.ts';

const cache = process.env.BENCH_CACHE!;
const PIECES = Number(process.env.BENCH_PIECES ?? 60);
const plans = BENCH_PLAN.slice(0, PIECES);
const pieces = (await makePieces(cache, BENCH_PLAN)).slice(0, PIECES);

/** Versions that are made of the same material. */
const OTHERS: readonly [string, (plan: PiecePlan) => PiecePlan][] = [
  ['longer', (p) => ({ ...p, seconds: p.seconds * 1.45 })],
  ['shorter', (p) => ({ ...p, seconds: p.seconds * 0.7 })],
  ['in another key', (p) => ({ ...p, tonic: (p.tonic + 2) % 12 })],
  ['in another tempo', (p) => ({ ...p, bpm: p.bpm * 1.06 })],
  [OTHER_DRUMS, (p) => ({ ...p, scatter: 0.7, seed: p.seed + 1 })],
];
const others = await Promise.all(
  OTHERS.map(async ([what, change]) => {
    const word = what.replace(/\W+/g, '-');
    const made = await makePieces(
      `${cache}-as-${word}`,
      plans.map((p) => ({ ...change(p), name: `${p.name}-${word}` })),
    );
    return made.map((piece): [string, (typeof made)[number]] => [what, piece]);
  }),
);

const making = { pool: createAnalysisPool(pathToFileURL(process.env.BENCH_THREAD!)), folder: `${cache}-duplicates` };
mkdirSync(making.folder, { recursive: true });
const soundOf = ({ waveform, fingerprint }: Heard): Sound => ({ waveform, fingerprint: fingerprintWords(fingerprint) });
interface Pair {
  what: string;
  truth: readonly Relation[];
  relation: Relation;
  alike: number;
  milliseconds: number;
  name: string;
}
const pairs: Pair[] = [];
const originals: Heard[] = [];
/** Fingerprints of pieces with those of recordings of them. */
const pairsOfPrints: [Uint32Array, Uint32Array][] = [];
const queue = pieces.map((piece, i) => ({ piece, i }));
async function next(): Promise<void> {
  for (let one = queue.shift(); one; one = queue.shift()) {
    const { piece, i } = one;
    const first = await original(making, piece);
    originals.push(first);
    for (const version of await versionsOf(
      making,
      piece,
      plans[i]!,
      others.map((all) => all[i]!),
    )) {
      if (version.truth.includes('same recording'))
        pairsOfPrints.push([fingerprintWords(first.fingerprint), fingerprintWords(version.fingerprint)]);
      const from = performance.now();
      const { relation, alike } = compareSounds(soundOf(first), soundOf(version));
      const milliseconds = performance.now() - from;
      pairs.push({ what: version.what, truth: version.truth, relation, alike, milliseconds, name: piece.name });
    }
  }
}
await Promise.all([next(), next()]);
await making.pool.close();

const RELATIONS: readonly Relation[] = ['same recording', 'cut short', 'edit', 'another version', 'different'];
const kinds = [...new Set(pairs.map((p) => p.what))];
console.log(`${pieces.length} pieces, each beside what was made of it: taken for\n`);
table(
  ['', 'files', ...RELATIONS, 'right'],
  kinds.map((what) => {
    const own = pairs.filter((p) => p.what === what);
    const right = own.filter((p) => p.truth.includes(p.relation)).length;
    return [
      what,
      own.length,
      ...RELATIONS.map((r) => own.filter((p) => p.relation === r).length),
      `${((100 * right) / own.length).toFixed(1)} %`,
    ];
  }),
);
const wrong = pairs.filter((p) => !p.truth.includes(p.relation));
if (process.env.BENCH_SHOW)
  for (const p of wrong) console.log(`${p.name}: ${p.what}: ${p.relation}, ${p.alike.toFixed(3)}`);
const same = pairs.filter((p) => p.truth.includes('same recording'));
const apart = pairs.filter((p) => !p.truth.includes('same recording'));
console.log(
  `\nsame recording: ${same.filter((p) => p.relation === 'same recording').length} of ${same.length} found; ` +
    `other versions taken for the same: ${apart.filter((p) => p.relation === 'same recording').length} of ${apart.length}; ` +
    `one comparison ${percentile(
      pairs.map((p) => p.milliseconds),
      0.5,
    ).toFixed(1)} ms\n`,
);

const PRINTS = 100_000,
  DOUBLES = 3000;
const random = seeded(23);
const measured = originals.map((h) => fingerprintWords(h.fingerprint)).filter((words) => words.length > 200);
const wornPrints = pairsOfPrints.filter(([a, b]) => a.length > 200 && b.length > 200);
const everything: Uint32Array[] = Array.from({ length: PRINTS - DOUBLES }, () => madeUpPrint(random, measured));
/** Which of the others each is a recording of. */
const doubles = Array.from({ length: DOUBLES }, () => {
  const of = Math.floor(random() * everything.length);
  return { of, words: wornAs(everything[of]!, pick(random, wornPrints)) };
});
let at = performance.now();
const index = proposals();
const near: number[][] = [];
const all = [...everything, ...doubles.map((d) => d.words)];
for (const words of all) {
  near.push(index.near(words, 8));
  index.add(words);
}
const searched = (performance.now() - at) / 1000;
const found = doubles.filter(({ of }, i) => near[everything.length + i]!.includes(of)).length;
const vain = near.reduce((sum, list) => sum + list.length, 0) - found;
at = performance.now();
for (const { words } of doubles.slice(0, 500)) index.near(words, 8);
const one = (performance.now() - at) / 500;
at = performance.now();
for (const { of, words } of doubles.slice(0, 500)) sameRecording(everything[of]!, words);
const told = (performance.now() - at) / 500;
console.log(
  `${PRINTS} made-up fingerprints, each looked for among all before it: ${searched.toFixed(1)} s on one core; ` +
    `${found} of ${DOUBLES} recordings proposed, ${vain} others; ` +
    `one new file in ${one.toFixed(2)} ms, and ${told.toFixed(2)} ms for each proposal that is looked at`,
);
