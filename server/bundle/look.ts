/** Bundles that lie in a folder, what is in one, and what is left to do after one was read. */
import { readdir, stat } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import type { BundleLine, BundleLook, BundleStep, BundleSteps } from '@early-set/core/api/bundles';
import { MANIFEST } from '@early-set/core/bundle/manifest';
import { Problem } from '../base/problem.ts';
import { backupsIn } from '../backups/folder.ts';
import type { Database } from '../db/database.ts';
import { Setting } from '../db/models.ts';
import { READ_HERE, type ReadHere } from './bundleRun.ts';
import { HOLDS } from './empty.ts';
import { openSource } from './source.ts';

/** So many are looked into; a folder with more is none for bundles. */
const MOST = 100;

const isFolder = async (path: string): Promise<boolean> => (await stat(path).catch(() => null))?.isDirectory() ?? false;

/** Those that lie in a folder, the latest first; zips that are no bundles are left out. */
export async function bundlesIn(folder: string): Promise<BundleLine[]> {
  const entries = (await readdir(folder, { withFileTypes: true })).filter(({ name }) => !name.startsWith('.'));
  const lines: BundleLine[] = [];
  let looked = 0;
  for (const entry of entries) {
    const path = join(folder, entry.name);
    const zip = entry.isFile() && extname(entry.name).toLowerCase() === '.zip';
    if (!zip && !(entry.isDirectory() && (await stat(join(path, MANIFEST)).catch(() => null)))) continue;
    if (++looked > MOST) break;
    const line = await lineOf(path, zip);
    if (line) lines.push(line);
  }
  return lines.sort((a, b) => (a.madeAt < b.madeAt ? 1 : -1));
}

async function lineOf(path: string, zip: boolean): Promise<BundleLine | null> {
  const told = { path, name: basename(path), zip };
  try {
    const { manifest, close } = await openSource(path);
    await close();
    const { madeAt, computer, folders } = manifest;
    return { ...told, madeAt, computer, tracks: folders.reduce((sum, f) => sum + f.tracks, 0), trouble: null };
  } catch (error) {
    // Of a zip nobody knows that it should be one.
    if (zip || !(error instanceof Problem)) return null;
    return { ...told, madeAt: '', computer: '', tracks: 0, trouble: error.message };
  }
}

/** @throws Problem when it cannot be read */
export async function lookAtBundle(database: Database, path: string): Promise<BundleLook> {
  const { manifest, close } = await openSource(path);
  await close();
  const info = await stat(path);
  const here: number[] = [];
  for (const folder of manifest.folders) if (await isFolder(folder.path)) here.push(folder.id);
  const [held] = await database.rows<{ holds: boolean }>(HOLDS);
  return { path, manifest, bytes: info.isFile() ? info.size : null, here, empty: !held!.holds };
}

/** @param backups where they lie */
export async function stepsAfter(database: Database, backups: string): Promise<BundleSteps> {
  const read = (await Setting.findByPk(READ_HERE))?.value as ReadHere | undefined;
  if (!read) return { read: null, steps: [] };
  const [counted] = await database.rows<Record<'roots' | 'away' | 'tracks' | 'missing' | 'measured', number>>(
    `SELECT (SELECT count(*)::int FROM roots WHERE NOT removed AND purpose = 'library') AS roots,
      (SELECT count(*)::int FROM roots WHERE NOT removed AND purpose = 'library' AND away_since IS NOT NULL) AS away,
      count(*)::int AS tracks, count(*) FILTER (WHERE file_state <> 'here')::int AS missing,
      count(*) FILTER (WHERE analysis_state = 'done')::int AS measured FROM tracks`,
  );
  const { roots, away, tracks, missing, measured } = counted!;
  const programs = await database.rows<{ folder: string }>(
    'SELECT folder FROM destinations UNION ALL SELECT folder FROM sticks',
  );
  const there = await Promise.all(programs.map(({ folder }) => isFolder(folder)));
  const [last] = await backupsIn(backups);
  const steps: BundleStep[] = [
    { step: 'folders', done: roots - away, total: roots },
    { step: 'files', done: tracks - missing, total: tracks },
    { step: 'measured', done: measured, total: tracks },
    ...(programs.length > 0
      ? [{ step: 'destinations' as const, done: there.filter(Boolean).length, total: programs.length }]
      : []),
    { step: 'backup', done: last && last.manifest.madeAt > read.at ? 1 : 0, total: 1 },
  ];
  return { read, steps };
}

/** Its steps are done, or of no more interest. */
export const forgetSteps = (): Promise<number> => Setting.destroy({ where: { name: READ_HERE } });
