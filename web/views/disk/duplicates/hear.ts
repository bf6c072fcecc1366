/** Auditions a file of a group; when another one of them is playing, from the same moment. */
import type { DuplicateGroupLine } from '@early-set/core/api/disk';
import type { TrackDetails } from '@early-set/core/api/types';
import { audition, seek, soundOut, trackInHand } from '../../../audition/player.ts';
import { complain } from '../../../data/actions.ts';
import { get } from '../../../data/api.ts';

export function hearFrom(group: DuplicateGroupLine, at: number): void {
  const file = group.files[at];
  if (!file) return;
  void get<TrackDetails>(`/tracks/${file.trackId}`).then((track) => {
    const now = trackInHand();
    const from = now === null ? -1 : group.trackIds.indexOf(now);
    const moment = from < 0 ? null : soundOut().position + group.offsets[from]! - group.offsets[at]!;
    audition(track);
    if (moment !== null && from !== at) seek(moment);
  }, complain);
}
