/** The sheet with 100,000 tracks (or BENCH_TRACKS), at the server's side. */
import { allOf, EVERYTHING, type Condition } from '@early-set/core/conditions/condition';
import { seedMany } from '../demo/many.ts';
import { connect } from '../server/db/database.ts';
import { migrate } from '../server/db/migrate.ts';
import { defineModels } from '../server/db/models.ts';
import { facetsOf } from '../server/library/facets/facets.ts';
import { overview } from '../server/dates/overview.ts';
import { selectedIds, sheetPage } from '../server/library/sheet.ts';
import { percentile, table } from './table.ts';
import { freshDatabase } from './database.ts';

const { url, drop } = await freshDatabase();
const database = await connect(url);
await migrate(database);
defineModels(database.sequelize);
const TRACKS = Number(process.env.BENCH_TRACKS ?? 100_000);
await seedMany(url, TRACKS);
await database.run('VACUUM ANALYZE'); // PostgreSQL does it by itself within minutes; no run should depend on when
const house: Condition = { field: 'genre', test: 'one of', values: ['House'] };
const tempo: Condition = { field: 'bpm', test: 'between', low: 118, high: 126 };
const words: Condition = { test: 'words', text: 'lantern rook' };
const page =
  (where: Condition, sort: string | null, descending = false, offset = 0, fitTo: number | null = null) =>
  () =>
    sheetPage(database, { where, sort, descending, offset, limit: 150, fitTo });
const cases: [string, () => Promise<unknown>][] = [
  ['first page', page(EVERYTHING, null)],
  ['sorted by title', page(EVERYTHING, 'title')],
  ['sorted by artist, descending', page(EVERYTHING, 'artist', true)],
  ['sorted by BPM, descending', page(EVERYTHING, 'bpm', true)],
  ['sorted by comment (no index)', page(EVERYTHING, 'comment')],
  ['house, 118 to 126', page(allOf(house, tempo), 'bpm')],
  ['find two words', page(words, 'title')],
  ['find one letter', page({ test: 'words', text: 'e' }, 'title')],
  ['page in the middle, by title', page(EVERYTHING, 'title', false, TRACKS / 2)],
  ['last page, by title', page(EVERYTHING, 'title', false, TRACKS - 150)],
  ['fit to a track, best first', page(EVERYTHING, 'fit', true, 0, TRACKS / 20)],
  ['pictures on the left, no filter', () => facetsOf(database, {})],
  ['pictures, house, 118 to 126', () => facetsOf(database, { genre: house, tempo })],
  ['counts of the stages', () => overview(database)],
  ['ids of everything', () => selectedIds(database, { where: EVERYTHING, except: [] })],
];
const rows: (string | number)[][] = [];
for (const [name, run] of cases) {
  for (let i = 0; i < 3; i++) await run();
  const times: number[] = [];
  for (let i = 0; i < 25; i++) {
    const start = performance.now();
    await run();
    times.push(performance.now() - start);
  }
  rows.push([name, `${percentile(times, 0.5).toFixed(0)} ms`, `${percentile(times, 0.95).toFixed(0)} ms`]);
}
console.log(`${TRACKS.toLocaleString('en-GB')} tracks, warm, 25 runs each\n`);
table(['question', 'p50', 'p95'], rows);
await database.close();
await drop();
