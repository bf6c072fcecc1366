/** A list with its files as one zip: as they are, with the tags of the library, and the list as M3U8 beside them. */
import { ZipArchive } from 'archiver';
import { once } from 'node:events';
import { createReadStream } from 'node:fs';
import { mkdir, mkdtemp, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { DEFAULT_STICK } from '@early-set/core/api/stick';
import { safeFileName } from '@early-set/core/files/paths';
import type { PlannedFile } from '@early-set/core/stick/plan';
import { notFound } from '../base/problem.ts';
import { log } from '../base/log.ts';
import { reasonOf } from '../files/reasons.ts';
import { noteGiven } from '../library/trackFiles.ts';
import { makeOf, type StickTools } from './carry.ts';
import { listsFor, namesOf, tracksFor } from './library.ts';
import { playerOf } from './sticks.ts';

type ZipTools = Omit<StickTools, 'plans'>;

const SETTINGS = {
  ...DEFAULT_STICK,
  names: '{{ list }}/{{ counter | pad: 2 }} {% if artist %}{{ artist }} - {% endif %}{{ title }}',
};
/** What is in the making for one lies in a folder that begins so. */
const ZIP = 'zip-';
const NOT_INCLUDED = 'Not included.txt';

/**
 * A zip that is made as it is read; what cannot be put in is named in a text of it.
 * @param arriving a folder of the desk for what is in the making
 * @param gone nobody reads any more
 * @throws Problem when there is no such list
 */
export async function zipWithFiles(
  tools: ZipTools,
  listId: string,
  arriving: string,
  gone: AbortSignal,
): Promise<{ zip: Readable; fileName: string }> {
  const { database, stickPool } = tools;
  const settings = { ...SETTINGS, lists: [listId] };
  const lists = await listsFor(database, settings);
  const [named] = await database.rows<{ name: string }>('SELECT name FROM lists WHERE id = $1 AND NOT removed', [
    listId,
  ]);
  if (!named) throw notFound('The list');
  const ids = [...new Set(lists.flatMap((list) => list.trackIds))];
  await mkdir(arriving, { recursive: true });
  const home = await mkdtemp(join(arriving, ZIP));
  const { whole, refused } = await stickPool.plan({
    ...{
      home,
      writtenFile: join(home, 'none'),
      player: playerOf('folder'),
      settings,
      lists,
      hours: [],
      listId: null,
      whole: true,
    },
    tracks: await tracksFor(database, ids, settings),
  });
  const names = await namesOf(
    database,
    refused.map((r) => r.trackId),
  );
  const zip = new ZipArchive({ zlib: { level: 1 } });
  void fill(tools, zip, whole!, {
    home,
    left: refused.map((r) => `${names.get(r.trackId)?.name ?? ''}: ${r.reason}`),
    gone,
  })
    .catch((error: unknown) => {
      if (!gone.aborted) log.warn(error, 'a zip could not be made');
      zip.destroy();
    })
    .finally(() => rm(home, { recursive: true, force: true }));
  const left = new Set(refused.map((r) => r.trackId));
  const given = ids.filter((id) => !left.has(id));
  await noteGiven(database, given, `download of ${named.name}.zip`, listId);
  return { zip, fileName: `${safeFileName(named.name)}.zip` };
}

/** What was in the making when a process was killed goes. */
export async function removeLeftZips(dataFolder: string): Promise<void> {
  const arriving = join(dataFolder, 'arriving');
  const names = await readdir(arriving).catch(() => []);
  for (const name of names.filter((n) => n.startsWith(ZIP)))
    await rm(join(arriving, name), { recursive: true, force: true });
}

async function fill(
  tools: ZipTools,
  zip: ZipArchive,
  files: readonly PlannedFile[],
  { home, left, gone }: { home: string; left: string[]; gone: AbortSignal },
): Promise<void> {
  const added = (): Promise<unknown> => once(zip, 'entry', { signal: gone });
  for (const [n, { path, madeOf }] of files.entries()) {
    gone.throwIfAborted();
    try {
      const scratch = join(home, String(n));
      const made = await makeOf(tools, madeOf, scratch, gone);
      const done = added();
      // Sound has been packed already.
      zip.append(createReadStream(made.path), { name: path, store: madeOf.is !== 'list' });
      await done;
      if (made.path.startsWith(scratch)) await rm(made.path, { force: true });
    } catch (error) {
      if (gone.aborted) throw error;
      left.push(`${path}: ${reasonOf(error)}`);
    }
  }
  if (left.length > 0) zip.append(`${left.join('\n')}\n`, { name: NOT_INCLUDED });
  await zip.finalize();
}
