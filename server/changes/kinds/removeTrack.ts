import { removeTrackKind, type RemoveTrack } from '@early-set/core/changes/kinds/removeTrack';
import { keepAside, putBack } from '../../library/removedTracks.ts';
import { serverKind } from './kind.ts';

export const removeTrackStored = serverKind<RemoveTrack>({
  kind: removeTrackKind.kind,
  tells: 'tracks',
  wants: ({ trackId }, wants) => void wants.tracks.add(trackId),
  async store({ database, t }, items) {
    await keepAside(
      database,
      items.filter((i) => i.out).map((i) => i.trackId),
      t,
    );
    await putBack(
      database,
      items.filter((i) => !i.out).map((i) => i.trackId),
      t,
    );
  },
});
