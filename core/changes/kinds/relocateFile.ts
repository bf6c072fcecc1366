/** A file of a track put elsewhere: moved or renamed, copied, taken into quarantine, restored from there. */
import { nameTrouble, refKey, sameRef, type FileRef } from '../../files/fileRef.ts';
import type { FileState, Snapshot } from '../snapshot.ts';
import { defineKind, GONE_TRACK } from './kind.ts';

export type RelocateMode = 'move' | 'copy' | 'retire' | 'restore';

export interface RelocateFile {
  kind: 'relocate-file';
  trackId: number;
  /** The file that is put elsewhere; of a copy, the one that comes into being. */
  fileId: string;
  mode: RelocateMode;
  /** What a copy is made of. */
  source?: FileRef;
  /** Where the file lies; null for a copy that is not there yet. */
  before: FileRef | null;
  /** Where it will lie. */
  after: FileRef;
  /** What wants it there, as the name of a rule. */
  why?: string;
}

export const relocateFile = (
  mode: RelocateMode,
  file: { trackId: number; fileId: string },
  before: FileRef | null,
  after: FileRef,
  source?: FileRef,
): RelocateFile => ({
  kind: 'relocate-file',
  trackId: file.trackId,
  fileId: file.fileId,
  mode,
  ...(source ? { source } : {}),
  before,
  after,
});

export const relocation = (item: { kind: string }): RelocateFile | null =>
  item.kind === relocateFileKind.kind ? (item as RelocateFile) : null;

/** Below each root; scans pass over names that begin with a dot. */
export const QUARANTINE = '.early-set-quarantine';

/** Where a file goes in its root's quarantine: under its own path, in a folder that no other file has. */
export const quarantined = ({ rootId, path }: FileRef, fileId: string): FileRef => ({
  rootId,
  path: `${QUARANTINE}/${fileId}/${path.slice(path.lastIndexOf('/') + 1)}`,
});

/** How a file is afterwards. */
export const stateAfter = (mode: RelocateMode): FileState => (mode === 'retire' ? 'retired' : 'here');

function conflict({ trackId, fileId, mode, before, after }: RelocateFile, snapshot: Snapshot): string | null {
  const file = snapshot.files.get(fileId);
  if (!snapshot.tracks.has(trackId)) return GONE_TRACK;
  if (mode === 'copy') {
    if (file) return 'The copy is there already';
  } else if (!file) return 'The file is no longer known';
  if (file && before && !sameRef(file.ref, before)) return 'The file has been moved or renamed since';
  for (const ref of before ? [before, after] : [after]) {
    const root = snapshot.roots.get(ref.rootId);
    if (!root) return 'The folder is no longer taken in';
    if (root.away) return `The drive of ${root.label} is not there`;
  }
  const trouble = nameTrouble(after.path, snapshot.roots.get(after.rootId)!.fileSystem);
  if (trouble) return trouble;
  const holder = snapshot.places.get(refKey(after));
  return holder !== undefined && holder !== fileId ? 'Another track has this place already' : null;
}

const WORDS: Record<RelocateMode, string> = {
  move: 'File',
  copy: 'Copy',
  retire: 'Into quarantine',
  restore: 'Out of quarantine',
};

export const relocateFileKind = defineKind<RelocateFile>({
  kind: 'relocate-file',
  area: 'files',
  inFiles: true,
  touches: ({ trackId }) => ({ tracks: [trackId] }),
  conflict,
  apply({ trackId, fileId, mode, before, after }, { files, places }) {
    const there = files.get(fileId);
    if (before) places.delete(refKey(before));
    places.set(refKey(after), fileId);
    files.set(fileId, {
      ...(there ?? { id: fileId, trackId, role: 'copy', size: 0, modifiedMs: 0 }),
      ref: after,
      state: stateAfter(mode),
    });
  },
  inverse(item) {
    const file = { trackId: item.trackId, fileId: item.fileId };
    switch (item.mode) {
      case 'copy':
        return relocateFile('retire', file, item.after, quarantined(item.after, item.fileId));
      case 'move':
        return relocateFile('move', file, item.after, item.before!);
      case 'retire':
        return relocateFile('restore', file, item.after, item.before!);
      case 'restore':
        return relocateFile('retire', file, item.after, item.before!);
    }
  },
  words: ({ mode, before, source, after, why }) =>
    mode === 'retire' || mode === 'restore'
      ? { show: 'sentence', text: `${WORDS[mode]}: ${(mode === 'retire' ? before : after)?.path ?? ''}` }
      : {
          show: 'texts',
          label: why ? `${WORDS[mode]}, ${why}` : WORDS[mode],
          before: (before ?? source)?.path ?? '',
          after: after.path,
        },
  searched: ({ before, after }) => `${before?.path ?? ''}\n${after.path}`,
});
