/** A list as a playlist file: as text to download, or written below a root without overwriting anything. */
import type { ExportWish, ExportedList } from '@early-set/core/api/types';
import { open, rm } from 'node:fs/promises';
import { basename, dirname } from 'node:path';
import {
  TemplateError,
  writePlaylist,
  type ListedTrack,
  type PlaylistFileOptions,
} from '@early-set/core/exchange/playlistFiles';
import { safeFileName } from '@early-set/core/files/paths';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import { resolveForWriting } from '../media/roots.ts';
import { notFound, Problem } from '../problem.ts';
import { listContents } from './lists.ts';

/** The playlist file of a list. Tracks whose file is missing stay in it and are named. @throws Problem for a bad template. */
export async function exportList(database: Database, listId: string, wish: ExportWish): Promise<ExportedList> {
  const contents = await listContents(database, listId);
  const roots = new Map((await Root.findAll()).map((r) => [r.id, r.path]));
  const folder =
    (wish.rootId === null ? contents.entries[0] && roots.get(contents.entries[0].rootId) : roots.get(wish.rootId)) ??
    '/';
  const text = (value: unknown): string =>
    Array.isArray(value) ? value.join('; ') : value === null || value === undefined ? '' : String(value);
  const tracks: ListedTrack[] = contents.entries.map(({ rootId, values }, i) => ({
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
  const options: PlaylistFileOptions = {
    format: wish.format,
    paths: wish.paths,
    folder,
    name: contents.info.name,
    line: wish.line,
  };
  try {
    return {
      fileName: `${safeFileName(contents.info.name)}.${wish.format}`,
      text: writePlaylist(tracks, options),
      tracks: tracks.length,
      missing: contents.entries.filter((e) => e.values.fileState === 'missing').map((e) => text(e.values.path)),
      folder,
    };
  } catch (error) {
    if (error instanceof TemplateError) throw new Problem(400, 'bad-template', error.message);
    throw error;
  }
}

/** Writes the file at the top of a root; an existing file is kept, the new one gets a number. Returns the file's path. */
export async function writeListToRoot(
  database: Database,
  listId: string,
  wish: ExportWish & { rootId: number },
): Promise<{ path: string; tracks: number; missing: string[] }> {
  const root = await Root.findByPk(wish.rootId);
  if (!root) throw notFound('The folder');
  const { fileName, text, tracks, missing } = await exportList(database, listId, wish);
  const dot = fileName.lastIndexOf('.');
  for (let n = 1; n < 1000; n++) {
    const name = n === 1 ? fileName : `${fileName.slice(0, dot)} (${n})${fileName.slice(dot)}`;
    const path = await resolveForWriting(root.path, [name]);
    let file;
    try {
      file = await open(path, 'wx');
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      if (code === 'EEXIST') continue;
      throw writeProblem(code, dirname(path));
    }
    try {
      await file.writeFile(text);
      await file.sync();
      return { path, tracks, missing };
    } catch (error) {
      await rm(path, { force: true });
      throw writeProblem((error as NodeJS.ErrnoException).code, dirname(path));
    } finally {
      await file.close();
    }
  }
  throw new Problem(409, 'file-exists', `There are too many files named ${fileName} in ${root.path}`);
}

function writeProblem(code: string | undefined, folder: string): Problem {
  if (code === 'ENOSPC')
    return new Problem(507, 'no-space', `There is no space left in ${folder}; nothing was written`);
  if (code === 'EACCES' || code === 'EPERM' || code === 'EROFS')
    return new Problem(403, 'read-only', `${folder} may not be written to`);
  if (code === 'ENOENT') return new Problem(404, 'folder-not-found', `${folder} is not there (any more)`);
  return new Problem(500, 'not-written', `The file could not be written to ${folder} (${code ?? 'unknown reason'})`);
}
