/** How well sections and endings are found on the composer's pieces; nothing of it is fitted. */
import { pathToFileURL } from 'node:url';
import { createAnalysisPool } from '../server/media/analysisPool.ts';
import { makePieces } from './makePieces.ts';
import { BENCH_PLAN } from './pieces/plan.ts';
import { formScore } from './formScore.ts';
import { percent, table } from './table.ts';

const pieces = await makePieces(process.env.BENCH_CACHE!, BENCH_PLAN);
const pool = createAnalysisPool(pathToFileURL(process.env.BENCH_THREAD!));
const scores = await Promise.all(
  pieces.map(async (truth) => {
    const answer = await pool.analyse(truth.file);
    if (!answer.ok) throw new Error(`${truth.name}: ${answer.reason}`);
    return formScore(truth, answer.analysed.result);
  }),
);
await pool.close();
const sum = (of: (s: (typeof scores)[number]) => number): number => scores.reduce((total, s) => total + of(s), 0);
const met = sum((s) => s.met);
table(
  ['pieces', 'borders found within a bar', 'of those said, right', 'fade or hard end said rightly'],
  [
    [
      scores.length,
      percent(
        met,
        sum((s) => s.there),
      ),
      percent(
        met,
        sum((s) => s.said),
      ),
      percent(scores.filter((s) => s.endingRight).length, scores.length),
    ],
  ],
);
