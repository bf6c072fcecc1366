/**
 * The role as which workers on other computers reach the database. It may do what measuring needs: read tracks and
 * where they lie, take measuring jobs and no others, store what was measured. It makes and removes nothing, and changes
 * no other value of a track.
 */
import type { Transaction } from 'sequelize';
import { fieldsOfParts } from '@early-set/core/analysis/measuredFields';
import { PARTS } from '@early-set/core/analysis/parts';
import type { Database } from '../db/database.ts';
import { nameIn, quoted } from '../db/dumps.ts';
import { assignmentsFor } from '../library/columns.ts';

export const WORKER_ROLE = 'early_set_worker';

/** Columns of tracks that measuring fills. */
const MEASURED_COLUMNS = [
  ...assignmentsFor(Object.fromEntries([...fieldsOfParts(PARTS), 'durationSeconds'].map((id) => [id, null])), {}).map(
    ({ column }) => column,
  ),
  ...['analysis_state', 'analysis_reason', 'analysis_engine'],
];

/** What it may do with which table of the library. */
const GRANTS: readonly [what: string, table: string][] = [
  ...['migrations', 'roots', 'tracks', 'track_files', 'track_origins', 'analyses', 'runs', 'run_tracks', 'workers'].map(
    (table): [string, string] => ['SELECT', table],
  ),
  [`UPDATE (${MEASURED_COLUMNS.join(', ')})`, 'tracks'],
  ['UPDATE (audio_hash)', 'track_files'],
  ['INSERT, UPDATE', 'track_origins'],
  ['INSERT, UPDATE', 'analyses'],
  ['UPDATE (state, reason)', 'run_tracks'],
  ['UPDATE (done, failed, total, current, state, finished_at)', 'runs'],
  ['INSERT, UPDATE, DELETE', 'workers'],
  // By the trigger that notes which tracks changed.
  ['INSERT', 'touched_tracks'],
];

/** Tables of the queue. They show each role only what a policy lets it see (graphile-worker turns that on). */
const QUEUE_GRANTS: readonly [what: string, table: string][] = [
  ['SELECT', 'migrations'],
  ['SELECT, INSERT', '_private_tasks'],
  ['SELECT, INSERT, UPDATE, DELETE', '_private_jobs'],
  // Named by the statements that take and add jobs. No policy: it sees none and adds none, as measuring needs none.
  ['SELECT, INSERT, UPDATE', '_private_job_queues'],
  ['SELECT', '_private_known_crontabs'],
];

/** Not for a role by its name: a backup is restored where that may not exist. Who has no grant sees nothing anyway. */
const POLICIES: readonly [table: string, which: string][] = [
  ['_private_tasks', `identifier = 'analyse'`],
  ['_private_jobs', `task_id = (SELECT id FROM graphile_worker._private_tasks WHERE identifier = 'analyse')`],
];

/** Makes the role what it is to be, in this database. */
export async function allowWorkers(database: Database, password: string): Promise<void> {
  const say = async (statement: string, t: Transaction): Promise<void> => database.run(statement, [], t);
  await database.transaction(async (t) => {
    const [role] = await database.rows<{ there: boolean; literal: string }>(
      'SELECT EXISTS (SELECT 1 FROM pg_roles WHERE rolname = $1) AS there, quote_literal($2) AS literal',
      [WORKER_ROLE, password],
      t,
    );
    if (!role!.there) await say(`CREATE ROLE ${WORKER_ROLE}`, t);
    await say(
      `ALTER ROLE ${WORKER_ROLE} WITH LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE NOREPLICATION NOBYPASSRLS
        PASSWORD ${role!.literal}`,
      t,
    );
    // Nor tables of its own for a while, which could fill the drive.
    await say(`REVOKE TEMPORARY ON DATABASE ${quoted(nameIn(database.url))} FROM PUBLIC`, t);
    await say(`GRANT CONNECT ON DATABASE ${quoted(nameIn(database.url))} TO ${WORKER_ROLE}`, t);
    for (const [schema, grants] of [
      ['public', GRANTS],
      ['graphile_worker', QUEUE_GRANTS],
    ] as const) {
      await say(`GRANT USAGE ON SCHEMA ${schema} TO ${WORKER_ROLE}`, t);
      // What an earlier version granted and this one does not.
      await say(`REVOKE ALL ON ALL TABLES IN SCHEMA ${schema} FROM ${WORKER_ROLE}`, t);
      for (const [what, table] of grants) await say(`GRANT ${what} ON ${schema}.${table} TO ${WORKER_ROLE}`, t);
    }
    await say(`GRANT USAGE ON SEQUENCE workers_id_seq TO ${WORKER_ROLE}`, t);
    for (const [table, which] of POLICIES) {
      const made = await database.rows(
        `SELECT 1 FROM pg_policies WHERE schemaname = 'graphile_worker' AND tablename = $1 AND policyname = 'measuring'`,
        [table],
        t,
      );
      if (made.length === 0)
        await say(`CREATE POLICY measuring ON graphile_worker.${table} USING (${which}) WITH CHECK (${which})`, t);
    }
  });
}

/** Nobody gets in as a worker from now on; those who are in are cut off. */
export async function refuseWorkers(database: Database): Promise<void> {
  const there = await database.rows('SELECT 1 FROM pg_roles WHERE rolname = $1 AND rolcanlogin', [WORKER_ROLE]);
  if (there.length === 0) return;
  await database.run(`ALTER ROLE ${WORKER_ROLE} WITH NOLOGIN`);
  await database.rows('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE usename = $1', [WORKER_ROLE]);
}
