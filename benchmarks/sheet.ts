/**
 * The sheet with 30,000, 100,000 and 300,000 tracks (or BENCH_TRACKS, with commas): a desk in a process of its own,
 * asked over HTTP as its page asks, and its page in a browser.
 */
import { percentile, table } from './table.ts';
import { lookedAt } from './sheet/page.ts';
import { changeMany, edits, readingQuestions } from './sheet/questions.ts';
import { runningDesk } from './sheet/running.ts';

const SIZES = (process.env.BENCH_TRACKS ?? '30000,100000,300000').split(',').map(Number);
const LISTS = 200,
  TIMES = 25;
/** What the tables say, by question and size; p50 and p95 in ms. */
const asked = new Map<string, [number, number][]>();
const once = new Map<string, string[]>();

const keep = <T>(map: Map<string, T[]>, name: string, value: T): void =>
  void map.set(name, [...(map.get(name) ?? []), value]);
const note = (name: string, times: number[]): void =>
  keep(asked, name, [percentile(times, 0.5), percentile(times, 0.95)]);
const seconds = (ms: number): string => `${(ms / 1000).toFixed(1)} s`;

for (const tracks of SIZES) {
  const desk = await runningDesk(tracks, LISTS);
  try {
    for (const [name, ask] of readingQuestions(desk, tracks)) {
      for (let i = 0; i < 3; i++) await ask();
      const times: number[] = [];
      for (let i = 0; i < TIMES; i++) {
        const start = performance.now();
        await ask();
        times.push(performance.now() - start);
      }
      note(name, times);
    }
    await edits(desk, 3);
    const { edit, pictures } = await edits(desk, 2 * TIMES);
    note('one edit, in the library', edit);
    note('pictures, no filter, right after it', pictures);
    // Without a page there is only the server to ask.
    const seen = process.env.BENCH_WEB ? await lookedAt(desk.address) : null;
    if (seen) note('rows after a jump of the scroll bar', seen.jumps);
    const many = await changeMany(desk);
    keep(once, 'a value on 10,000 tracks', seconds(many.change));
    keep(once, 'pictures right after it', `${many.pictures.toFixed(0)} ms`);
    keep(once, 'taking it back', seconds(many.undo));
    keep(once, 'server, at most', `${desk.mostMemory().toFixed(0)} MB`);
    if (seen) keep(once, 'page, after scrolling through all', `${seen.memory.toFixed(0)} MB`);
  } finally {
    await desk.stop();
  }
}
const heads = SIZES.map((n) => n.toLocaleString('en-GB'));
const growth = SIZES.length > 1;
console.log(`${heads.join(', ')} tracks, warm, ${TIMES} runs each; ms, middle / 95 %\n`);
table(
  ['question', ...heads, ...(growth ? ['grows'] : [])],
  [...asked].map(([name, values]) => [
    name,
    ...values.map(([half, most]) => `${half.toFixed(0)} / ${most.toFixed(0)}`),
    ...(growth ? [`${(values.at(-1)![0] / values[0]![0]).toFixed(1)}×`] : []),
  ]),
);
table(
  ['', ...heads],
  [...once].map(([name, values]) => [name, ...values]),
);
