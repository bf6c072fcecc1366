/**
 * Two tracks become one: what stood for the second in lists stands for the first, and its files become copies of the
 * first's. Values that the first lacks are edits of their own in the same draft.
 */
import { defineKind, GONE_TRACK } from './kind.ts';

export interface MergeTracks {
  kind: 'merge-tracks';
  /** Stays. */
  trackId: number;
  /** Goes into it. */
  otherId: number;
  /** The other's name, for the time when it can no longer be asked. */
  name: string;
  /** Made one, or two again. */
  one: boolean;
}

export const mergeTracks = (trackId: number, otherId: number, name: string): MergeTracks => ({
  kind: 'merge-tracks',
  trackId,
  otherId,
  name,
  one: true,
});

export const mergeTracksKind = defineKind<MergeTracks>({
  kind: 'merge-tracks',
  area: 'fields',
  inFiles: false,
  touches: ({ trackId, otherId }) => ({ tracks: [trackId, otherId] }),
  conflict({ trackId, otherId, one }, { tracks }) {
    if (trackId === otherId) return 'A track cannot be merged with itself';
    if (!tracks.has(trackId)) return GONE_TRACK;
    if (one) return tracks.has(otherId) ? null : GONE_TRACK;
    return tracks.has(otherId) ? 'The other track is in the library already' : null;
  },
  apply({ trackId, otherId, one }, { tracks, lists, files }) {
    if (!one) {
      tracks.set(otherId, { values: {}, origins: {}, artHash: null });
      return;
    }
    tracks.delete(otherId);
    for (const [id, file] of files)
      if (file.trackId === otherId)
        files.set(id, { ...file, trackId, role: file.role === 'main' ? 'copy' : file.role });
    for (const [id, list] of lists)
      lists.set(id, {
        ...list,
        entries: list.entries.map((e) => (e.trackId === otherId ? { ...e, trackId } : e)),
      });
  },
  inverse: (item) => ({ ...item, one: !item.one }),
  words: ({ name, one }) => ({
    show: 'sentence',
    text: one ? `${name} merged into it` : `${name} its own track again`,
  }),
  searched: ({ name }) => name,
});
