/** A track taken out of the library, with its lists and its history; its files stay where they are. */
import { defineKind, GONE_TRACK } from './kind.ts';

export interface RemoveTrack {
  kind: 'remove-track';
  trackId: number;
  /** As it is called, for the time when it can no longer be asked. */
  name: string;
  /** Out of the library, or back in it. */
  out: boolean;
}

export const removeTrack = (trackId: number, name: string): RemoveTrack => ({
  kind: 'remove-track',
  trackId,
  name,
  out: true,
});

/** The line of a track that has come in; taken back, it goes out again. */
export const cameIn = (trackId: number, name: string): RemoveTrack => ({
  ...removeTrack(trackId, name),
  out: false,
});

export const removeTrackKind = defineKind<RemoveTrack>({
  kind: 'remove-track',
  area: 'fields',
  inFiles: false,
  touches: ({ trackId }) => ({ tracks: [trackId] }),
  conflict({ trackId, out }, { tracks }) {
    if (out) return tracks.has(trackId) ? null : GONE_TRACK;
    return tracks.has(trackId) ? 'The track is in the library already' : null;
  },
  apply({ trackId, out }, { tracks }) {
    if (out) tracks.delete(trackId);
    else tracks.set(trackId, { values: {}, origins: {}, artHash: null });
  },
  inverse: (item) => ({ ...item, out: !item.out }),
  words: ({ name, out }) => ({
    show: 'sentence',
    text: out ? `${name}: out of the library` : `${name}: into the library`,
  }),
  searched: ({ name }) => name,
});
