/** Where the library's folders lie on this computer, and which of them are not here now. */
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';
import { inRoot, type Places } from '../jobs/analysis.ts';
import { isInside } from '../media/roots.ts';

/** What lies below one folder there lies below another here. */
export interface FolderMap {
  there: string;
  here: string;
}

/** @param text THERE=HERE, both absolute @throws Problem in words where it is not that */
export function readMap(text: string): FolderMap {
  const [, there, here] = /^(\/.*?)\/*=(\/.*?)\/*$/.exec(text) ?? [];
  if (there === undefined || here === undefined)
    throw new Problem(400, 'bad-map', `--map takes two folders, such as /srv/music=/mnt/music, not ${text}`);
  return { there: there || '/', here: here || '/' };
}

/** The map of the nearest folder above counts; without one it lies where it lies there. */
export function pathHere(path: string, maps: readonly FolderMap[]): string {
  const [nearest] = maps.filter(({ there }) => isInside(there, path)).sort((a, b) => b.there.length - a.there.length);
  return nearest ? join(nearest.here, path.slice(nearest.there.length)) : path;
}

export interface RootsHere extends Places {
  /** Flags of jobs in folders that are not here, as of a moment ago. */
  skipped(): Promise<string[]>;
}

/** A network drive that hangs is not here. */
const PATIENCE_MS = 5000;
/** So often it is looked again. */
const FRESH_MS = 3000;
/** So many of its files are asked for: some may be gone. */
const SAMPLE = 8;

const isThere = (path: string): Promise<boolean> =>
  Promise.race([
    stat(path).then(
      () => true,
      () => false,
    ),
    new Promise<boolean>((resolve) => setTimeout(() => resolve(false), PATIENCE_MS).unref()),
  ]);

interface Root {
  id: number;
  path: string;
  label: string;
  sample: string[];
}

/** A drive that is not mounted leaves an empty folder, so that some of its files have to be there. */
async function isHere(folder: string, sample: readonly string[]): Promise<boolean> {
  if (sample.length === 0) return isThere(folder);
  const found = await Promise.all(sample.map((path) => isThere(join(folder, path))));
  return found.includes(true);
}

/** @param changed told which folders are missing by now, when others are than before */
export function rootsHere(
  database: Database,
  maps: readonly FolderMap[],
  changed: (away: readonly { label: string; path: string }[]) => void,
): RootsHere {
  const folderOf = ({ path }: { path: string }): string => pathHere(path, maps);
  let known: { at: number; away: Promise<ReadonlySet<number>> } | null = null,
    said = '[]';

  async function look(): Promise<ReadonlySet<number>> {
    const roots = await database.rows<Root>(
      `SELECT r.id, r.path, r.label, ARRAY(SELECT f.path FROM track_files f WHERE f.root_id = r.id AND f.state = 'here'
        LIMIT $1) AS sample FROM roots r WHERE NOT r.removed ORDER BY r.label`,
      [SAMPLE],
    );
    const here = await Promise.all(roots.map((root) => isHere(folderOf(root), root.sample)));
    const away = roots.filter((_, i) => !here[i]);
    const now = JSON.stringify(away.map(({ id }) => id));
    if (now !== said) changed(away.map((root) => ({ label: root.label, path: folderOf(root) })));
    said = now;
    return new Set(away.map(({ id }) => id));
  }

  /** One look for all who ask at once. */
  function fresh(): Promise<ReadonlySet<number>> {
    const away = look();
    known = { at: Date.now(), away };
    away.catch(() => (known = null));
    return away;
  }
  const recent = (): Promise<ReadonlySet<number>> => (known && Date.now() - known.at < FRESH_MS ? known.away : fresh());

  return {
    folderOf,
    isAway: async (rootId) => (await fresh()).has(rootId),
    skipped: async () => [...(await recent())].map(inRoot),
  };
}
