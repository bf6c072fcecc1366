/** Of the files out of place, those of an album, of a folder as they lie now, or of one in which they are wanted. */
import type { OutOfPlaceLine } from '@early-set/core/api/disk';
import type { FileRef } from '@early-set/core/files/fileRef';
import type { FolderCount } from '@early-set/core/files/folderTree';
import { folderOf } from '@early-set/core/files/paths';

export type Side = 'now' | 'wanted';
export type Only = { album: string } | { folder: FileRef; side: Side };

const pathOn = (line: OutOfPlaceLine, side: Side): string => (side === 'now' ? line.path : line.wanted);

export function isOf(line: OutOfPlaceLine, only: Only): boolean {
  if ('album' in only) return line.album === only.album;
  const { rootId, path } = only.folder;
  return line.rootId === rootId && (path === '' || pathOn(line, only.side).startsWith(`${path}/`));
}

export const onlyWords = (only: Only): string =>
  'album' in only
    ? only.album || 'no album'
    : `${only.side === 'now' ? 'now in' : 'wanted in'} ${only.folder.path || 'the library folder'}`;

/** Folders with the files that leave them, or come into them. */
export function foldersOn(lines: readonly OutOfPlaceLine[], side: Side): FolderCount[] {
  const counts = new Map<string, FolderCount>();
  for (const line of lines) {
    const path = folderOf(pathOn(line, side)).slice(0, -1);
    const key = `${line.rootId}:${path}`;
    const there = counts.get(key);
    if (there) there.count++;
    else counts.set(key, { rootId: line.rootId, root: line.root, path, count: 1 });
  }
  return [...counts.values()];
}

export interface AlbumCount {
  album: string;
  files: number;
  /** Of them, in the draft. */
  drafted: number;
}

export function albumsOf(lines: readonly OutOfPlaceLine[], inDraft: (line: OutOfPlaceLine) => boolean): AlbumCount[] {
  const albums = new Map<string, AlbumCount>();
  for (const line of lines) {
    const there = albums.get(line.album) ?? { album: line.album, files: 0, drafted: 0 };
    there.files++;
    if (inDraft(line)) there.drafted++;
    albums.set(line.album, there);
  }
  return [...albums.values()].sort((a, b) => a.album.localeCompare(b.album, 'en', { numeric: true }));
}
