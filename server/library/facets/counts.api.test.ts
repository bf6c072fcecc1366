/** Counts that are kept say what a count of everything says, whatever has changed. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Overview } from '@early-set/core/api/types';
import { seedMany } from '../../../demo/many.ts';
import { connect, type Database } from '../../db/database.ts';
import { migrate } from '../../db/migrate.ts';
import { defineModels } from '../../db/models.ts';
import { overview } from '../../dates/overview.ts';
import { testDatabase } from '../../testing/database.ts';
import { createCounts, type Counts } from './counts.ts';
import { facetsOf } from './facets.ts';

let made: Awaited<ReturnType<typeof testDatabase>>;
let database: Database;
let counts: Counts;
beforeAll(async () => {
  made = await testDatabase();
  database = await connect(made.url);
  await migrate(database);
  defineModels(database.sequelize);
  // The server that made the template may have counted already, where it took long to stop.
  await database.run('DELETE FROM counted_by');
  await seedMany(made.url, 300);
  counts = createCounts(database);
});
afterAll(async () => {
  await database.close();
  await made.drop();
});

const equal = async (): Promise<void> => {
  counts.changed();
  expect(await counts.ready()).toBe(true);
  const [counted, asked] = [await overview(database, counts), await overview(database)];
  // Sums of lengths depend on the order in which they are added.
  expect(counted.totalSeconds).toBeCloseTo(asked.totalSeconds, 3);
  const rest = (o: Overview) => ({ ...o, totalSeconds: 0 });
  expect(rest(counted)).toEqual(rest(asked));
  expect(await facetsOf(database, {}, counts)).toEqual(await facetsOf(database, {}));
  // A facet's own filter does not narrow it: the others are counted, it is taken.
  const filters = { genre: { field: 'genre', test: 'one of' as const, values: ['House'] } };
  expect(await facetsOf(database, filters, counts)).toEqual(await facetsOf(database, filters));
};

test('before they are made, all is counted by a query', async () => {
  expect(await counts.ready()).toBe(false);
  expect((await overview(database, counts)).tracks).toBe(300);
  await counts.refill();
  await equal();
});

const ids = fc.uniqueArray(fc.integer({ min: 1, max: 300 }), { minLength: 1, maxLength: 40 });
const changes = fc.oneof(
  fc.constantFrom('bpm = NULL', 'bpm = 122.5', 'bpm = 400', "key = 'A minor'", 'energy = 71', 'year = NULL'),
  fc.constantFrom(
    "genre = '{}'",
    'genre = NULL',
    "genre = '{House,House}'",
    `genre = ARRAY[repeat('long', 2000), ':a']`,
  ),
  fc.constantFrom("artist = '{Nobody Yet}'", "comment = ''", 'comment = NULL', 'hear_later = true', "moods = '{calm}'"),
  fc.constantFrom(
    "analysis_state = 'failed'",
    "file_state = 'missing'",
    "unwritten = '{title}'",
    'duration_seconds = 3.25',
  ),
);

test('after any changes, and after tracks have gone', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(ids, changes), { maxLength: 4 }),
      ids,
      fc.boolean(),
      async (all, gone, known) => {
        for (const [of, change] of all)
          await database.transaction(async (t) => {
            const field = change.split(' ')[0]!;
            const id = { hear_later: 'hearLater', analysis_state: 'analysisState', file_state: 'fileState' }[field];
            // What a draft says of the fields it changes; scans say nothing.
            const said = known ? (field === 'duration_seconds' ? 'durationSeconds' : (id ?? field)) : '';
            await database.run("SELECT set_config('early_set.fields', $1, true)", [said], t);
            await database.run(`UPDATE tracks SET ${change} WHERE id = ANY($1::int[])`, [of], t);
          });
        await database.run('DELETE FROM tracks WHERE id = ANY($1::int[])', [gone.slice(0, 3)]);
        await equal();
      },
    ),
    { numRuns: 40 },
  );
}, 120_000);

test('a change of very many, other rules and a crash: counted anew', async () => {
  await database.run('UPDATE tracks SET energy = 12');
  const few = createCounts(database, 50);
  expect(await few.ready()).toBe(false);
  expect((await facetsOf(database, {}, few)).histograms.energy.none).toBe(0);
  await few.refill();
  await equal();
  const gapRules = { floor: ['bpm'], playout: ['year'] };
  await database.run("INSERT INTO settings (name, value) VALUES ('desk', $1::jsonb)", [JSON.stringify({ gapRules })]);
  counts.changed();
  expect(await counts.ready()).toBe(false);
  await counts.refill();
  await equal();
  // As PostgreSQL leaves tables that are not logged.
  await database.run('TRUNCATE touched_tracks, touched_for_rules, counted_tracks, kept_counts, counted_by');
  // Also before anybody has noticed.
  expect(await facetsOf(database, {}, counts)).toEqual(await facetsOf(database, {}));
  expect((await overview(database, counts)).tracks).toBe((await overview(database)).tracks);
  counts.changed();
  expect(await counts.ready()).toBe(false);
  await counts.refill();
  await equal();
});
