/**
 * How well tempo, grid, bars and key are found on music whose truth is known. Everything that is fitted is fitted anew
 * without the pieces it is measured on, in three ways: without a source, without a family of styles, without a fifth
 * of the pieces. So no figure is of a piece that was fitted on. Without a source, excerpts of its pieces are heard too.
 */
import { seeded } from '@early-set/core/signal/random';
import type { AnalysisResult } from '@early-set/core/analysis/engine';
import { excerptsOf } from './excerpts.ts';
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
const whole = await allPieces(cache);
const pieces = [...whole, ...excerptsOf(whole)];
const isWhole = (i: number): boolean => i < whole.length;
const heard = await heardOf(pieces, cache);
const plain = heard.map((h) => ({ bpm: strongestRepetition(h), key: publishedProfile(h) }));
const pool = openFolds(pieces, heard, keptFiles(pieces, cache));
const random = seeded(5),
  fifths = whole.map(() => String(1 + Math.floor(random() * FIFTHS)));

interface Case {
  at: number;
  truth: PieceTruth;
  unseen: Unseen;
}

interface Measured {
  name: string;
  cases: Case[];
}

/** Everything is fitted without a group of pieces and their excerpts; of these some are heard. */
async function measured(
  of: (piece: PieceTruth, i: number) => string,
  { fewest, heard }: { fewest?: number; heard: (i: number) => boolean },
): Promise<Measured[]> {
  return Promise.all(
    foldsBy(whole, of, fewest).map(async ({ name, leftOut }) => {
      const both = leftOut.concat(leftOut.map((i) => i + whole.length)),
        hear = both.filter(heard);
      const { unseen } = await pool.without({ leftOut: both, hear });
      console.log(`measured without ${name}`);
      return { name, cases: hear.map((at, n): Case => ({ at, truth: pieces[at]!, unseen: unseen[n]! })) };
    }),
  );
}

function scored(kind: string, folds: readonly Measured[], wanted: (i: number) => boolean): Split {
  return {
    kind,
    leftOut: folds.map(({ name, cases }) => {
      // Confidences too are fitted on what is said of pieces that no fit was shown, those measured here left out.
      const others = folds.flatMap((fold) => (fold.name === name ? [] : fold.cases));
      const sure = fitSureness(others),
        calm = fitCalm(others);
      const scores = cases
        .filter(({ at }) => wanted(at))
        .map(({ at, truth, unseen }) => ({
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

const bySource = await measured(handOf, { heard: () => true });
const byStyle = await measured((piece) => piece.family, { fewest: FEWEST, heard: isWhole });
const byPiece = await measured((_, i) => fifths[i]!, { heard: isWhole });
await pool.close();
report([
  scored('by source', bySource, isWhole),
  scored('by style', byStyle, isWhole),
  scored('by piece', byPiece, isWhole),
  scored('excerpts, by source', bySource, (i) => !isWhole(i)),
]);
