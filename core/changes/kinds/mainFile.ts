/** Which of a track's files is the one that is played, shown and written: its main file. The others are copies. */
import { defineKind, GONE_TRACK } from './kind.ts';

/** A file of a track. */
export interface OwnFile {
  fileId: string;
  path: string;
}

export interface MainFile {
  kind: 'main-file';
  trackId: number;
  before: OwnFile;
  after: OwnFile;
}

export const mainFile = (trackId: number, before: OwnFile, after: OwnFile): MainFile => ({
  kind: 'main-file',
  trackId,
  before,
  after,
});

export const mainFileKind = defineKind<MainFile>({
  kind: 'main-file',
  area: 'files',
  inFiles: false,
  touches: ({ trackId }) => ({ tracks: [trackId] }),
  conflict({ trackId, before, after }, { tracks, files }) {
    const was = files.get(before.fileId),
      next = files.get(after.fileId);
    if (!tracks.has(trackId)) return GONE_TRACK;
    if (!was || !next || was.trackId !== trackId || next.trackId !== trackId) return 'The file is no longer known';
    return was.role === 'main' ? null : 'Another file is the main one by now';
  },
  apply({ before, after }, { files }) {
    files.set(before.fileId, { ...files.get(before.fileId)!, role: 'copy' });
    files.set(after.fileId, { ...files.get(after.fileId)!, role: 'main' });
  },
  inverse: (item) => ({ ...item, before: item.after, after: item.before }),
  words: ({ before, after }) => ({ show: 'texts', label: 'Main file', before: before.path, after: after.path }),
  searched: ({ before, after }) => `${before.path}\n${after.path}`,
});
