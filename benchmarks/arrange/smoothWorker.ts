/** Puts sets of several lengths in order in a worker, and says how long each took. */
import { costTable, tableCost } from '@early-set/core/arrange/order';
import { smooth } from '@early-set/core/arrange/smooth';
import { problem } from './sets.ts';

export interface SmoothTime {
  entries: number;
  ms: number;
  given: number;
  found: number;
}
const LENGTHS = [12, 60, 200, 500];
const SETS = 5;

self.onmessage = () => {
  const times: SmoothTime[] = [];
  for (const entries of LENGTHS)
    for (let i = 0; i < SETS; i++) {
      const { entries: set, wish, pinned } = problem(1000 * entries + i, entries);
      const began = performance.now();
      const table = costTable(set, wish);
      const order = smooth(table, { pinned });
      const ms = performance.now() - began;
      const given = set.map((_, at) => at);
      times.push({ entries, ms, given: tableCost(table, given), found: tableCost(table, order) });
    }
  self.postMessage(times);
};
