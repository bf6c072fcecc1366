import { mergeTracksKind, type MergeTracks } from '@early-set/core/changes/kinds/mergeTracks';
import { mergeInto, splitFrom } from '../../library/removedTracks.ts';
import { serverKind } from './kind.ts';

export const mergeTracksStored = serverKind<MergeTracks>({
  kind: mergeTracksKind.kind,
  tells: 'tracks',
  wants({ trackId, otherId }, wants) {
    wants.tracks.add(trackId);
    wants.tracks.add(otherId);
    wants.filesOf.add(trackId);
    wants.filesOf.add(otherId);
  },
  async store({ database, t }, items) {
    for (const { trackId, otherId, one } of items) await (one ? mergeInto : splitFrom)(database, trackId, otherId, t);
  },
});
