/**
 * Restores a backup. The database is made anew beside the desk's and compared; then both change names in one
 * transaction, and the folders that go with it change places. Killed before that, everything is as it was; killed
 * after it, the next start finishes.
 */
import { existsSync } from 'node:fs';
import { mkdir, readFile, rename, rm } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { dirname, join } from 'node:path';
import type { Client } from 'pg';
import { bytes as inWords } from '@early-set/core/space/bytes';
import { sayingWhere } from '../base/sayingWhere.ts';
import { Problem } from '../base/problem.ts';
import { beside, cluster, fillDatabase, nameIn, onDatabase, quoted } from '../db/dumps.ts';
import { MIGRATIONS } from '../db/migrate.ts';
import { backupOf, DUMP, filesOf, writeWhole, type Backup } from './folder.ts';
import { makeBackup, type BackupPlaces } from './make.ts';
import { layFile, PARTS } from './objects.ts';
import { damageOf, differenceOf, dropScratch, makeScratch } from './verify.ts';

export interface RestoreOptions {
  /** Told of each step. */
  tell?: (step: string) => void;
  /** False: what is replaced is not backed up first, because it cannot be. */
  backUpFirst?: boolean;
  /** Heard until it is put in its place: everything is as it was then. */
  signal?: AbortSignal;
}

/** What is to be finished after a kill. */
interface Journal {
  token: string;
  database: string;
  /** The restored one before it has its name, and the former one after that. */
  aside: string;
}
/** From here on it cannot be cancelled. */
export const LAST_STEP = 'Putting it in its place';
const ASIDE = 'restoring';
const JOURNAL = 'journal.json';
const BEFORE = 'before';
/** Covers are known by their content and only come to those that are there; the others are replaced. */
const REPLACED = PARTS.filter((part) => part !== 'art/originals');
/** The setting of the restored database by which it is known. */
const MARK = 'restored';

const known = new Set(MIGRATIONS.map(({ name }) => name));
/** Was it made by a version that knows more than this one? */
export const isNewer = ({ manifest }: Backup): boolean => !known.has(manifest.schema);

/**
 * Nothing may work on the database meanwhile.
 * @returns the backup of what was replaced; null when none was made
 * @throws Problem, with everything as it was
 */
export async function restoreBackup(
  places: BackupPlaces,
  id: string,
  { tell = () => undefined, backUpFirst = true, signal }: RestoreOptions = {},
): Promise<string | null> {
  const { databaseUrl, dataFolder, folder } = places;
  const backup = await backupOf(folder, id);
  if (isNewer(backup)) throw new Problem(409, 'newer', 'This backup was made by a newer version of Early Set');
  const damage = await damageOf(backup);
  if (damage) throw new Problem(409, 'broken', damage);
  await finishRestore(databaseUrl, dataFolder);
  const aside = join(dataFolder, ASIDE);
  let before: string | null = null;
  if (backUpFirst && (await holdsADesk(databaseUrl))) {
    tell('Backing up what is there now');
    before = (await makeBackup(places, { reason: 'restore', ...(signal ? { signal } : {}) })).id;
  }
  const database = nameIn(databaseUrl),
    scratch = `${database}_restoring`,
    token = randomUUID();
  const journal: Journal = { token, database, aside: scratch };
  try {
    tell('Restoring the database');
    await mkdir(aside, { recursive: true, mode: 0o700 });
    await writeWhole(join(aside, JOURNAL), JSON.stringify(journal));
    await makeScratch(databaseUrl, scratch);
    await fillDatabase(beside(databaseUrl, scratch), join(backup.folder, DUMP), signal).catch((error: Error) => {
      signal?.throwIfAborted();
      throw new Problem(409, 'broken', `The database could not be restored: ${error.message}`);
    });
    await onDatabase(beside(databaseUrl, scratch), async (client) => {
      const difference = await differenceOf(client, backup);
      if (difference) throw new Problem(409, 'broken', `The backup is not whole: ${difference}`);
      // It was on its way itself when its moment was kept.
      await client.query(
        `UPDATE public.runs SET state = 'done', finished_at = now() WHERE kind = 'backup' AND state = 'running'`,
      );
      await client.query(
        `INSERT INTO public.settings (name, value) VALUES ($1, $2) ON CONFLICT (name) DO UPDATE SET value = excluded.value`,
        [MARK, JSON.stringify({ token, id, at: new Date().toISOString(), before })],
      );
    });
    tell('Restoring covers, and what is kept of destinations');
    await layFiles(places, backup, aside, signal);
    signal?.throwIfAborted();
    tell(LAST_STEP);
    await changeNames(databaseUrl, journal);
    tell('Finishing');
    await finishRestore(databaseUrl, dataFolder);
    return before;
  } catch (error) {
    // Either nothing has changed places yet, or all that is left of it is finished by this.
    await finishRestore(databaseUrl, dataFolder).catch(() => undefined);
    signal?.throwIfAborted();
    throw sayingWhere(error, folder, 'the backup was not restored');
  }
}

/** A cluster that has just been made has nothing to lose. */
const holdsADesk = (url: string): Promise<boolean> =>
  onDatabase(url, async (client) => {
    const { rows } = await client.query<{ is: boolean }>("SELECT to_regclass('public.migrations') IS NOT NULL AS is");
    return rows[0]!.is;
  });

/** Lays covers where they belong, and the rest beside it. */
async function layFiles(
  { folder, dataFolder }: BackupPlaces,
  backup: Backup,
  aside: string,
  signal?: AbortSignal,
): Promise<void> {
  for (const part of REPLACED) await mkdir(join(aside, part), { recursive: true, mode: 0o700 });
  const files = await filesOf(backup);
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  for (const file of files) {
    signal?.throwIfAborted();
    const part = PARTS.find((one) => file.path.startsWith(`${one}/`));
    if (!part || file.path.split('/').includes('..'))
      throw new Problem(409, 'broken', `The backup holds a file where none belongs: ${file.path}`);
    const replaced = (REPLACED as readonly string[]).includes(part);
    const to = join(replaced ? aside : dataFolder, file.path);
    if (!replaced && existsSync(to)) continue;
    await layFile(folder, file, to).catch((error: Error) => {
      const { code } = error as NodeJS.ErrnoException;
      throw code === 'ENOSPC'
        ? new Problem(507, 'no-room', `The desk's drive is full: ${inWords(bytes)} of files go with this backup`)
        : new Problem(409, 'broken', `The backup is not whole: ${error.message}`);
    });
  }
}

/** The restored database and the desk's change names, both or neither; whoever is connected to it is sent away. */
async function changeNames(url: string, { database, aside }: Journal): Promise<void> {
  const away = quoted(`${aside}_before`);
  const rename = async (client: Client): Promise<void> => {
    await client.query('BEGIN');
    await client.query(`ALTER DATABASE ${quoted(database)} RENAME TO ${away}`);
    await client.query(`ALTER DATABASE ${quoted(aside)} RENAME TO ${quoted(database)}`);
    await client.query(`ALTER DATABASE ${away} RENAME TO ${quoted(aside)}`);
    await client.query('COMMIT');
  };
  await onDatabase(cluster(url), async (client) => {
    for (let attempt = 1; ; attempt++) {
      // Renaming holds newcomers up and waits some seconds for those who are there.
      let sent: Promise<unknown> = Promise.resolve();
      const sending = setInterval(() => {
        sent = sent.then(() => sendAway(url, database));
      }, 100);
      try {
        return await rename(client);
      } catch (error) {
        await client.query('ROLLBACK');
        if (attempt === ATTEMPTS || (error as { code?: string }).code !== IN_USE) throw error;
      } finally {
        clearInterval(sending);
        await sent;
      }
    }
  });
}
const ATTEMPTS = 5;
/** object_in_use, of PostgreSQL's error codes. */
const IN_USE = '55006';

const sendAway = (url: string, database: string): Promise<unknown> =>
  onDatabase(cluster(url), (client) =>
    client.query('SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = $1', [database]),
  ).catch(() => undefined);

/**
 * Finishes a restore that was broken off: forwards when the database has its name already, else back.
 * Called before anything connects to the desk's database.
 */
export async function finishRestore(databaseUrl: string, dataFolder: string): Promise<void> {
  const aside = join(dataFolder, ASIDE);
  if (!existsSync(aside)) return;
  const journal = await readJournal(aside);
  if (journal && (await markOf(databaseUrl)) === journal.token) {
    for (const part of REPLACED) {
      const own = join(dataFolder, part),
        fresh = join(aside, part),
        former = join(aside, BEFORE, part);
      // The fresh one goes last: as long as it is there, it has not got its place.
      if (!existsSync(fresh)) continue;
      await mkdir(dirname(former), { recursive: true });
      if (existsSync(own)) {
        await rm(former, { recursive: true, force: true });
        await rename(own, former);
      }
      await mkdir(dirname(own), { recursive: true });
      await rename(fresh, own);
    }
  }
  if (journal) await dropScratch(databaseUrl, journal.aside);
  await rm(aside, { recursive: true, force: true });
}

async function readJournal(aside: string): Promise<Journal | null> {
  try {
    return JSON.parse(await readFile(join(aside, JOURNAL), 'utf8')) as Journal;
  } catch {
    return null;
  }
}

/** The token of the restore that a database comes from. */
const markOf = (url: string): Promise<string | null> =>
  onDatabase(url, async (client) => {
    const { rows: there } = await client.query<{ is: boolean }>(
      "SELECT to_regclass('public.settings') IS NOT NULL AS is",
    );
    if (!there[0]!.is) return null;
    const { rows } = await client.query<{ token: string }>(
      `SELECT value->>'token' AS token FROM public.settings WHERE name = $1`,
      [MARK],
    );
    return rows[0]?.token ?? null;
  });
