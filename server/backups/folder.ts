/**
 * Where backups lie and what each says of itself (docs/formats/backup.md): a folder for each, and the files that
 * several share, each once.
 */
import { randomUUID } from 'node:crypto';
import { mkdir, open, readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { BackupReason } from '@early-set/core/backups/keep';
import Joi from 'joi';
import { notFound, Problem } from '../base/problem.ts';

export const VERSION = 1;
const FORMAT = 'early-set-backup';
const SAYS = 'backup.json';
const VERIFIED = 'verified.json';
export const DUMP = 'database.dump';
export const FILES = 'files.jsonl';

/** What `backup.json` says. */
export interface Manifest {
  format: typeof FORMAT;
  version: number;
  madeAt: string;
  reason: BackupReason;
  /** The last migration that its database has seen. */
  schema: string;
  dump: { bytes: number; sha256: string };
  files: { count: number; bytes: number; sha256: string };
  /** Rows of each table when it was dumped. */
  rows: Record<string, number>;
}
/** What `verified.json` says. */
export interface Verified {
  at: string;
  trouble: string | null;
}
export interface Backup {
  id: string;
  folder: string;
  manifest: Manifest;
  verified: Verified | null;
}
/** A file of the data folder that goes with the database. */
export interface KeptFile {
  /** Below the data folder. */
  path: string;
  bytes: number;
  modifiedMs: number;
  sha256: string;
}

const sum = Joi.string().pattern(/^[0-9a-f]{64}$/);
const count = Joi.number().integer().min(0);
const manifestSchema = Joi.object<Manifest>({
  format: Joi.valid(FORMAT),
  version: Joi.number().integer().min(1),
  madeAt: Joi.string().isoDate(),
  reason: Joi.string().max(40),
  schema: Joi.string().max(200),
  dump: Joi.object({ bytes: count, sha256: sum }),
  files: Joi.object({ count, bytes: count, sha256: sum }),
  rows: Joi.object().pattern(Joi.string(), count),
}).options({ presence: 'required', allowUnknown: true });

/** `20261130T040000Z-schedule`; the same moment twice gets a number. */
const NAME = /^\d{8}T\d{6}Z-[a-z-]+(?:-\d+)?$/;
export const isBackupId = (id: string): boolean => NAME.test(id);

/** Written whole, or not at all. */
export async function writeWhole(path: string, text: string): Promise<void> {
  const growing = `${path}.${randomUUID()}`;
  try {
    const file = await open(growing, 'wx', 0o600);
    try {
      await file.writeFile(text);
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(growing, path);
  } catch (error) {
    await rm(growing, { force: true });
    throw error;
  }
}

async function json(path: string): Promise<unknown> {
  try {
    return JSON.parse(await readFile(path, 'utf8')) as unknown;
  } catch {
    return null;
  }
}

async function readBackup(folder: string): Promise<Backup | null> {
  const { error, value } = manifestSchema.validate(await json(join(folder, SAYS)));
  if (error) return null;
  const verified = (await json(join(folder, VERIFIED))) as Verified | null;
  return { id: basename(folder), folder, manifest: value, verified };
}

/** The backups in a folder, the latest first; none where it is not there. */
export async function backupsIn(folder: string): Promise<Backup[]> {
  const names = (await readdir(folder).catch(() => [])).filter(isBackupId);
  const all = await Promise.all(names.map((name) => readBackup(join(folder, name))));
  return all
    .filter((b) => b !== null)
    .sort((a, b) => (a.manifest.madeAt < b.manifest.madeAt ? 1 : a.manifest.madeAt > b.manifest.madeAt ? -1 : 0));
}

/** @throws Problem when it is not there, or is none */
export async function backupOf(folder: string, id: string): Promise<Backup> {
  const backup = isBackupId(id) ? await readBackup(join(folder, id)) : null;
  if (!backup) throw notFound('The backup');
  if (backup.manifest.version > VERSION)
    throw new Problem(409, 'newer', 'This backup was made by a newer version of Early Set');
  return backup;
}

/** The files that go with a backup. @throws Problem when a line cannot be read */
export async function filesOf({ folder, id }: Backup): Promise<KeptFile[]> {
  try {
    const text = await readFile(join(folder, FILES), 'utf8');
    return text
      .split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line) as KeptFile);
  } catch {
    throw new Problem(409, 'broken', `The list of files of the backup ${id} cannot be read`);
  }
}

/** What was found when a backup was verified is put beside it. */
export const noteVerified = (folder: string, verified: Verified): Promise<void> =>
  writeWhole(join(folder, VERIFIED), `${JSON.stringify(verified)}\n`);

/**
 * Makes a backup's folder: it grows under another name, and has its own when it is whole.
 * @param fill writes into it and answers what it says of itself
 */
export async function makeBackupFolder(
  folder: string,
  at: Date,
  reason: BackupReason,
  fill: (growing: string) => Promise<Omit<Manifest, 'format' | 'version' | 'madeAt' | 'reason'>>,
): Promise<Backup> {
  const name = `${at.toISOString().replace(/[-:]|\.\d+/g, '')}-${reason.replaceAll(' ', '-')}`;
  const growing = join(folder, `${GROWING}${randomUUID()}`);
  await mkdir(growing, { recursive: true, mode: 0o700 });
  try {
    const manifest: Manifest = {
      ...{ format: FORMAT, version: VERSION, madeAt: at.toISOString(), reason },
      ...(await fill(growing)),
    };
    await writeWhole(join(growing, SAYS), `${JSON.stringify(manifest, null, 2)}\n`);
    for (let number = 1; ; number++) {
      const own = join(folder, number === 1 ? name : `${name}-${number}`);
      if (await stat(own).catch(() => null)) continue;
      await rename(growing, own);
      return { id: basename(own), folder: own, manifest, verified: null };
    }
  } catch (error) {
    await rm(growing, { recursive: true, force: true });
    throw error;
  }
}
const GROWING = '.making-';

/** What a kill has left goes; only one backup is made at a time. */
export async function removeUnfinished(folder: string): Promise<void> {
  for (const name of await readdir(folder).catch(() => []))
    if (name.startsWith(GROWING)) await rm(join(folder, name), { recursive: true, force: true });
}

/** Removes one; what it shares with others is left to `sweep`. Gone from sight first, so that a kill leaves no half. */
export async function removeBackup({ folder }: Backup): Promise<void> {
  const going = join(folder, '..', `${GROWING}${randomUUID()}`);
  await rename(folder, going);
  await rm(going, { recursive: true, force: true });
}
