/** What kinds of lists are called. */
import type { ListKind } from '@early-set/core/changes/snapshot';

export const KIND_WORDS = {
  crate: 'crate',
  playlist: 'playlist',
  hour: 'hour',
  clock: 'format clock',
} as const satisfies Record<ListKind, string>;
