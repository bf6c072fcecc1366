/** Covers that go to a destination which keeps pictures of its own. */
import type { Comparison } from './compare.ts';
import { KeptPast } from './kept.ts';

type Sides = Pick<Comparison, 'there' | 'past' | 'settled'>;

/** Covers that are about to be named there, by the hashes of their pictures. */
export function coversIn({ there }: Pick<Sides, 'there'>): string[] {
  const covers = new Set<string>();
  for (const { values } of [there.tracks, there.newTracks].flat())
    if (typeof values.cover === 'string') covers.add(values.cover);
  return [...covers];
}

/** The same without covers that cannot be laid there: their tracks go without, and are asked about again. */
export function withoutCovers<S extends Sides>(sides: S, missing: ReadonlySet<string>): S {
  if (missing.size === 0) return sides;
  const lost = (cover: unknown): boolean => typeof cover === 'string' && missing.has(cover);
  const { tracks, newTracks } = sides.there;
  const settled = new Map(sides.settled);
  for (const { id, values } of [tracks, newTracks].flat()) if (lost(values.cover)) settled.delete(id);
  return {
    ...sides,
    settled,
    there: {
      ...sides.there,
      tracks: tracks.map((t) => {
        const { cover, ...values } = t.values;
        return lost(cover) ? { ...t, values } : t;
      }),
      newTracks: newTracks.map((t) => {
        const { id, path, times, values } = t;
        return lost(values.cover) ? { id, path, times, values: { ...values, cover: null } } : t;
      }),
    },
    past: {
      ...sides.past,
      tracks: sides.past.tracks.map((t) => {
        const { cover, ...values } = t.values;
        return lost(cover) ? KeptPast.of({ trackId: t.trackId, otherId: t.otherId, values }) : t;
      }),
    },
  };
}
