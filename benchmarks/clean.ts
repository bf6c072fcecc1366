/** Ten steps over 10,000 tracks in a web worker, each time in a browser that has just been started. */
import type { StepsTimes } from './clean/stepsWorker.ts';
import { inFreshBrowser } from './browser.ts';
import { table } from './table.ts';

const TIMES = 5;
const script = new URL('./stepsWorker.js', import.meta.url);

const all: StepsTimes[] = [];
for (let i = 0; i < TIMES; i++) all.push(await inFreshBrowser<StepsTimes>(script));
const sorted = (values: number[]): number[] => [...values].sort((a, b) => a - b);
const seconds = (ms: number): string => `${(ms / 1000).toFixed(2)} s`;
const [one] = all;
console.log(
  `Ten steps over 10,000 tracks, in ${TIMES} browsers one after the other: ` +
    `${one!.changed} changed, ${one!.questions} questions\n`,
);
table(
  ['in its worker', 'quickest', 'middle', 'slowest'],
  ['first run', 'second run', 'third run'].map((what, i) => {
    const of = sorted(all.map((a) => a.runs[i]!));
    return [what, seconds(of[0]!), seconds(of[Math.floor(TIMES / 2)]!), seconds(of.at(-1)!)];
  }),
);
console.log('Steps alone, the middle one of each\n');
table(
  ['step', 'time'],
  one!.steps.map(({ step }, i) => [
    step,
    `${sorted(all.map((a) => a.steps[i]!.ms))[Math.floor(TIMES / 2)]!.toFixed(0)} ms`,
  ]),
);
