/** A folder mirror over 10,000 tracks in 700 folders (or BENCH_TRACKS, BENCH_FOLDERS): made, and brought up to date. */
import { DEFAULT_MIRROR, type MirrorSettings } from '@early-set/core/arrange/mirror';
import { seedMany } from '../demo/many.ts';
import { connect } from '../server/db/database.ts';
import { migrate } from '../server/db/migrate.ts';
import { defineModels } from '../server/db/models.ts';
import { makeMirror, updateMirror } from '../server/lists/mirrors.ts';
import { createRuleMembers } from '../server/lists/ruleMembers.ts';
import { freshDatabase } from './database.ts';
import { percentile, table } from './table.ts';

const { url, drop } = await freshDatabase();
const database = await connect(url);
await migrate(database);
defineModels(database.sequelize);
const TRACKS = Number(process.env.BENCH_TRACKS ?? 10_000),
  FOLDERS = Number(process.env.BENCH_FOLDERS ?? 700);
await seedMany(url, TRACKS);
/** Folders in folders: 7 of them, 10 in each, 10 in each of these. */
const spread = (which: string): Promise<void> =>
  database.run(
    `UPDATE tracks SET path = 'Crates/' || (id % 7) || '/' || (id / 7 % 10) || '/' || ${which} || '/' || id || '.mp3'`,
  );
await spread(`(id % ${FOLDERS} / 70)`);
await database.run('VACUUM ANALYZE');
const [{ rootId, folders }] = (await database.rows<{ rootId: number; folders: number }>(
  'SELECT min(root_id) AS "rootId", count(DISTINCT folder) AS folders FROM tracks',
)) as [{ rootId: number; folders: number }];

const context = { database, workerId: 0 };
const members = createRuleMembers(database);
await members.fresh();
const ROUNDS = 5;
const times = new Map<string, { crates: number[]; tracks: number[] }>();
async function timed(what: string, work: () => Promise<unknown>): Promise<void> {
  const start = performance.now();
  await work();
  const crates = performance.now() - start;
  members.changed();
  await members.fresh();
  const row = times.get(what) ?? { crates: [], tracks: [] };
  row.crates.push(crates);
  row.tracks.push(performance.now() - start);
  times.set(what, row);
}

const settings: MirrorSettings = { ...DEFAULT_MIRROR, rootId, path: 'Crates', onlyWithTracks: false, gone: 'remove' };
for (let round = 0; round < ROUNDS; round++) {
  let listId = '';
  await timed('made', async () => {
    listId = (await makeMirror(context, { name: `Mirror ${round}`, parentId: null, settings })).listId;
  });
  await timed('nothing has changed', () => updateMirror(context, listId));
  // Files of ten folders are somewhere else, as after a rename.
  await database.run("UPDATE tracks SET path = replace(path, 'Crates/3/', $1) WHERE path LIKE 'Crates/3/_/%'", [
    `Crates/3 (${round})/`,
  ]);
  await timed('a folder of 100 renamed', () => updateMirror(context, listId));
  await database.run("UPDATE tracks SET path = replace(path, $1, 'Crates/3/') WHERE path LIKE 'Crates/3 (%'", [
    `Crates/3 (${round})/`,
  ]);
  await timed('named back', () => updateMirror(context, listId));
  await database.run('DELETE FROM lists');
  await members.fresh();
}
console.log(`${TRACKS.toLocaleString('en-GB')} tracks in ${folders} folders, ${ROUNDS} rounds; goal: under 3 s\n`);
table(
  ['', 'crates, median', 'with their tracks, median', 'slowest'],
  [...times].map(([what, { crates, tracks }]) => [
    what,
    `${Math.round(percentile(crates, 0.5))} ms`,
    `${Math.round(percentile(tracks, 0.5))} ms`,
    `${Math.round(Math.max(...tracks))} ms`,
  ]),
);
await database.close();
await drop();
