/** 100 self-filling crates over 100,000 tracks (or BENCH_TRACKS): filled once, then kept filled after changes. */
import { randomUUID } from 'node:crypto';
import { allOf, type Condition } from '@early-set/core/conditions/condition';
import { writeRule, type Rule } from '@early-set/core/conditions/rule';
import { ALL_KEYS } from '@early-set/core/fields/keys';
import { seeded } from '@early-set/core/signal/random';
import { seedMany } from '../demo/many.ts';
import { connect } from '../server/db/database.ts';
import { migrate } from '../server/db/migrate.ts';
import { defineModels } from '../server/db/models.ts';
import { createCounts } from '../server/library/facets/counts.ts';
import { facetsOf } from '../server/library/facets/facets.ts';
import { overview } from '../server/dates/overview.ts';
import { createRuleMembers } from '../server/lists/ruleMembers.ts';
import { freshDatabase } from './database.ts';
import { percentile, table } from './table.ts';

const { url, drop } = await freshDatabase();
const database = await connect(url);
await migrate(database);
defineModels(database.sequelize);
const TRACKS = Number(process.env.BENCH_TRACKS ?? 100_000);
await seedMany(url, TRACKS);
await database.run('VACUUM ANALYZE');
const CRATES = 100;
const chance = seeded(12);
const pick = <T>(of: readonly T[]): T => of[Math.floor(chance() * of.length)]!;
const from = (low: number, high: number): number => Math.round(low + chance() * (high - low));
const genres = (
  await database.rows<{ genre: string }>('SELECT DISTINCT unnest(genre) AS genre FROM tracks ORDER BY 1')
).map((r) => r.genre);

/** Conditions of every sort, as people would join them. */
const SORTS: (() => Condition)[] = [
  () => ({ field: 'genre', test: 'one of', values: [pick(genres), pick(genres)] }),
  () => {
    const low = from(80, 140);
    return { field: 'bpm', test: 'between', low, high: low + 8 };
  },
  () => {
    const low = from(60, 90);
    return { field: 'bpm', test: 'tempo', low, high: low + 6 };
  },
  () => ({ field: 'key', test: 'near key', key: pick(ALL_KEYS), reach: 1 }),
  () => ({ field: 'energy', test: 'between', low: from(20, 80) }),
  () => ({ field: 'year', test: 'between', low: from(1995, 2022), high: 2026 }),
  () => ({ field: 'addedAt', test: 'in the last', days: from(1, 90) }),
  () => ({ not: { field: 'comment', test: 'empty' } }),
  () => ({ field: 'rating', test: 'one of', values: ['4', '5'] }),
  () => ({ test: 'words', text: pick(['lantern', 'rook', 'tide', 'harbour', 'kelp']) }),
];
const rules = Array.from({ length: CRATES }, (_, i): Rule => {
  const where = allOf(SORTS[i % SORTS.length]!(), pick(SORTS)(), ...(i % 3 === 0 ? [pick(SORTS)()] : []));
  return i % 10 === 9 ? { where, limit: { count: 50, by: 'addedAt', descending: true } } : { where };
});
const ids: string[] = [];
for (const [i, rule] of rules.entries()) {
  const id = randomUUID();
  ids.push(id);
  await database.run(
    `INSERT INTO lists (id, kind, name, parent_id, position, removed, rule, updated_at)
      VALUES ($1, 'crate', $2, NULL, $3, false, $4, now())`,
    [id, `Crate ${i}`, i, writeRule(rule)],
  );
}
const counts = createCounts(database);
const members = createRuleMembers(database, undefined, undefined, counts);
const timed = async (work: () => Promise<unknown>): Promise<number> => {
  const start = performance.now();
  await work();
  return performance.now() - start;
};
const first = await timed(() => members.fresh());
const counted = await timed(() => counts.refill());
const [filled] = await database.rows<{ crates: number; tracks: number }>(
  'SELECT count(*) FILTER (WHERE tracks > 0) AS crates, sum(tracks) AS tracks FROM rule_fillings',
);
await database.run('VACUUM ANALYZE');

const ROUNDS = 15;
/** Changes a field of the first so many tracks, as an edit does. */
const change = (count: number, field: 'genre' | 'comment', round: number): Promise<void> =>
  database.transaction(async (t) => {
    await database.run("SELECT set_config('early_set.fields', $1, true)", [field], t);
    await database.run(
      field === 'genre'
        ? 'UPDATE tracks SET genre = ARRAY[$1::text] WHERE id IN (SELECT id FROM tracks ORDER BY id OFFSET $3 LIMIT $2)'
        : 'UPDATE tracks SET comment = $1::text WHERE id IN (SELECT id FROM tracks ORDER BY id OFFSET $3 LIMIT $2)',
      [field === 'genre' ? genres[round % genres.length] : `note ${round}`, count, round * 200],
      t,
    );
  });
const rows: (string | number)[][] = [];
for (const [name, count, field] of [
  ['genre of one track', 1, 'genre'],
  ['genre of 100 tracks', 100, 'genre'],
  ['genre of 1,000 tracks', 1000, 'genre'],
  ['comment of 1,000 tracks', 1000, 'comment'],
  ['genre of 20,000 tracks', 20_000, 'genre'],
] as const) {
  const times: number[] = [],
    pictures: number[] = [],
    stages: number[] = [];
  for (let round = 0; round < (count > 1000 ? 5 : ROUNDS); round++) {
    await change(count, field, round);
    members.changed();
    times.push(await timed(() => members.fresh()));
    pictures.push(await timed(() => facetsOf(database, {}, counts)));
    stages.push(await timed(() => overview(database, counts)));
    await counts.refill();
  }
  const both = (of: number[]): string => `${percentile(of, 0.5).toFixed(0)}, ${Math.max(...of).toFixed(0)} ms`;
  rows.push([name, both(times), both(pictures), both(stages)]);
}
console.log(
  `${CRATES} self-filling crates over ${TRACKS.toLocaleString('en-GB')} tracks: filled for the first time in ` +
    `${(first / 1000).toFixed(1)} s; ${filled!.crates} hold something, ${Number(filled!.tracks).toLocaleString('en-GB')} ` +
    `places in all; pictures and stages counted for the first time in ${(counted / 1000).toFixed(1)} s\n`,
);
table(['median, longest after a change of', 'crates', 'pictures on the left', 'stages'], rows);
await database.close();
await drop();
