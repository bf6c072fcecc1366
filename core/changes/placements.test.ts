import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { place, type Placement } from './placements.ts';
import type { Entry } from './snapshot.ts';

const entry = (id: string): Entry => ({ id, kind: 'track', trackId: 1, data: {} });

/** The same, said as plainly as it can be. */
function plainly(entries: readonly Entry[], placements: readonly Placement[]): string[] {
  const order = entries.map((e) => e.id);
  for (const { entryId, before, after } of placements) {
    const at = before ? order.indexOf(entryId) : -1;
    if (at >= 0) order.splice(at, 1);
    if (!after) continue;
    const anchor = after.behind === null ? -1 : order.indexOf(after.behind);
    order.splice(after.behind !== null && anchor < 0 ? Math.min(after.index, order.length) : anchor + 1, 0, entryId);
  }
  return order;
}

test('entries lie behind the one they are put behind, or at their number where that is gone', () => {
  const somewhere = fc.record({ behind: fc.option(fc.integer({ min: 0, max: 14 })), index: fc.nat(14) });
  const acts = fc.array(fc.record({ id: fc.nat(14), out: fc.boolean(), to: somewhere }), { maxLength: 30 });
  fc.assert(
    fc.property(fc.nat(8), acts, (size, all) => {
      const entries = Array.from({ length: size }, (_, i) => entry(`e${i}`));
      const there = new Set(entries.map((e) => e.id));
      const placements = all.map(({ id, out, to }): Placement => {
        const entryId = `e${id}`,
          was = there.has(entryId);
        if (out) there.delete(entryId);
        else there.add(entryId);
        const after = { index: to.index, behind: to.behind === null ? null : `e${to.behind}` };
        return { entryId, trackId: 1, before: was ? { behind: null, index: 0 } : null, after: out ? null : after };
      });
      expect(place(entries, placements).map((e) => e.id)).toEqual(plainly(entries, placements));
    }),
  );
});
