/**
 * Watched folders: what comes, changes or goes there is scanned by itself, once it is whole. What the desk writes is
 * known by size and time, and starts no scan.
 */
import { watch, type FSWatcher } from 'chokidar';
import { stat } from 'node:fs/promises';
import { basename, join, relative, sep } from 'node:path';
import { log } from '../base/log.ts';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import { reasonOf } from '../files/reasons.ts';
import { WHOLE_MS } from './whole.ts';
import { queueScan, type ScanRun } from './scans.ts';

/** Several files come together; and what is renamed has gone at once, but is there as a whole only after a while. */
const QUIET_MS = WHOLE_MS + 500;
/** Of more files at once it is not asked which of them are known. */
const MAX_ASKED = 2000;

export interface Watching {
  /** Folders may have come, gone, or changed. */
  soon(): void;
  stop(): Promise<void>;
}

interface Watched {
  path: string;
  watcher: FSWatcher;
  /** Nobody watched before: the desk was not running, or the drive not there. All of it is to be scanned. */
  isNew: boolean;
  /** Paths below the root that something happened to. */
  touched: Set<string>;
  timer: NodeJS.Timeout | null;
}

export function keepWatched(database: Database, scans: ScanRun): Watching {
  const watched = new Map<number, Watched>();
  let turn: Promise<void> = Promise.resolve(),
    stopped = false;

  async function close(id: number): Promise<void> {
    const one = watched.get(id);
    if (!one) return;
    watched.delete(id);
    if (one.timer) clearTimeout(one.timer);
    await one.watcher.close();
  }

  async function scan(id: number, one: Watched): Promise<void> {
    const paths = [...one.touched];
    one.touched.clear();
    if (stopped) return;
    if (!one.isNew && paths.length <= MAX_ASKED && (await allKnown(database, id, one.path, paths))) return;
    one.isNew = false;
    const root = await Root.findByPk(id);
    if (root) await queueScan(scans, root);
  }

  const trouble = async (id: number, words: string | null): Promise<void> => {
    const changed = await database.rows(
      'UPDATE roots SET watch_trouble = $2 WHERE id = $1 AND watch_trouble IS DISTINCT FROM $2 RETURNING id',
      [id, words],
    );
    if (changed.length) await database.notify({ kind: 'roots' });
  };

  function open(id: number, path: string): void {
    const watcher = watch(path, {
      ignoreInitial: true,
      followSymlinks: false,
      ignorePermissionErrors: true,
      ignored: (at) => at !== path && basename(at).startsWith('.'),
      awaitWriteFinish: { stabilityThreshold: WHOLE_MS, pollInterval: 200 },
    });
    const one: Watched = { path, watcher, isNew: true, touched: new Set(), timer: null };
    watched.set(id, one);
    const later = (): void => {
      if (one.timer) clearTimeout(one.timer);
      one.timer = setTimeout(() => {
        scan(id, one).catch((error: unknown) => log.error(error, `a watched folder could not be scanned: ${path}`));
      }, QUIET_MS);
    };
    watcher.on('all', (event, at) => {
      if (event === 'addDir') return;
      one.touched.add(relative(path, at).split(sep).join('/'));
      later();
    });
    watcher.on('error', (error) => {
      log.warn(error, `a folder cannot be watched: ${path}`);
      const { code } = error as NodeJS.ErrnoException;
      const words = code === 'ENOSPC' ? 'The system lets no more folders be watched' : reasonOf(error);
      trouble(id, words).catch(() => undefined);
    });
    watcher.on('ready', () => {
      trouble(id, null).catch(() => undefined);
      later();
    });
  }

  async function bringUpToDate(): Promise<void> {
    const roots = await database.rows<{ id: number; path: string }>(
      "SELECT id, path FROM roots WHERE watch AND NOT removed AND purpose = 'library' AND away_since IS NULL",
    );
    for (const [id, { path }] of watched)
      if (!roots.some((root) => root.id === id && root.path === path)) await close(id);
    for (const { id, path } of roots) if (!stopped && !watched.has(id)) open(id, path);
  }

  const soon = (): void => {
    turn = turn
      .then(() => (stopped ? undefined : bringUpToDate()))
      .catch((error: unknown) => {
        if (!stopped) log.error(error, 'folders could not be watched');
      });
  };
  soon();
  return {
    soon,
    async stop() {
      stopped = true;
      await turn;
      await Promise.all([...watched.keys()].map(close));
    },
  };
}

/** Is each of these as the library knows it: there with this size and time, or gone and known to be? */
async function allKnown(
  database: Database,
  rootId: number,
  folder: string,
  paths: readonly string[],
): Promise<boolean> {
  const known = await database.rows<{ path: string; size: number; modifiedMs: number; here: boolean }>(
    `SELECT path, size, modified_ms AS "modifiedMs", state = 'here' AS here FROM track_files
      WHERE root_id = $1 AND path = ANY($2::text[])
     UNION ALL SELECT path, file_size, file_modified_ms, true FROM not_taken
      WHERE root_id = $1 AND path = ANY($2::text[])`,
    [rootId, [...paths]],
  );
  const byPath = new Map(known.map((k) => [k.path, k]));
  const same = await Promise.all(
    paths.map(async (path) => {
      const file = byPath.get(path);
      const there = await stat(join(folder, path)).catch(() => null);
      if (!there?.isFile()) return !file?.here;
      return (
        file !== undefined && file.here && file.size === there.size && Math.abs(file.modifiedMs - there.mtimeMs) < 1
      );
    }),
  );
  return same.every(Boolean);
}
