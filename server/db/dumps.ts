/** Dumps of a whole database, and databases made from them. PostgreSQL's own programs do it. */
import { spawn } from 'node:child_process';
import pg from 'pg';
import type { Database } from './database.ts';

export const SCHEMAS = ['public', 'graphile_worker'] as const;

/** What a program says when it fails is short; a loop of complaints is not kept. */
const MOST_WORDS = 2000;

function call(program: string, args: string[], signal?: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: ['ignore', 'ignore', 'pipe'], ...(signal ? { signal } : {}) });
    let said = '';
    child.stderr.setEncoding('utf8').on('data', (words: string) => {
      if (said.length < MOST_WORDS) said += words;
    });
    child.once('error', reject);
    child.once('close', (code) =>
      code === 0 ? resolve() : reject(new Error(`${program} did not end well: ${said.trim().slice(0, 500)}`)),
    );
  });
}

/**
 * Dumps a database into a file.
 * @param snapshot of a transaction that is open: what it sees is what is dumped
 * @throws Error when it cannot be dumped
 */
export const dumpDatabase = (url: string, path: string, snapshot?: string, signal?: AbortSignal): Promise<void> =>
  call(
    'pg_dump',
    [
      '--format=custom',
      // Waveforms are most of it, and hardly packed tighter by taking longer.
      '--compress=1',
      '--no-owner',
      // Who may do what is said anew at each start: the role of workers may not exist where it is restored.
      '--no-privileges',
      ...(snapshot ? [`--snapshot=${snapshot}`] : []),
      `--file=${path}`,
      `--dbname=${url}`,
    ],
    signal,
  );

/** Fills an empty database from a dump. */
export const fillDatabase = (url: string, path: string, signal?: AbortSignal): Promise<void> =>
  call('pg_restore', ['--no-owner', '--exit-on-error', '--jobs=2', `--dbname=${url}`, path], signal);

/** Puts the database back as a dump has it. */
export async function restoreDatabase(database: Database, path: string): Promise<void> {
  for (const schema of SCHEMAS) await database.run(`DROP SCHEMA IF EXISTS ${schema} CASCADE`);
  await database.run('CREATE SCHEMA public');
  await call('pg_restore', ['--no-owner', '--exit-on-error', `--dbname=${database.url}`, path]);
}

/** The database's name in its address, and the address of another one beside it. */
export const nameIn = (url: string): string => decodeURIComponent(new URL(url).pathname.slice(1));
export function beside(url: string, name: string): string {
  const other = new URL(url);
  other.pathname = `/${encodeURIComponent(name)}`;
  return other.href;
}

/** A name as SQL says it. */
export const quoted = (name: string): string => `"${name.replaceAll('"', '""')}"`;

/** Does something on one connection. */
export async function onDatabase<T>(url: string, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: url });
  client.on('error', () => undefined);
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end().catch(() => undefined);
  }
}

/** A database of the cluster from which others, the desk's own too, can be made, renamed and dropped. */
export const cluster = (url: string): string => beside(url, nameIn(url) === 'postgres' ? 'template1' : 'postgres');

/** How many rows each table has, by "schema.table". */
export async function rowsOf(client: pg.Client | pg.PoolClient): Promise<Record<string, number>> {
  const { rows: tables } = await client.query<{ name: string }>(
    `SELECT quote_ident(table_schema) || '.' || quote_ident(table_name) AS name FROM information_schema.tables
      WHERE table_type = 'BASE TABLE' AND table_schema = ANY($1) ORDER BY 1`,
    [SCHEMAS],
  );
  const counts: Record<string, number> = {};
  for (const { name } of tables) {
    const { rows } = await client.query<{ n: string }>(`SELECT count(*) AS n FROM ${name}`);
    counts[name] = Number(rows[0]!.n);
  }
  return counts;
}
