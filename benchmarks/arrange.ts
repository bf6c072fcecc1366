/** Ordering: against the exact best order of a few entries, and how long it takes in a browser's worker. */
import { costTable, tableCost } from '@early-set/core/arrange/order';
import { MAX_EXACT, smooth } from '@early-set/core/arrange/smooth';
import { problem } from './arrange/sets.ts';
import type { SmoothTime } from './arrange/smoothWorker.ts';
import { inFreshBrowser } from './browser.ts';
import { percent, percentile, table } from './table.ts';

const PROBLEMS = 200;
const FEWEST = 6;

const over: number[] = [];
for (let seed = 0; seed < PROBLEMS; seed++) {
  const { entries, wish, pinned } = problem(seed, FEWEST + (seed % (MAX_EXACT - FEWEST + 1)));
  const costs = costTable(entries, wish);
  const [best, found] = [true, false].map((exact) => tableCost(costs, smooth(costs, { pinned, exact })));
  over.push(best! > 0 ? found! / best! - 1 : 0);
}
const within = (share: number): string => percent(over.filter((o) => o <= share + 1e-9).length, PROBLEMS);
console.log(
  `Annealing against the exact best order, ${PROBLEMS} sets of ${FEWEST} to ${MAX_EXACT} entries, half with pins ` +
    '(the application takes the exact one up to there)\n',
);
table(
  ['the best itself', 'within 1 %', 'worst'],
  [[within(0), within(0.01), `+${(100 * Math.max(...over)).toFixed(2)} %`]],
);

const times = await inFreshBrowser<SmoothTime[]>(new URL('./smoothWorker.js', import.meta.url));
console.log("Smoothing the order in a browser's worker, 5 sets each\n");
table(
  ['entries', 'middle', 'slowest', 'cost of the given order', 'found'],
  [...new Set(times.map((t) => t.entries))].map((entries) => {
    const of = times.filter((t) => t.entries === entries);
    const mean = (what: 'given' | 'found'): string => (of.reduce((sum, t) => sum + t[what], 0) / of.length).toFixed(0);
    const ms = of.map((t) => t.ms);
    const seconds = (p: number): string => `${(percentile(ms, p) / 1000).toFixed(2)} s`;
    return [entries, seconds(0.5), seconds(1), mean('given'), mean('found')];
  }),
);
