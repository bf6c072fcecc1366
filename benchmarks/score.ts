/** Scores one analysis against the truth, and prints sums of scores as tables. */
import { beatsOf, type AnalysisResult } from '@early-set/core/analysis/engine';
import { fifthsApart, keyParts } from '@early-set/core/fields/keys';
import type { PieceTruth } from './pieces/produce.ts';
import { percent, percentile, table } from './table.ts';

export interface Score {
  truth: PieceTruth;
  bpm: number | null;
  key: string | null;
  within4: boolean;
  octave: boolean;
  exact: boolean;
  /** Distance of each true beat in the graded part to the nearest given one, seconds. */
  gridErrors: number[];
  fMeasure: number | null;
  downbeat: boolean | null;
  keyRight: boolean;
  mirex: number;
  tuningError: number;
  tempoConfidence: number;
  keyConfidence: number;
  steadySaid: boolean;
  /** Borders of sections: said, true, and true ones met. */
  borders: { said: number; there: number; met: number };
  endingRight: boolean;
}

/** MIREX key score: same 1, fifth 0.5, relative 0.3, parallel 0.2. */
export function mirex(found: string | null, truth: string): number {
  if (found === truth) return 1;
  const a = found === null ? null : keyParts(found),
    b = keyParts(truth);
  if (!a || !b) return 0;
  const interval = (a.tonic - b.tonic + 12) % 12;
  if (a.mode === b.mode && (interval === 7 || interval === 5)) return 0.5;
  if (a.mode !== b.mode && fifthsApart(found!, truth) === 0) return 0.3;
  return a.mode !== b.mode && interval === 0 ? 0.2 : 0;
}

/** F-measure of beats with a window of ±70 ms (Davies, Degara & Plumbley 2009). */
export function beatFMeasure(found: number[], truth: number[]): number {
  let hits = 0,
    at = 0;
  for (const t of truth) {
    while (at < found.length && found[at]! < t - 0.07) at++;
    if (at < found.length && Math.abs(found[at]! - t) <= 0.07) {
      hits++;
      at++;
    }
  }
  return found.length + truth.length ? (2 * hits) / (found.length + truth.length) : 0;
}

/** Distance to the nearest of sorted times. */
export function nearest(times: number[], t: number): number {
  let low = 0,
    high = times.length - 1;
  while (low < high) {
    const mid = (low + high) >> 1;
    if (times[mid]! < t) low = mid + 1;
    else high = mid;
  }
  return Math.min(Math.abs(times[low]! - t), low > 0 ? Math.abs(times[low - 1]! - t) : Infinity);
}

/** Scores a result. */
export function score(truth: PieceTruth, result: AnalysisResult): Score {
  const { bpm, confidence, firstDownbeatSeconds } = result.tempo;
  const ratio = bpm === null || truth.bpm === null ? 0 : bpm / truth.bpm;
  const near = (m: number): boolean => Math.abs(ratio / m - 1) < 0.04;
  const beats = beatsOf(result);
  const inner = truth.beats.slice(0, -truth.beatsPerBar);
  const bar =
    firstDownbeatSeconds === null ? -1 : truth.beats.findIndex((x) => Math.abs(x - firstDownbeatSeconds) < 0.06);
  // A first bar that lies before the first true beat is counted on along the true period.
  const before =
    bar < 0 && truth.bpm !== null && firstDownbeatSeconds !== null && firstDownbeatSeconds < truth.beats[0]!
      ? Math.round(((truth.beats[0]! - firstDownbeatSeconds) * truth.bpm) / 60)
      : null;
  const tuningOff = Math.abs(result.key.tuningCents - truth.tuningCents);
  return {
    truth,
    bpm,
    key: result.key.key,
    within4: near(1),
    octave: [1, 2, 0.5, 3, 1 / 3].some(near),
    exact: bpm !== null && truth.bpm !== null && Math.abs(bpm - truth.bpm) <= 0.05,
    gridErrors: truth.bpm === null || beats.length === 0 ? [] : inner.map((t) => nearest(beats, t)),
    fMeasure: truth.bpm === null ? null : beatFMeasure(beats, truth.beats),
    downbeat:
      truth.bpm === null
        ? null
        : bar >= 0
          ? bar % truth.beatsPerBar === 0
          : before !== null && before % truth.beatsPerBar === 0,
    keyRight: result.key.key === truth.key,
    mirex: mirex(result.key.key, truth.key),
    tuningError: Math.min(tuningOff, 100 - tuningOff),
    tempoConfidence: confidence,
    keyConfidence: result.key.confidence,
    steadySaid: result.tempo.steady,
    borders: bordersMet(
      truth,
      result.sections.slice(1).map((s) => s.startSeconds),
    ),
    endingRight: result.edges.ending === (truth.fades ? 'fade' : 'hard'),
  };
}

/**
 * Borders of sections within a bar of the true ones. The middle of an intro or outro, where the composer lets bass and
 * chords come and go, counts neither for nor against.
 */
function bordersMet(truth: PieceTruth, said: number[]): Score['borders'] {
  const bar = (1.1 * truth.beatsPerBar * 60) / (truth.bpm ?? 60),
    near = (a: number, list: number[]): boolean => list.some((b) => Math.abs(a - b) < bar);
  const there = truth.sections.slice(1).map((s) => s.start);
  const open = truth.sections.flatMap((s, i) =>
    s.name === 'intro' || s.name === 'outro'
      ? [(s.start + (truth.sections[i + 1]?.start ?? truth.beats.at(-1) ?? s.start)) / 2]
      : [],
  );
  return {
    said: said.filter((t) => near(t, there) || !near(t, open)).length,
    there: there.length,
    met: there.filter((t) => near(t, said)).length,
  };
}

const ms = (errors: number[], p: number): string =>
  errors.length ? `${(1000 * percentile(errors, p)).toFixed(1)} ms` : '–';
const mean = (values: number[]): string =>
  values.length ? (values.reduce((a, b) => a + b, 0) / values.length).toFixed(2) : '–';

function line(name: string, set: Score[]): (string | number)[] {
  const steady = set.filter((s) => s.truth.bpm !== null && s.truth.steady);
  const drifting = set.filter((s) => s.truth.bpm !== null && !s.truth.steady);
  const errors = steady.filter((s) => s.within4).flatMap((s) => s.gridErrors);
  const share = (of: Score[], right: (s: Score) => boolean): string => percent(of.filter(right).length, of.length);
  const fourFour = set.filter((s) => s.truth.dance && s.truth.beatsPerBar === 4 && s.downbeat !== null);
  return [
    name,
    set.length,
    share(steady, (s) => s.within4),
    share(steady, (s) => s.octave),
    share(steady, (s) => s.exact),
    ms(errors, 0.5),
    ms(errors, 0.95),
    mean(drifting.flatMap((s) => s.fMeasure ?? [])),
    share(fourFour, (s) => s.downbeat === true),
    share(set, (s) => s.keyRight),
    mean(set.map((s) => s.mirex)),
  ];
}

const groups = <K extends string>(scores: Score[], of: (s: Score) => K): [K, Score[]][] =>
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

/** Prints everything that analysis.md asks for. */
export function report(scores: Score[]): void {
  const tuned = scores.filter((s) => !s.truth.heldBack),
    held = scores.filter((s) => s.truth.heldBack);
  const head = (first: string): string[] => [
    first,
    'pieces',
    'tempo ±4 %',
    'with ½ ⅓ ×2 ×3',
    '±0.05 BPM',
    'grid median',
    'grid 95 %',
    'drift F',
    'downbeat',
    'key',
    'MIREX',
  ];
  console.log(
    'Tempo and grid on steady pieces, F-measure on drifting ones, downbeat on dance music in 4/4, key on all\n',
  );
  table(head('set'), [
    line('all', scores),
    line(
      'all, dance',
      scores.filter((s) => s.truth.dance),
    ),
    line('held back', held),
    line(
      'held back, dance',
      held.filter((s) => s.truth.dance),
    ),
    line('tuned on', tuned),
    ...groups(scores, (s) => s.truth.source).map(([k, set]) => line(k, set)),
  ]);
  table(
    head('style'),
    groups(scores, (s) => s.truth.style).map(([k, set]) => line(k, set)),
  );
  const changes = [...new Set(scores.flatMap((s) => s.truth.changes))].sort();
  table(
    head('what happened to it'),
    changes.map((c) =>
      line(
        c,
        scores.filter((s) => s.truth.changes.includes(c)),
      ),
    ),
  );
  reliability(
    'tempo',
    scores
      .filter((s) => s.truth.bpm !== null && s.bpm !== null)
      .map((s) => ({ confidence: s.tempoConfidence, right: s.within4 })),
  );
  reliability(
    'key',
    scores.map((s) => ({ confidence: s.keyConfidence, right: s.keyRight })),
  );
  const pulseless = scores.filter((s) => s.truth.bpm === null);
  const tuning = scores.map((s) => s.tuningError);
  console.log(
    `tuning error: median ${percentile(tuning, 0.5).toFixed(1)} cents, 95 % ${percentile(tuning, 0.95).toFixed(1)} cents`,
  );
  console.log(
    `pieces without a pulse given no tempo, or one with under 0.5 confidence: ${pulseless.filter((s) => s.bpm === null || s.tempoConfidence < 0.5).length} of ${pulseless.length}`,
  );
  const steadies = scores.filter((s) => s.truth.bpm !== null && s.within4);
  console.log(
    `steady or drifting said rightly: ${percent(steadies.filter((s) => s.steadySaid === s.truth.steady).length, steadies.length)}\n`,
  );
  const sum = (of: (s: Score) => number): number => scores.reduce((total, s) => total + of(s), 0);
  console.log(
    `borders of sections within a bar: ${percent(
      sum((s) => s.borders.met),
      sum((s) => s.borders.there),
    )} found, ${percent(
      sum((s) => s.borders.met),
      sum((s) => s.borders.said),
    )} of those said are right`,
  );
  console.log(`fade or hard end said rightly: ${percent(scores.filter((s) => s.endingRight).length, scores.length)}\n`);
  const badness = (s: Score): number =>
    (s.truth.bpm !== null && s.truth.steady && !s.within4 ? 2 : 0) +
    (s.truth.bpm !== null && !s.truth.steady ? 1 - (s.fMeasure ?? 0) : 0) +
    (1 - s.mirex);
  const worst = [...scores].sort((a, b) => badness(b) - badness(a)).slice(0, 20);
  table(
    ['twenty worst', 'said', 'true', 'key said', 'key true', 'what happened to it'],
    worst.map((s) => [
      s.truth.name,
      s.bpm?.toFixed(2) ?? '–',
      s.truth.bpm?.toFixed(2) ?? '–',
      s.key ?? '–',
      s.truth.key,
      s.truth.changes.join(', '),
    ]),
  );
  const drifting = scores
    .filter((s) => s.truth.bpm !== null && !s.truth.steady)
    .sort((a, b) => a.fMeasure! - b.fMeasure!)
    .slice(0, 15);
  table(
    ['drifting, beats worst met', 'F', 'said', 'true', 'said to be steady', 'what happened to it'],
    drifting.map((s) => [
      s.truth.name,
      s.fMeasure!.toFixed(2),
      s.bpm?.toFixed(2) ?? '–',
      s.truth.bpm!.toFixed(2),
      s.steadySaid ? 'yes' : 'no',
      s.truth.changes.join(', '),
    ]),
  );
}
