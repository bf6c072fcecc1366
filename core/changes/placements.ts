/** Entries of a list put in, taken out and moved. */
import type { Entry } from './snapshot.ts';

/** A place in an order: behind an entry (null: at the top), with the index for when that entry is gone. */
export interface Place {
  behind: string | null;
  index: number;
}
/** One entry put in (before null), taken out (after null) or moved. Placements apply one after the other. */
export interface Placement {
  entryId: string;
  trackId: number | null;
  before: Place | null;
  after: Place | null;
  /** What else is known of it; a track that carries nothing where it is left out. */
  entry?: Pick<Entry, 'kind' | 'data'>;
}

const entryOf = ({ entryId, trackId, entry }: Placement): Entry => ({
  id: entryId,
  trackId,
  kind: entry?.kind ?? 'track',
  data: entry?.data ?? {},
});

interface Link {
  /** Of what is before the first and behind the last: none. */
  entry: Entry | null;
  before: Link;
  behind: Link;
}

/** An order in which a place is found by the entry it is behind: a long list is made or sorted in one pass. */
export class Chain {
  readonly #ends: Link;
  readonly #byId = new Map<string, Link>();

  constructor(entries: readonly Entry[]) {
    const ends = { entry: null } as Link;
    ends.before = ends.behind = this.#ends = ends;
    for (const entry of entries) this.#insert(entry, ends.before);
  }

  /** The entry behind which one is; null at the top. */
  placeOf(id: string): string | null {
    return this.#byId.get(id)?.before.entry?.id ?? null;
  }

  take(id: string): Entry | null {
    const link = this.#byId.get(id);
    if (!link) return null;
    this.#byId.delete(id);
    link.before.behind = link.behind;
    link.behind.before = link.before;
    return link.entry;
  }

  /** Where what it is to be behind is gone, the index counts, at most the end. */
  put(entry: Entry, { behind, index }: Place): void {
    const anchor = behind === null ? this.#ends : (this.#byId.get(behind) ?? this.#at(index));
    this.#insert(entry, anchor);
  }

  entries(): Entry[] {
    const order: Entry[] = [];
    for (let link = this.#ends.behind; link.entry; link = link.behind) order.push(link.entry);
    return order;
  }

  #at(index: number): Link {
    let link = this.#ends;
    for (let i = 0; i < index && link.behind !== this.#ends; i++) link = link.behind;
    return link;
  }

  #insert(entry: Entry, before: Link): void {
    const link: Link = { entry, before, behind: before.behind };
    before.behind.before = link;
    before.behind = link;
    this.#byId.set(entry.id, link);
  }
}

/** Makes placements on an order and returns the new one. Entries whose place is gone go by index. */
export function place(entries: readonly Entry[], placements: readonly Placement[]): Entry[] {
  const order = new Chain(entries);
  for (const p of placements) {
    const there = p.before === null ? null : order.take(p.entryId);
    if (p.after !== null) order.put(there ?? entryOf(p), p.after);
  }
  return order.entries();
}
