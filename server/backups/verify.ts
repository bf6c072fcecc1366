/** Verifies a backup: its database is made anew from the dump, and compared; its files are read. */
import { join } from 'node:path';
import type { Client } from 'pg';
import { cluster, beside, fillDatabase, nameIn, onDatabase, quoted, rowsOf } from '../db/dumps.ts';
import { DUMP, FILES, filesOf, noteVerified, type Backup, type Verified } from './folder.ts';
import type { BackupPlaces } from './make.ts';
import { hashOfFile, troubleWith } from './objects.ts';

export interface VerifyOptions {
  now?: Date;
  signal?: AbortSignal;
  tell?: (words: string, done: number, total: number) => Promise<void>;
}

/** @returns null when nothing is wrong, else what; it stands beside the backup from then on */
export async function verifyBackup(
  places: BackupPlaces,
  backup: Backup,
  options: VerifyOptions = {},
): Promise<string | null> {
  const trouble = await troubleOf(places, backup, options);
  const verified: Verified = { at: (options.now ?? new Date()).toISOString(), trouble };
  await noteVerified(backup.folder, verified);
  return trouble;
}

async function troubleOf(
  { databaseUrl, folder }: BackupPlaces,
  backup: Backup,
  { signal, tell }: VerifyOptions,
): Promise<string | null> {
  const damage = await damageOf(backup, signal);
  if (damage) return damage;
  const kept = await filesOf(backup);
  for (const [at, file] of kept.entries()) {
    signal?.throwIfAborted();
    const trouble = await troubleWith(folder, file);
    if (trouble) return trouble;
    await tell?.('Verifying: files', at + 1, kept.length);
  }
  await tell?.('Verifying: restoring the database beside the desk', 0, 0);
  const name = `${nameIn(databaseUrl)}_verify`;
  try {
    return await onScratch(databaseUrl, name, async (url) => {
      await fillDatabase(url, join(backup.folder, DUMP), signal);
      return onDatabase(url, (client) => differenceOf(client, backup));
    });
  } catch (error) {
    signal?.throwIfAborted();
    return `The database could not be restored from it: ${(error as Error).message}`;
  }
}

/** What of a backup's own two files is not what was written; null when both are. */
export async function damageOf({ folder, manifest }: Backup, signal?: AbortSignal): Promise<string | null> {
  const read = async (name: string): Promise<string | null> =>
    hashOfFile(join(folder, name), signal).catch((error: unknown) => {
      signal?.throwIfAborted();
      return (error as NodeJS.ErrnoException).code ?? null;
    });
  if ((await read(DUMP)) !== manifest.dump.sha256) return 'The database in it is not what was written';
  if ((await read(FILES)) !== manifest.files.sha256) return 'The list of its files is not what was written';
  return null;
}

/** What the rows of a restored database say that the backup does not; null when they agree. */
export async function differenceOf(client: Client, { manifest }: Backup): Promise<string | null> {
  const there = await rowsOf(client);
  for (const table of new Set([...Object.keys(there), ...Object.keys(manifest.rows)]))
    if (there[table] !== manifest.rows[table])
      return `${table} has ${there[table] ?? 'no'} rows in it where it should have ${manifest.rows[table] ?? 'none'}`;
  return null;
}

/** An empty database beside the desk's; it goes again in the end. */
async function onScratch<T>(url: string, name: string, work: (url: string) => Promise<T>): Promise<T> {
  await makeScratch(url, name);
  try {
    return await work(beside(url, name));
  } finally {
    await dropScratch(url, name);
  }
}

export const makeScratch = (url: string, name: string): Promise<void> =>
  onDatabase(cluster(url), async (client) => {
    await client.query(`DROP DATABASE IF EXISTS ${quoted(name)} WITH (FORCE)`);
    await client.query(`CREATE DATABASE ${quoted(name)} TEMPLATE template0`);
  });

export const dropScratch = (url: string, name: string): Promise<void> =>
  onDatabase(cluster(url), async (client) => {
    await client.query(`DROP DATABASE IF EXISTS ${quoted(name)} WITH (FORCE)`);
  });
