/** A file taken out of the copy of the music into the quarantine there, and back. It belongs to no track. */
import { claimOf } from './putAside.ts';
import { defineKind } from './kind.ts';

export interface RemoveCopied {
  kind: 'remove-copied';
  mode: 'remove' | 'put back';
  /** Of the file among those that were copied. */
  id: string;
  rootId: number;
  /** Label of the library folder. */
  root: string;
  path: string;
  size: number;
}

export const removeCopied = (file: Omit<RemoveCopied, 'kind' | 'mode'>): RemoveCopied => ({
  kind: 'remove-copied',
  mode: 'remove',
  ...file,
});

export const removeCopiedKind = defineKind<RemoveCopied>({
  kind: 'remove-copied',
  area: 'files',
  inFiles: true,
  touches: ({ id }) => ({ tracks: [claimOf(id)] }),
  // The copy is looked at when it is changed.
  conflict: () => null,
  apply: () => undefined,
  inverse: (item) => ({ ...item, mode: item.mode === 'remove' ? 'put back' : 'remove' }),
  words: ({ mode, root, path }) => ({
    show: 'sentence',
    text: `${mode === 'remove' ? 'Removed from' : 'Put back into'} the copy of ${root}: ${path}`,
  }),
  searched: ({ root, path }) => `${root}\n${path}`,
});
