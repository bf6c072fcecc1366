/** Dumps of the whole database, kept before its schema changes. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { Database } from './database.ts';

const KEPT = 3;
const SCHEMAS = ['public', 'graphile_worker'];

function call(program: string, args: string[]): void {
  const done = spawnSync(program, args, { encoding: 'utf8' });
  if (done.status !== 0)
    throw new Error(`${program} did not end well: ${(done.stderr || String(done.error ?? '')).trim().slice(0, 500)}`);
}

/** Dumps into a folder, where the three newest stay; returns the file. @throws Error when it cannot be dumped */
export function dumpDatabase(url: string, folder: string, name: string): string {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const stamp = new Date().toISOString().replace(/[-:]/g, '').slice(0, 15);
  const path = join(folder, `${stamp}-before-${name}.dump`);
  call('pg_dump', ['--format=custom', '--no-owner', `--file=${path}`, `--dbname=${url}`]);
  const old = readdirSync(folder)
    .filter((n) => n.endsWith('.dump'))
    .sort()
    .slice(0, -KEPT);
  for (const n of old) rmSync(join(folder, n));
  return path;
}

/** Puts the database back as a dump has it. */
export async function restoreDatabase(database: Database, path: string): Promise<void> {
  for (const schema of SCHEMAS) await database.run(`DROP SCHEMA IF EXISTS ${schema} CASCADE`);
  await database.run('CREATE SCHEMA public');
  call('pg_restore', ['--no-owner', '--exit-on-error', `--dbname=${database.url}`, path]);
}
