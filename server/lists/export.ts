/** A list as a playlist file: as text to download, or written below a root without overwriting anything. */
import type { ExportWish, ExportedList } from '@early-set/core/api/types';
import { randomUUID } from 'node:crypto';
import { rm, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { TemplateError } from '@early-set/core/exchange/line';
import type { ListedTrack, WriteOptions } from '@early-set/core/exchange/listFile';
import { writeList } from '@early-set/core/exchange/writeList';
import { safeFileName } from '@early-set/core/files/paths';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import type { FilePool } from '../files/filePool.ts';
import { placeNew } from '../files/placeNew.ts';
import { noteGiven } from '../library/trackFiles.ts';
import { notFound, Problem } from '../base/problem.ts';
import { listContents } from './lists.ts';

/**
 * The playlist file of a list. Tracks whose file is missing stay in it and are named. @throws Problem for a bad
 * template.
 */
export async function exportList(
  database: Database,
  listId: string,
  wish: ExportWish,
): Promise<ExportedList & { trackIds: number[] }> {
  const { info, entries: all } = await listContents(database, listId);
  // What is no track has no place in a playlist file.
  const entries = all.filter((e) => e.id > 0);
  const roots = new Map((await Root.findAll()).map((r) => [r.id, r.path]));
  const folder = (wish.rootId === null ? entries[0] && roots.get(entries[0].rootId) : roots.get(wish.rootId)) ?? '/';
  const text = (value: unknown): string =>
    Array.isArray(value) ? value.join('; ') : value === null || value === undefined ? '' : String(value);
  const tracks: ListedTrack[] = entries.map(({ rootId, values }, i) => ({
    path: `${roots.get(rootId) ?? ''}/${text(values.path)}`,
    durationSeconds: typeof values.durationSeconds === 'number' ? values.durationSeconds : null,
    title: text(values.title) || basename(text(values.path)),
    artist: text(values.artist),
    album: text(values.album),
    fields: {
      ...Object.fromEntries(Object.entries(values).map(([k, v]) => [k, Array.isArray(v) ? v.join('; ') : v])),
      number: i + 1,
    },
  }));
  const options: WriteOptions = {
    paths: wish.paths,
    folder,
    name: info.name,
    line: wish.line,
  };
  try {
    return {
      fileName: `${safeFileName(info.name)}.${wish.format}`,
      text: writeList(tracks, wish.format, options),
      tracks: tracks.length,
      missing: entries.filter((e) => e.values.fileState === 'missing').map((e) => text(e.values.path)),
      folder,
      trackIds: entries.map((e) => e.id),
    };
  } catch (error) {
    if (error instanceof TemplateError) throw new Problem(400, 'bad-template', error.message);
    throw error;
  }
}

/**
 * Writes the file at the top of a root; an existing file is kept, the new one gets a number. Returns the file's path.
 */
export async function writeListToRoot(
  { database, files, arriving }: { database: Database; files: FilePool; arriving: string },
  listId: string,
  wish: ExportWish & { rootId: number },
): Promise<{ path: string; tracks: number; missing: string[] }> {
  const root = await Root.findByPk(wish.rootId);
  if (!root) throw notFound('The folder');
  const { fileName, text, tracks, missing, trackIds } = await exportList(database, listId, wish);
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
