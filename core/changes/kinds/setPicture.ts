/** Another front cover in the library; pictures are named by their hash in the art store. */
import { defineKind, GONE_TRACK } from './kind.ts';

export interface SetPicture {
  kind: 'set-picture';
  trackId: number;
  before: string | null;
  after: string | null;
}

export const setPicture = (trackId: number, before: string | null, after: string | null): SetPicture => ({
  kind: 'set-picture',
  trackId,
  before,
  after,
});

export const pictureEdit = (item: { kind: string }): SetPicture | null =>
  item.kind === setPictureKind.kind ? (item as SetPicture) : null;

export const setPictureKind = defineKind<SetPicture>({
  kind: 'set-picture',
  area: 'fields',
  inFiles: false,
  touches: ({ trackId }) => ({ tracks: [trackId] }),
  conflict({ trackId, before }, { tracks }) {
    const track = tracks.get(trackId);
    if (!track) return GONE_TRACK;
    return track.artHash === before ? null : 'The cover has changed since';
  },
  apply({ trackId, after }, { tracks }) {
    tracks.get(trackId)!.artHash = after;
  },
  inverse: (item) => ({ ...item, before: item.after, after: item.before }),
  words: ({ before, after }) => ({
    show: 'sentence',
    text: after ? (before ? 'another cover' : 'cover added') : 'cover removed',
  }),
  searched: () => '',
});
