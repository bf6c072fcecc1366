/**
 * What is no music put aside: a file into quarantine and back, an empty folder removed and made again. None of it
 * belongs to a track.
 */
import { nameTrouble, refKey, type FileRef } from '../../files/fileRef.ts';
import { quarantined } from './relocateFile.ts';
import { defineKind } from './kind.ts';

export interface PutAside {
  kind: 'put-aside';
  what: 'file' | 'folder';
  mode: 'retire' | 'restore';
  /** Of the file while it is put aside; of a folder, for its lines alone. */
  id: string;
  before: FileRef;
  /** Of a folder the same place. */
  after: FileRef;
  /** As it was found; bytes and milliseconds since 1970. */
  size: number;
  modifiedMs: number;
  /** What it is, as the page says it. */
  reason: string;
}

export type Aside = Pick<PutAside, 'what' | 'id' | 'size' | 'modifiedMs' | 'reason'> & { ref: FileRef };

/** Puts a file into its root's quarantine, or removes an empty folder. */
export const putAside = ({ ref, ...thing }: Aside): PutAside => ({
  kind: 'put-aside',
  mode: 'retire',
  ...thing,
  before: ref,
  after: thing.what === 'file' ? quarantined(ref, thing.id) : ref,
});

/** Puts it back, to where it lay or beside. */
export const putBack = ({ ref, ...thing }: Aside, after: FileRef): PutAside => ({
  kind: 'put-aside',
  mode: 'restore',
  ...thing,
  before: ref,
  after,
});

/**
 * Lines about the same thing keep their order by it, as those of a track do by the track's number; below zero, where no
 * track is.
 */
export const claimOf = (id: string): number => -(Number.parseInt(id.slice(0, 8), 16) & 0x7fffffff) - 1;

export const putAsideKind = defineKind<PutAside>({
  kind: 'put-aside',
  area: 'files',
  inFiles: true,
  touches: ({ id }) => ({ tracks: [claimOf(id)] }),
  conflict({ before, after }, { roots, places }) {
    const root = roots.get(before.rootId);
    if (!root) return 'The folder is no longer taken in';
    if (root.away) return `The drive of ${root.label} is not there`;
    if (places.has(refKey(before))) return 'This is music of the library by now';
    if (places.has(refKey(after))) return 'Another file has this place already';
    return nameTrouble(after.path, root.fileSystem);
  },
  // Files that are no music are no part of what a snapshot holds.
  apply: () => undefined,
  inverse: (item) => ({
    ...item,
    mode: item.mode === 'retire' ? 'restore' : 'retire',
    before: item.after,
    after: item.before,
  }),
  words({ what, mode, before, after }) {
    const { path } = mode === 'retire' ? before : after;
    if (what === 'folder')
      return { show: 'sentence', text: `Empty folder ${mode === 'retire' ? 'removed' : 'made again'}: ${path}` };
    return { show: 'sentence', text: `${mode === 'retire' ? 'Into' : 'Out of'} quarantine: ${path}` };
  },
  searched: ({ before, after }) => `${before.path}\n${after.path}`,
});
