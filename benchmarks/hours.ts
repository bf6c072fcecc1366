/** Hours of radio: how many land, what rules are kept, and how long filling takes, beside a plain greedy fill. */
import { airable, aliasNames, type Airable } from '@early-set/core/hours/airing';
import type { FormatClock } from '@early-set/core/hours/clock';
import { fillHours, judgeHours } from '@early-set/core/hours/day';
import type { FilledHour } from '@early-set/core/hours/fill';
import { madeUpTracks } from '@early-set/core/hours/madeUp';
import { greedyHours } from './hours/greedy.ts';
import { percent, table } from './table.ts';

const hard = { hard: true, weight: 10 },
  wished = { hard: false, weight: 10 };
const CLOCK: FormatClock = {
  name: 'Evening hour',
  seconds: 3600,
  items: [
    { item: 'spoken', name: 'News', seconds: 120, fixed: { at: 0, when: 'exact' } },
    { item: 'link', name: 'Good evening', seconds: 45, overIntro: 10 },
    { item: 'track', name: 'Opener', energy: 70, bpm: 118 },
    { item: 'track', name: 'Second', energy: 60 },
    { item: 'jingle', name: 'Sting', seconds: 8 },
    { item: 'filler', name: 'Filler', most: 10 },
    { item: 'link', name: 'Ferry times', seconds: 60 },
    { item: 'track', name: 'Before the headlines', energy: 40 },
    { item: 'spoken', name: 'Headlines', seconds: 60, fixed: { at: 1800, when: 'exact' } },
    { item: 'track', name: 'Quiet', energy: 30 },
    { item: 'filler', name: 'Filler', most: 10 },
    { item: 'link', name: 'Good night', seconds: 30 },
    { item: 'filler', name: 'Last', most: 10 },
  ],
  rules: [
    { ...hard, rule: 'apart', what: 'artist', minutes: 90 },
    { ...hard, rule: 'apart', what: 'title', minutes: 180 },
    { ...hard, rule: 'rested', days: 1 },
    { ...hard, rule: 'new', days: 60, count: 1 },
    { ...wished, rule: 'in a row', what: 'genre', most: 2 },
    { ...wished, rule: 'in a row', what: 'tempo', most: 3 },
    { ...wished, rule: 'instrumental before link' },
    { ...wished, rule: 'intro for link' },
    { ...wished, rule: 'cold end before soft start' },
    { ...wished, rule: 'loudness step', most: 4 },
  ],
};

const FROM = new Date(2026, 11, 1).getTime() / 1000;
const sizes = (process.env.BENCH_LIBRARIES ?? '200,1000,5000,50000').split(',').map(Number);
const WEEK = Number(process.env.BENCH_WEEK ?? 168);

const library = (count: number): Airable[] =>
  madeUpTracks(count, 13, FROM * 1000).flatMap((values, id) => airable(id, values, aliasNames()) ?? []);

interface Figures {
  landed: number;
  exact: number;
  exacts: number;
  hard: [kept: number, of: number];
  wished: [kept: number, of: number];
  open: number;
}

function figuresOf(hours: readonly number[], filled: readonly FilledHour[]): Figures {
  const sum: Figures = { landed: 0, exact: 0, exacts: 0, hard: [0, 0], wished: [0, 0], open: 0 };
  const judged = judgeHours(hours, () => CLOCK, filled);
  for (const [i, { items, landings }] of filled.entries()) {
    if (Math.abs(landings.at(-1)!.off) <= 1) sum.landed++;
    for (const { off } of landings.slice(0, -1)) {
      sum.exacts++;
      if (Math.abs(off) <= 1) sum.exact++;
    }
    for (const { rule, state } of judged[i]!) {
      const of = rule.hard ? sum.hard : sum.wished;
      of[1]++;
      if (state !== 'broken') of[0]++;
    }
    sum.open += items.filter((item) => item.kind === 'open').length;
  }
  return sum;
}

const rows: (string | number)[][] = [];
for (const size of sizes)
  for (const [length, count] of [
    ['a day', 24],
    ['a week', WEEK],
  ] as const) {
    const tracks = library(size);
    const hours = Array.from({ length: count }, (_, i) => FROM + i * 3600);
    for (const [how, fill] of [
      ['filled', () => fillHours({ hours, clockOf: () => CLOCK, tracks })],
      ['greedy', () => greedyHours(hours, CLOCK, tracks)],
    ] as const) {
      const start = performance.now();
      const filled = fill();
      const ms = performance.now() - start;
      const f = figuresOf(hours, filled);
      rows.push([
        `${size.toLocaleString('en-GB')}, ${length}, ${how}`,
        percent(f.landed, count),
        percent(f.exact, f.exacts),
        percent(...f.hard),
        percent(...f.wished),
        f.open,
        `${(ms / 1000).toFixed(1)} s`,
      ]);
    }
  }
console.log('Hours from made-up libraries, on one core; landed and met: within 1 s\n');
table(
  ['tracks', 'hours landed', 'fixed times met', 'hard rules kept', 'wished rules kept', 'open places', 'time'],
  rows,
);
