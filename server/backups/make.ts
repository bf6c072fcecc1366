/** Makes a backup: one moment of the database, and the files of the data folder that go with it. */
import { createWriteStream, type WriteStream } from 'node:fs';
import { mkdir, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { once } from 'node:events';
import { finished } from 'node:stream/promises';
import type { BackupReason } from '@early-set/core/backups/keep';
import { sayingWhere } from '../base/sayingWhere.ts';
import { mustHaveRoom } from '../base/room.ts';
import { dumpDatabase, onDatabase, rowsOf } from '../db/dumps.ts';
import {
  backupsIn,
  DUMP,
  FILES,
  filesOf,
  makeBackupFolder,
  removeUnfinished,
  type Backup,
  type KeptFile,
} from './folder.ts';
import { filesToKeep, hashOfFile, keepFile } from './objects.ts';

export interface BackupPlaces {
  databaseUrl: string;
  dataFolder: string;
  /** Where backups lie. */
  folder: string;
}

export interface MakeOptions {
  reason: BackupReason;
  now?: Date;
  signal?: AbortSignal;
  /** Told of what is in hand. */
  tell?: (words: string, done: number, total: number) => Promise<void>;
}

/** A dump is a good deal smaller than its database; so much has to be free at least. */
const DUMP_SHARE = 0.5;

/** @throws Problem when the drive is full or cannot be written to */
export async function makeBackup(places: BackupPlaces, options: MakeOptions): Promise<Backup> {
  const { databaseUrl, folder } = places;
  const { reason, now = new Date(), signal, tell } = options;
  await mkdir(folder, { recursive: true, mode: 0o700 }).catch((error: unknown) => {
    throw sayingWhere(error, folder, 'the backup was not made');
  });
  await removeUnfinished(folder);
  try {
    return await onDatabase(databaseUrl, async (client) => {
      const { rows: sizes } = await client.query<{ n: string }>('SELECT pg_database_size(current_database()) AS n');
      await mustHaveRoom(folder, Number(sizes[0]!.n) * DUMP_SHARE, 'a backup');
      // What this transaction sees is what is dumped: the rows that are counted are those that are in it.
      await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
      const { rows: snapshots } = await client.query<{ name: string }>('SELECT pg_export_snapshot() AS name');
      return makeBackupFolder(folder, now, reason, async (growing) => {
        await tell?.('The database', 0, 0);
        const path = join(growing, DUMP);
        await dumpDatabase(databaseUrl, path, snapshots[0]!.name, signal);
        const rows = await rowsOf(client);
        const { rows: seen } = await client.query<{ name: string }>(
          'SELECT name FROM public.migrations ORDER BY name DESC LIMIT 1',
        );
        await client.query('COMMIT');
        const dump = { bytes: (await stat(path)).size, sha256: await hashOfFile(path, signal) };
        const files = await keepFiles(places, growing, options);
        return { schema: seen[0]?.name ?? '', rows, dump, files };
      });
    });
  } catch (error) {
    signal?.throwIfAborted();
    throw sayingWhere(error, folder, 'the backup was not made');
  }
}

/** Keeps the files, and lists them; those that the last backup had unchanged are there already. */
async function keepFiles(
  { dataFolder, folder }: BackupPlaces,
  growing: string,
  { signal, tell }: MakeOptions,
): Promise<{ count: number; bytes: number; sha256: string }> {
  const [last] = await backupsIn(folder);
  const known = new Map<string, KeptFile>();
  for (const file of last ? await filesOf(last).catch(() => []) : []) known.set(file.path, file);
  const paths: string[] = [];
  for await (const path of filesToKeep(dataFolder)) paths.push(path);
  const list = join(growing, FILES);
  const out = createWriteStream(list, { flags: 'wx', mode: 0o600, flush: true });
  let count = 0,
    bytes = 0;
  try {
    for (const [at, path] of paths.entries()) {
      signal?.throwIfAborted();
      const kept = await keepFile(dataFolder, folder, path, known);
      await tell?.('Covers, and what is kept of destinations', at + 1, paths.length);
      if (!kept) continue;
      await writeLine(out, kept);
      count++;
      bytes += kept.bytes;
    }
  } finally {
    out.end();
    await finished(out);
  }
  return { count, bytes, sha256: await hashOfFile(list) };
}

async function writeLine(out: WriteStream, line: object): Promise<void> {
  if (!out.write(`${JSON.stringify(line)}\n`)) await once(out, 'drain');
}
