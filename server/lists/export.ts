/** A list as a playlist file: as text to download, or written below a root without overwriting anything. */
import type { ExportWish, ExportedList } from '@early-set/core/api/types';
import { randomUUID } from 'node:crypto';
import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { joined, listedTrack } from '@early-set/core/exchange/listedTrack';
import type { ListedTrack, WriteOptions } from '@early-set/core/exchange/listFile';
import { safeFileName } from '@early-set/core/files/paths';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import type { FilePool } from '../files/filePool.ts';
import { placeNew } from '../files/placeNew.ts';
import { mustBeMounted } from '../library/absolutePath.ts';
import { noticeMissing } from '../library/missedFiles.ts';
import { noteGiven } from '../library/trackFiles.ts';
import { notFound } from '../base/problem.ts';
import type { ListWriter } from './listPool.ts';
import { listContents } from './lists.ts';

/**
 * The playlist file of a list. Tracks whose file is missing stay in it and are named. @throws Problem for a bad
 * template.
 */
export async function exportList(
  database: Database,
  write: ListWriter,
  listId: string,
  wish: ExportWish,
): Promise<ExportedList & { trackIds: number[] }> {
  const { tracks, options, missing, trackIds } = await listed(database, listId, wish);
  return {
    fileName: `${safeFileName(options.name)}.${wish.format}`,
    text: await write({ tracks, format: wish.format, options }),
    tracks: tracks.length,
    missing,
    folder: options.folder,
    trackIds,
  };
}

/** The same as a workbook. */
export async function exportWorkbook(
  database: Database,
  write: ListWriter,
  listId: string,
  wish: ExportWish,
): Promise<{ fileName: string; bytes: Uint8Array; trackIds: number[] }> {
  const { tracks, options, trackIds } = await listed(database, listId, wish);
  const bytes = await write({ tracks, format: 'xlsx', options });
  return { fileName: `${safeFileName(options.name)}.xlsx`, bytes, trackIds };
}

interface Listed {
  tracks: ListedTrack[];
  options: WriteOptions;
  /** Paths of tracks whose files are missing. */
  missing: string[];
  trackIds: number[];
}

/** The tracks of a list as its files say them. */
async function listed(database: Database, listId: string, wish: ExportWish): Promise<Listed> {
  const held = await listContents(database, listId);
  const lost = await noticeMissing(
    database,
    held.entries.flatMap((e) => (e.id > 0 ? e.id : [])),
  );
  const { info, entries: all } = lost > 0 ? await listContents(database, listId) : held;
  // What is no track has no place in a playlist file.
  const entries = all.filter((e) => e.id > 0);
  const roots = new Map((await Root.findAll()).map((r) => [r.id, r.path]));
  const folder = (wish.rootId === null ? entries[0] && roots.get(entries[0].rootId) : roots.get(wish.rootId)) ?? '/';
  const tracks = entries.map(({ rootId, values }, i) =>
    listedTrack(`${roots.get(rootId) ?? ''}/${joined(values.path)}`, values, i + 1),
  );
  const options: WriteOptions = {
    paths: wish.paths,
    folder,
    name: info.name,
    line: wish.line,
  };
  return {
    tracks,
    options,
    missing: entries.filter((e) => e.values.fileState === 'missing').map((e) => joined(e.values.path)),
    trackIds: entries.map((e) => e.id),
  };
}

/**
 * Writes the file at the top of a root; an existing file is kept, the new one gets a number. Returns the file's path.
 */
export async function writeListToRoot(
  { database, files, write, arriving }: { database: Database; files: FilePool; write: ListWriter; arriving: string },
  listId: string,
  wish: ExportWish & { rootId: number },
): Promise<{ path: string; tracks: number; missing: string[] }> {
  const root = await Root.findByPk(wish.rootId);
  if (!root) throw notFound('The folder');
  await mustBeMounted(root);
  const { fileName, text, tracks, missing, trackIds } = await exportList(database, write, listId, wish);
  const temporary = join(arriving, randomUUID());
  try {
    await writeFile(temporary, text, { flag: 'wx', mode: 0o644 });
    const path = join(root.path, await placeNew(files, temporary, root.path, [fileName]));
    await noteGiven(database, trackIds, path, listId);
    return { path, tracks, missing };
  } finally {
    await rm(temporary, { force: true });
  }
}
