/** Names that are known, and tracks to be cleaned, for tests. */
import type { TrackValues } from '../fields/values.ts';
import { knownNames } from '../clean/known.ts';
import type { CleanContext, CleanTrack } from '../clean/runSteps.ts';

export const context: CleanContext = {
  known: knownNames([
    ['Vesna Rook', 5],
    ['Brine Choir', 5],
    ['Marrow & Pine', 5],
    ['Low Tide Assembly', 2],
  ]),
  answers: {},
};

let next = 1;
/** A track with a number of its own. */
export const track = (values: TrackValues, path = 'Inbox/x.mp3', locked: string[] = []): CleanTrack => ({
  id: next++,
  rootId: 1,
  path,
  values,
  locked,
});
