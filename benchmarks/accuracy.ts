/** How well tempo, grid, downbeat and key are found on music whose truth is known, from two sources of sound. */
import { pathToFileURL } from 'node:url';
import { createAnalysisPool } from '../server/media/analysisPool.ts';
import { makePieces } from './pieces/make.ts';
import { BENCH_PLAN } from './pieces/plan.ts';
import { report, score } from './score.ts';

const pieces = await makePieces(process.env.BENCH_CACHE!, BENCH_PLAN);
const pool = createAnalysisPool(pathToFileURL(process.env.BENCH_THREAD!));
const scores = await Promise.all(
  pieces.map(async (truth) => {
    const answer = await pool.analyse(truth.file);
    if (!answer.ok) throw new Error(`${truth.name}: ${answer.reason}`);
    return score(truth, answer.analysed.result);
  }),
);
await pool.close();
report(scores);
