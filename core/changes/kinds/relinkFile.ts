/** A track's file is this one: nothing is moved, only what the library knows of where it lies. */
import { refKey, sameRef, type FileRef } from '../../files/fileRef.ts';
import type { FileState } from '../snapshot.ts';
import { defineKind, GONE_TRACK } from './kind.ts';

/** A file as it lies on its drive. */
export interface LyingFile {
  ref: FileRef;
  state: FileState;
  size: number;
  modifiedMs: number;
}

export interface RelinkFile {
  kind: 'relink-file';
  trackId: number;
  fileId: string;
  before: LyingFile;
  after: LyingFile;
}

export const relinkFile = (trackId: number, fileId: string, before: LyingFile, after: LyingFile): RelinkFile => ({
  kind: 'relink-file',
  trackId,
  fileId,
  before,
  after,
});

export const relinkFileKind = defineKind<RelinkFile>({
  kind: 'relink-file',
  area: 'files',
  inFiles: false,
  touches: ({ trackId }) => ({ tracks: [trackId] }),
  conflict({ trackId, fileId, before, after }, { tracks, files, places, roots }) {
    const file = files.get(fileId);
    if (!tracks.has(trackId)) return GONE_TRACK;
    if (!file) return 'The file is no longer known';
    if (!sameRef(file.ref, before.ref)) return 'The file has been moved or renamed since';
    if (!roots.has(after.ref.rootId)) return 'The folder is no longer taken in';
    const holder = places.get(refKey(after.ref));
    return holder !== undefined && holder !== fileId ? 'Another track has this file already' : null;
  },
  apply({ fileId, before, after }, { files, places }) {
    places.delete(refKey(before.ref));
    places.set(refKey(after.ref), fileId);
    files.set(fileId, { ...files.get(fileId)!, ...after });
  },
  inverse: (item) => ({ ...item, before: item.after, after: item.before }),
  words: ({ before, after }) => ({
    show: 'texts',
    label: 'File found again',
    before: before.ref.path,
    after: after.ref.path,
  }),
  searched: ({ before, after }) => `${before.ref.path}\n${after.ref.path}`,
});
