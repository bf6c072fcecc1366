/** What tests do with a stick, or a playout system. */
import type { StickAnswer } from '@early-set/core/api/stick';
import type { Applied } from '@early-set/core/api/types';
import { hands } from './hands.ts';
import type { Harness } from './harness.ts';

/** @param id of the one that is meant */
export function stickHands(harness: () => Harness, id: () => number) {
  const { finished } = hands(harness);
  const look = async (listId: string | null = null): Promise<StickAnswer> =>
    (await harness().post(`/sticks/${id()}/look`, { listId }).expect(200)).body as StickAnswer;
  return {
    look,
    /** Writes what was looked at just now, and waits for it. */
    write: async (): Promise<Applied> => {
      const { token } = await look();
      const applied = (await harness().post(`/sticks/${id()}/write`, { token }).expect(200)).body as Applied;
      await finished(applied.changeSetId);
      return applied;
    },
  };
}
