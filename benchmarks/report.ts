/** Sums of scores as tables. */
import type { Score } from './score.ts';
import { percent, percentile, table } from './table.ts';

export interface Split {
  /** "by source", … */
  kind: string;
  /** What was left out of fitting, with the scores of exactly those pieces. */
  leftOut: { name: string; scores: Score[] }[];
}

const HEAD = [
  'pieces',
  'tempo ±4 %',
  'with ½ ⅓ ×2 ×3',
  '±0.05 BPM',
  'grid median',
  'grid 95 %',
  'beat F',
  'beats per bar',
  'first beat, 4/4',
  '3/4, 6/8',
  'key',
  'MIREX',
  'key, clear',
  'said with 0.9',
  'of these right',
];

const ms = (errors: number[], p: number): string =>
  errors.length ? `${(1000 * percentile(errors, p)).toFixed(1)} ms` : '–';
const mean = (values: number[]): string =>
  values.length ? (values.reduce((a, b) => a + b, 0) / values.length).toFixed(2) : '–';
const share = (of: Score[], right: (s: Score) => boolean): string => percent(of.filter(right).length, of.length);

/** One row of HEAD. */
export function line(name: string, set: Score[]): (string | number)[] {
  const beaten = set.filter((s) => s.truth.bpm !== null),
    steady = beaten.filter((s) => s.truth.steady);
  const pitched = set.filter((s) => s.truth.key !== null),
    clear = pitched.filter((s) => s.truth.clear);
  const fours = beaten.filter((s) => !s.truth.compound && [2, 4].includes(s.truth.beatsPerBar)),
    threes = beaten.filter((s) => s.truth.compound || s.truth.beatsPerBar === 3);
  const sure = beaten.filter((s) => s.bpm !== null && s.tempoConfidence >= 0.9);
  const errors = steady.flatMap((s) => s.gridErrors);
  return [
    name,
    set.length,
    share(beaten, (s) => s.within4),
    share(beaten, (s) => s.octave),
    share(steady, (s) => s.exact),
    ms(errors, 0.5),
    ms(errors, 0.95),
    mean(beaten.flatMap((s) => s.fMeasure ?? [])),
    share(beaten, (s) => s.barRight === true),
    share(fours, (s) => s.downbeat === true),
    share(threes, (s) => s.downbeat === true),
    share(pitched, (s) => s.keyRight),
    mean(pitched.map((s) => s.mirex)),
    share(clear, (s) => s.keyRight),
    percent(sure.length, beaten.length),
    share(sure, (s) => s.within4),
  ];
}

export const groups = <K extends string>(scores: Score[], of: (s: Score) => K): [K, Score[]][] =>
  [...new Set(scores.map(of))].sort().map((k) => [k, scores.filter((s) => of(s) === k)]);

/** Shares of right results by confidence: calibrated when the shares lie inside their rows. */
function reliability(what: string, cases: { confidence: number; right: boolean }[]): void {
  const edges = [0, 0.5, 0.7, 0.8, 0.9, 1.0001];
  table(
    [`${what}: confidence`, 'pieces', 'right'],
    edges.slice(1).map((high, i) => {
      const inside = cases.filter((c) => c.confidence >= edges[i]! && c.confidence < high);
      return [
        `${edges[i]!.toFixed(1)} to ${Math.min(1, high).toFixed(1)}`,
        inside.length,
        percent(inside.filter((c) => c.right).length, inside.length),
      ];
    }),
  );
}

/** Prints every split, then more of the one by source. */
export function report(splits: readonly Split[]): void {
  for (const { kind, leftOut } of splits) {
    const all = leftOut.flatMap((part) => part.scores);
    console.log(`Split ${kind}: each row was measured with weights that were fitted without its pieces\n`);
    table([kind, ...HEAD], [...leftOut.map((part) => line(part.name, part.scores)), line('all', all)]);
  }
  const scores = (splits.find((s) => s.kind === 'by source') ?? splits[0]!).leftOut.flatMap((part) => part.scores);
  console.log('From here on: each piece measured without its source\n');
  for (const [first, of] of [
    ['family', (s: Score) => s.truth.family],
    ['style', (s: Score) => s.truth.style],
  ] as const)
    table(
      [first, ...HEAD],
      groups(scores, of).map(([k, set]) => line(k, set)),
    );
  const changes = [...new Set(scores.flatMap((s) => s.truth.changes))].sort();
  table(
    ['what happened to it', ...HEAD],
    changes.map((c) =>
      line(
        c,
        scores.filter((s) => s.truth.changes.includes(c)),
      ),
    ),
  );
  plainWays(scores);
  reliability(
    'tempo',
    scores
      .filter((s) => s.truth.bpm !== null && s.bpm !== null)
      .map((s) => ({ confidence: s.tempoConfidence, right: s.within4 })),
  );
  reliability(
    'key',
    scores.filter((s) => s.truth.key !== null).map((s) => ({ confidence: s.keyConfidence, right: s.keyRight })),
  );
  otherMeasures(scores);
}

/** What the engine adds to plain ways, source by source. */
function plainWays(scores: Score[]): void {
  const near = (bpm: number | null, truth: number): boolean => bpm !== null && Math.abs(bpm / truth - 1) < 0.04;
  table(
    ['tempo ±4 %, key', 'pieces', 'engine', 'strongest repetition', 'engine, key', 'published profile, key'],
    [...groups(scores, (s) => s.truth.source), ['all', scores] as const].map(([name, set]) => {
      const beaten = set.filter((s) => s.truth.bpm !== null && s.plain !== null),
        pitched = set.filter((s) => s.truth.key !== null && s.plain !== null);
      return [
        name,
        set.length,
        share(beaten, (s) => s.within4),
        share(beaten, (s) => near(s.plain!.bpm, s.truth.bpm!)),
        share(pitched, (s) => s.keyRight),
        share(pitched, (s) => s.plain!.key === s.truth.key),
      ];
    }),
  );
}

function otherMeasures(scores: Score[]): void {
  const pulseless = scores.filter((s) => s.truth.bpm === null);
  const tuning = scores.filter((s) => s.truth.key !== null).map((s) => s.tuningError);
  const cents = (p: number): string => percentile(tuning, p).toFixed(1);
  const unsure = pulseless.filter((s) => s.bpm === null || s.tempoConfidence < 0.5);
  const right = scores.filter((s) => s.truth.bpm !== null && s.within4);
  const steady = share(right, (s) => s.steadySaid === s.truth.steady);
  console.log(`tuning error: median ${cents(0.5)} cents, 95 % ${cents(0.95)} cents`);
  console.log(
    'pieces without a pulse given no tempo, or one with under 0.5 confidence:',
    `${unsure.length} of ${pulseless.length}`,
  );
  console.log(`steady or drifting said rightly: ${steady}`);
}
