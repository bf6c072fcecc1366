/**
 * Tracks taken out of the library: every row about them is kept aside as it is, so that they come back whole. Their
 * files stay where they are and are remembered as left out on purpose, so that the next scan does not take them in
 * again.
 */
import type { Transaction } from 'sequelize';
import type { Database } from '../db/database.ts';

/** Tables with rows about a track, in the order in which they can be put back. */
const TABLES = [
  'tracks',
  'track_origins',
  'analyses',
  'file_tags',
  'track_files',
  'list_entries',
  'taken_tracks',
] as const;
const ownColumn = (table: string): string => (table === 'tracks' ? 'id' : 'track_id');

export const LEFT_OUT = 'left-out';

/** Columns that can be written: those that the database works out are left to it. */
async function columnsOf(database: Database, table: string, t: Transaction): Promise<string[]> {
  const rows = await database.rows<{ name: string }>(
    `SELECT column_name AS name FROM information_schema.columns WHERE table_schema = 'public' AND table_name = $1
      AND is_generated = 'NEVER' ORDER BY ordinal_position`,
    [table],
    t,
  );
  return rows.map((r) => r.name);
}

async function keepRows(database: Database, trackIds: readonly number[], t: Transaction): Promise<void> {
  const parts = TABLES.map(
    (table) =>
      `'${table}', (SELECT COALESCE(jsonb_agg(to_jsonb(x)), '[]') FROM ${table} x WHERE x.${ownColumn(table)} = t.id)`,
  );
  await database.run(
    `INSERT INTO removed_tracks (track_id, kept) SELECT t.id, jsonb_build_object(${parts.join(', ')}) FROM tracks t
      WHERE t.id = ANY($1::int[])
     ON CONFLICT (track_id) DO UPDATE SET kept = excluded.kept, removed_at = now()`,
    [[...trackIds]],
    t,
  );
}

async function rowsBack(
  database: Database,
  trackIds: readonly number[],
  tables: readonly string[],
  t: Transaction,
): Promise<void> {
  for (const table of tables) {
    const columns = (await columnsOf(database, table, t)).join(', ');
    await database.run(
      `INSERT INTO ${table} (${columns}) ${table === 'tracks' ? 'OVERRIDING SYSTEM VALUE' : ''}
       SELECT ${columns.replaceAll(/(\w+)/g, 'x.$1')}
         FROM removed_tracks k, jsonb_populate_recordset(NULL::${table}, k.kept->'${table}') x
       WHERE k.track_id = ANY($1::int[]) ON CONFLICT DO NOTHING`,
      [[...trackIds]],
      t,
    );
  }
}

const forget = (database: Database, trackIds: readonly number[], t: Transaction): Promise<void> =>
  database.run('DELETE FROM removed_tracks WHERE track_id = ANY($1::int[])', [[...trackIds]], t);

/** Entries of lists that have gone meanwhile stay gone; returns the lists of the others. */
async function entriesOfLivingLists(
  database: Database,
  trackIds: readonly number[],
  t: Transaction,
): Promise<string[]> {
  await database.run(
    `UPDATE removed_tracks SET kept = jsonb_set(kept, '{list_entries}', COALESCE((SELECT jsonb_agg(e)
      FROM jsonb_array_elements(kept->'list_entries') e WHERE EXISTS (SELECT 1 FROM lists l
      WHERE l.id = (e->>'list_id')::uuid)), '[]')) WHERE track_id = ANY($1::int[])`,
    [[...trackIds]],
    t,
  );
  const lists = await database.rows<{ id: string }>(
    `SELECT DISTINCT e->>'list_id' AS id FROM removed_tracks k, jsonb_array_elements(k.kept->'list_entries') e
      WHERE k.track_id = ANY($1::int[])`,
    [[...trackIds]],
    t,
  );
  return lists.map((l) => l.id);
}

const dropTracks = async (database: Database, trackIds: readonly number[], t: Transaction): Promise<void> => {
  await database.run('DELETE FROM list_entries WHERE track_id = ANY($1::int[])', [[...trackIds]], t);
  await database.run('DELETE FROM tracks WHERE id = ANY($1::int[])', [[...trackIds]], t);
};

/** Takes tracks out. */
export async function keepAside(database: Database, trackIds: readonly number[], t: Transaction): Promise<void> {
  if (trackIds.length === 0) return;
  await keepRows(database, trackIds, t);
  await database.run(
    `INSERT INTO not_taken (root_id, path, code, reason, file_size, file_modified_ms)
     SELECT root_id, path, '${LEFT_OUT}', 'Taken out of the library', size, modified_ms FROM track_files
       WHERE track_id = ANY($1::int[]) AND state <> 'retired'
     ON CONFLICT (root_id, path) DO UPDATE SET code = excluded.code, reason = excluded.reason`,
    [[...trackIds]],
    t,
  );
  await dropTracks(database, trackIds, t);
}

/** Brings tracks back with all that was kept. */
export async function putBack(database: Database, trackIds: readonly number[], t: Transaction): Promise<void> {
  if (trackIds.length === 0) return;
  const lists = await entriesOfLivingLists(database, trackIds, t);
  await rowsBack(database, trackIds, TABLES, t);
  await forget(database, trackIds, t);
  await database.run(
    `DELETE FROM not_taken n USING track_files f WHERE f.root_id = n.root_id AND f.path = n.path
      AND n.code = '${LEFT_OUT}' AND f.track_id = ANY($1::int[])`,
    [[...trackIds]],
    t,
  );
  await numberEntries(database, lists, t);
}

/** Positions of entries without holes, in their order. */
const numberEntries = (database: Database, listIds: readonly string[], t: Transaction): Promise<void> =>
  database.run(
    `UPDATE list_entries e SET position = n.place FROM (SELECT id, row_number() OVER (PARTITION BY list_id
      ORDER BY position, id) - 1 AS place FROM list_entries WHERE list_id = ANY($1::uuid[])) n
     WHERE n.id = e.id AND e.position <> n.place`,
    [[...listIds]],
    t,
  );

/** Makes two tracks one: entries of the other stand for the first, its files are copies of the first's. */
export async function mergeInto(database: Database, trackId: number, otherId: number, t: Transaction): Promise<void> {
  await keepRows(database, [otherId], t);
  // A crate holds a track once.
  await database.run(
    `DELETE FROM list_entries e USING lists l WHERE l.id = e.list_id AND l.kind = 'crate' AND e.track_id = $2
      AND EXISTS (SELECT 1 FROM list_entries x WHERE x.list_id = e.list_id AND x.track_id = $1)`,
    [trackId, otherId],
    t,
  );
  for (const table of ['list_entries', 'taken_tracks'])
    await database.run(`UPDATE ${table} SET track_id = $1 WHERE track_id = $2`, [trackId, otherId], t);
  await database.run(
    `UPDATE track_files SET track_id = $1, role = CASE WHEN role = 'main' THEN 'copy' ELSE role END
      WHERE track_id = $2`,
    [trackId, otherId],
    t,
  );
  await dropTracks(database, [otherId], t);
}

/** Makes them two again, as they were. */
export async function splitFrom(database: Database, _trackId: number, otherId: number, t: Transaction): Promise<void> {
  const lists = await entriesOfLivingLists(database, [otherId], t);
  await rowsBack(database, [otherId], ['tracks', 'track_origins', 'analyses', 'file_tags'], t);
  await database.run(
    `UPDATE track_files f SET track_id = $1, role = x.role
      FROM removed_tracks k, jsonb_populate_recordset(NULL::track_files, k.kept->'track_files') x
     WHERE k.track_id = $1 AND x.id = f.id`,
    [otherId],
    t,
  );
  await database.run(
    `UPDATE list_entries e SET track_id = $1
      FROM removed_tracks k, jsonb_populate_recordset(NULL::list_entries, k.kept->'list_entries') x
     WHERE k.track_id = $1 AND x.id = e.id`,
    [otherId],
    t,
  );
  await rowsBack(database, [otherId], ['list_entries'], t);
  await forget(database, [otherId], t);
  await numberEntries(database, lists, t);
}
