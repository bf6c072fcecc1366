/**
 * How well tempo, grid, bars and key are found on music whose truth is known. Everything that is fitted is fitted anew
 * without the pieces it is measured on, in three ways: without a source, without a family of styles, without a fifth
 * of the pieces. So no figure is of a piece that was fitted on.
 */
import { seeded } from '@early-set/core/signal/random';
import type { AnalysisResult } from '@early-set/core/analysis/engine';
import { fitCalm, fitSureness, foldsBy, openFolds, withConfidence } from './fit/folds.ts';
import type { Unseen } from './fit/foldThread.ts';
import { allPieces, handOf, heardOf, keptFiles } from './material.ts';
import type { PieceTruth } from './pieces/produce.ts';
import { publishedProfile, strongestRepetition } from './references.ts';
import { report, type Split } from './report.ts';
import { score } from './score.ts';

/** Families of fewer pieces are left out together. */
const FEWEST = 60;
const FIFTHS = 5;

const cache = process.env.BENCH_CACHE!;
const pieces = await allPieces(cache);
const heard = await heardOf(pieces, cache);
const plain = heard.map((h) => ({ bpm: strongestRepetition(h), key: publishedProfile(h) }));
const pool = openFolds(pieces, heard, keptFiles(pieces, cache));
const random = seeded(5),
  fifths = pieces.map(() => String(1 + Math.floor(random() * FIFTHS)));

interface Case {
  at: number;
  truth: PieceTruth;
  unseen: Unseen;
}

async function split(kind: string, of: (piece: PieceTruth, i: number) => string, fewest?: number): Promise<Split> {
  const folds = await Promise.all(
    foldsBy(pieces, of, fewest).map(async ({ name, leftOut }) => {
      const { unseen } = await pool.without(leftOut);
      console.log(`measured without ${name}`);
      return { name, cases: leftOut.map((at, n): Case => ({ at, truth: pieces[at]!, unseen: unseen[n]! })) };
    }),
  );
  return {
    kind,
    leftOut: folds.map(({ name, cases }) => {
      // Confidences too are fitted on what is said of pieces that no fit was shown, those measured here left out.
      const others = folds.flatMap((fold) => (fold.name === name ? [] : fold.cases));
      const sure = fitSureness(others),
        calm = fitCalm(others);
      const scores = cases.map(({ at, truth, unseen }) => ({
        ...score(truth, resultOf(withConfidence(unseen, sure, calm))),
        plain: plain[at]!,
      }));
      return { name, scores };
    }),
  };
}

/** What is scored of a result. */
const resultOf = ({
  tempo,
  key,
  durationSeconds,
}: Unseen): Pick<AnalysisResult, 'tempo' | 'key' | 'durationSeconds'> => ({
  tempo,
  key,
  durationSeconds,
});

const splits = [
  await split('by source', handOf),
  await split('by style', (piece) => piece.family, FEWEST),
  await split('by piece', (_, i) => fifths[i]!),
];
await pool.close();
report(splits);
