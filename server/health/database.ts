/** The database: does it answer, is its schema of this version, what does it say of folders and backups? */
import { DEFAULT_SETTINGS, type DeskSettings } from '@early-set/core/api/settings';
import { bytes } from '@early-set/core/space/bytes';
import { backupsIn } from '../backups/folder.ts';
import { folderOf, onOneDrive } from '../backups/places.ts';
import { onDatabase } from '../db/dumps.ts';
import { MIGRATIONS } from '../db/migrate.ts';
import type { Finding } from './finding.ts';
import { checkFolder } from './places.ts';
import { checkDumping } from './programs.ts';

interface Told {
  version: number;
  size: number;
  tracks: number;
  seen: string[];
  desk: Partial<DeskSettings> | null;
  folders: { label: string; path: string; writes: boolean }[];
}

/** What the database says; null where it holds no library yet. */
const told = (url: string): Promise<Told | null> =>
  onDatabase(url, async (client) => {
    const one = async <T>(text: string): Promise<T[]> => (await client.query(text)).rows as T[];
    const [there] = await one<{ is: boolean }>("SELECT to_regclass('public.migrations') IS NOT NULL AS is");
    if (!there!.is) return null;
    const [server] = await one<{ version: number; size: string }>(
      `SELECT current_setting('server_version_num')::int / 10000 AS version,
        pg_database_size(current_database()) AS size`,
    );
    const [held] = await one<{ tracks: number }>('SELECT count(*)::int AS tracks FROM tracks');
    const [desk] = await one<{ value: Partial<DeskSettings> }>("SELECT value FROM settings WHERE name = 'desk'");
    const folders = await one<Told['folders'][number]>(
      `SELECT 'Folder ' || label AS label, path, true AS writes FROM roots WHERE NOT removed
        UNION ALL SELECT 'Destination ' || name, folder, kind <> 'bundle' FROM destinations
        UNION ALL SELECT 'Stick ' || name, folder, true FROM sticks ORDER BY 1`,
    );
    const seen = (await one<{ name: string }>('SELECT name FROM migrations')).map(({ name }) => name);
    return {
      version: server!.version,
      size: Number(server!.size),
      tracks: held!.tracks,
      seen,
      desk: desk?.value ?? null,
      folders,
    };
  });

export async function checkDatabase(url: string, dataFolder: string): Promise<Finding[]> {
  const about = 'Database';
  const said = await told(url).catch((error: unknown) => ({ failed: (error as Error).message }));
  if (said && 'failed' in said) return [{ about, trouble: `It does not answer: ${said.failed}`, note: '' }];
  if (!said) return [{ about, trouble: null, note: 'new, nothing is in it yet' }];
  const known = new Set(MIGRATIONS.map(({ name }) => name));
  const later = said.seen.filter((name) => !known.has(name));
  const open = MIGRATIONS.filter(({ name }) => !said.seen.includes(name)).length;
  const trouble =
    later.length > 0
      ? 'A newer version of Early Set has used it: this one must not be started on it. Update it, or restore a backup.'
      : null;
  const steps = open > 0 ? `, to be brought up to date at the next start (${open})` : '';
  const note = `PostgreSQL ${said.version}, ${said.tracks.toLocaleString('en-GB')} tracks, ${bytes(said.size)}${steps}`;
  return [
    { about, trouble, note },
    await checkDumping(said.version),
    await checkBackups({ ...DEFAULT_SETTINGS.backups, ...said.desk?.backups }, dataFolder),
    ...(await Promise.all(said.folders.map(({ label, path, writes }) => checkFolder(label, path, writes)))),
  ];
}

const DAY_MS = 86_400_000;

async function checkBackups(settings: DeskSettings['backups'], dataFolder: string): Promise<Finding> {
  const about = 'Backups';
  const folder = folderOf(settings, dataFolder);
  const [last] = await backupsIn(folder);
  if (!last) return { about, trouble: 'There is none yet.', note: folder };
  const age = Math.floor((Date.now() - Date.parse(last.manifest.madeAt)) / DAY_MS);
  const near = (await onOneDrive(folder, dataFolder)) ? ', on the same drive as the library' : '';
  const note = `the last one ${age === 0 ? 'less than a day' : age === 1 ? 'a day' : `${age} days`} old, ${folder}${near}`;
  if (last.verified?.trouble)
    return { about, trouble: `The last one cannot be restored: ${last.verified.trouble}.`, note };
  return { about, trouble: settings.on && age > 2 ? 'None was made lately.' : null, note };
}
