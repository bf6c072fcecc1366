/** The place behind the entry in hand, which is to be filled. */
import type { ListContents, ListEntryRow } from '@early-set/core/api/types';
import type { FollowPlace } from '@early-set/core/arrange/follow';
import { wishedAt } from '@early-set/core/arrange/shape';
import { shapeOf } from '../useSmoothing.ts';

/** So many entries on each side are near. */
const NEAR = 3;

export interface FilledPlace extends FollowPlace {
  /** Index that a new entry gets. */
  index: number;
  from: ListEntryRow | null;
  to: ListEntryRow | null;
}

/** @param inHand the entry behind which something is put; null: at the end */
export function placeBehind({ info, entries }: ListContents, inHand: string | null): FilledPlace {
  const at = entries.findIndex((e) => e.entryId === inHand);
  const index = at < 0 ? entries.length : at + 1;
  const trackOf = (e: ListEntryRow | undefined): ListEntryRow | null => (e && e.id > 0 ? e : null);
  const from = trackOf(entries[index - 1]),
    to = trackOf(entries[index]);
  const shape = shapeOf(info.shape);
  return {
    index,
    from,
    to,
    before: from?.values ?? null,
    after: to?.values ?? null,
    now: Date.now(),
    wished: shape && wishedAt(shape, entries.length > 0 ? index / entries.length : 0),
    near: entries
      .slice(Math.max(0, index - NEAR), index + NEAR)
      .filter((e) => e.id > 0)
      .map((e) => e.values),
  };
}
