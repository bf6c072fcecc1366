/** Lists made within a draft, with the crates that they lie in. */
import { randomUUID } from 'node:crypto';
import type { ListLine } from '@early-set/core/api/types';
import type { ChangeItem } from '@early-set/core/changes/items';
import { createList } from '@early-set/core/changes/lists';
import type { ListInfo } from '@early-set/core/changes/snapshot';
import { infoOf } from './lists.ts';

export interface ListMaker {
  /** What makes them. */
  items: ChangeItem[];
  /** The crate of a place, made on the way where it is not there; null: the top. */
  crateFor(place: readonly string[]): string | null;
  make(kind: 'crate' | 'playlist', name: string, parentId: string | null, trackIds: number[]): string;
}

/** @param there all lists; those that are made are added to them */
export function listMaker(there: readonly ListLine[]): ListMaker {
  const items: ChangeItem[] = [];
  const lines = [...there];
  const make: ListMaker['make'] = (kind, name, parentId, trackIds) => {
    const id = randomUUID(),
      info: ListInfo = infoOf(lines, kind, name, parentId);
    items.push(...createList(id, info, trackIds, randomUUID));
    lines.push({ id, ...info, updatedAt: '', tracks: trackIds.length, durationSeconds: 0 } as ListLine);
    return id;
  };
  return {
    items,
    make,
    crateFor(place) {
      let parentId: string | null = null;
      for (const name of place) {
        const found = lines.find((l) => !l.removed && l.kind === 'crate' && l.parentId === parentId && l.name === name);
        parentId = found?.id ?? make('crate', name, parentId, []);
      }
      return parentId;
    },
  };
}
