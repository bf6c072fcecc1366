import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Held } from '../fields/values.ts';
import { lockField, typeField } from './fields.ts';
import {
  applyEdit,
  conflictOf,
  inverse,
  inverseOf,
  place,
  type ChangeItem,
  type Entry,
  type ListInfo,
  type ListState,
  type World,
} from './items.ts';
import { addTracks, createList, describeList, moveEntries, removeEntries } from './lists.ts';

const INFO: ListInfo = {
  kind: 'playlist',
  name: 'Slipway night',
  parentId: null,
  position: 1,
  removed: false,
  startsAt: '20:00',
};
const at = '2026-01-01T00:00:00Z';
let made = 0;
const newId = (): string => `e${++made}`;
const listOf = (...trackIds: number[]): ListState => ({
  info: INFO,
  entries: trackIds.map((trackId, i) => ({ id: `s${i}`, trackId })),
});
const apply = (list: ListState | undefined, items: readonly ChangeItem[]): ListState | undefined =>
  items.reduce<ListState | undefined>((state, i) => (i.kind === 'edit-list' ? applyEdit(state, i.edit) : state), list);
const tracksOf = (list: ListState | undefined): number[] => list!.entries.map((e) => e.trackId);

describe('drafts for lists', () => {
  test('tracks go to the end, or where they are dropped; a playlist may hold one twice', () => {
    const list = listOf(1, 2);
    expect(tracksOf(apply(list, addTracks('l', list, [2, 3], newId)))).toEqual([1, 2, 2, 3]);
    expect(tracksOf(apply(list, addTracks('l', list, [8, 9], newId, 1)))).toEqual([1, 8, 9, 2]);
  });
  test('a crate holds a track once', () => {
    const crate: ListState = { ...listOf(1), info: { ...INFO, kind: 'crate' } };
    expect(tracksOf(apply(crate, addTracks('l', crate, [1, 2, 2], newId)))).toEqual([1, 2]);
    expect(addTracks('l', crate, [1], newId)).toEqual([]);
  });
  test('several are moved together, in their order', () => {
    const list = listOf(1, 2, 3, 4, 5);
    expect(tracksOf(apply(list, moveEntries('l', list, ['s0', 's2'], 's3')))).toEqual([2, 4, 1, 3, 5]);
    expect(tracksOf(apply(list, moveEntries('l', list, ['s4', 's3'], null)))).toEqual([4, 5, 1, 2, 3]);
    expect(moveEntries('l', list, ['s1'], 's0')).toEqual([]);
  });
  test('renaming to the same name is no change', () => {
    expect(describeList('l', listOf(), { name: INFO.name })).toEqual([]);
    expect(describeList('l', listOf(), { name: 'Other', removed: true })[0]).toMatchObject({
      edit: { before: { name: INFO.name, removed: false }, after: { name: 'Other', removed: true } },
    });
  });
});

/** Random edits, as two people at two tabs would make them. */
const edits = fc.array(
  fc.oneof(
    fc.record({
      do: fc.constant('add' as const),
      tracks: fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 4 }),
      at: fc.nat(12),
    }),
    fc.record({ do: fc.constant('remove' as const), picks: fc.array(fc.nat(12), { minLength: 1, maxLength: 4 }) }),
    fc.record({
      do: fc.constant('move' as const),
      picks: fc.array(fc.nat(12), { minLength: 1, maxLength: 4 }),
      behind: fc.option(fc.nat(12)),
    }),
  ),
  { maxLength: 12 },
);

describe('taking back', () => {
  test('any series of edits can be undone step by step to exactly the beginning, and redone', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 9 }), { maxLength: 8 }), edits, (start, series) => {
        const first = listOf(...start);
        let now: ListState | undefined = first;
        const done: ChangeItem[] = [];
        for (const e of series) {
          const pick = (n: number): string | undefined => now!.entries[n % Math.max(1, now!.entries.length)]?.id;
          const ids = 'picks' in e ? e.picks.map(pick).filter((x): x is string => x !== undefined) : [];
          const items =
            e.do === 'add'
              ? addTracks('l', now!, e.tracks, newId, Math.min(e.at, now!.entries.length))
              : e.do === 'remove'
                ? removeEntries('l', now!, ids)
                : moveEntries('l', now!, ids, e.behind === null ? null : (pick(e.behind) ?? null));
          const world: World = { held: () => undefined, picture: () => undefined, list: () => now };
          for (const item of items) {
            expect(conflictOf(item, world)).toBeNull();
            now = apply(now, [item]);
          }
          done.push(...items);
        }
        const last = now;
        const back = inverseOf(done);
        expect(apply(now, back)).toEqual(first);
        expect(apply(first, inverseOf(back))).toEqual(last);
      }),
    );
  });
  test('the inverse of the inverse is the item', () => {
    const item: ChangeItem = {
      kind: 'set-field',
      trackId: 1,
      field: 'title',
      before: null,
      after: { value: 'a', origin: 'typed', at, locked: false },
    };
    expect(inverse(inverse(item))).toEqual(item);
  });
  test('making a list is taken back whole, but not when it has been filled since', () => {
    const items = createList('l', INFO, [4, 5], newId);
    const full = apply(undefined, items);
    expect(tracksOf(full)).toEqual([4, 5]);
    expect(apply(full, inverseOf(items))).toBeUndefined();
    const filled = apply(full, addTracks('l', full!, [6], newId))!;
    const [, gone] = inverseOf(items);
    expect(conflictOf(gone!, { held: () => undefined, picture: () => undefined, list: () => filled })).toBe(
      'The list has been filled since',
    );
  });
});

describe('conflicts', () => {
  const held = (value: string, locked = false): Held => ({ value, origin: 'typed', at, locked });
  const world = (now: Held | null | undefined): World => ({
    held: () => now,
    picture: () => undefined,
    list: () => undefined,
  });
  const item: ChangeItem = { kind: 'set-field', trackId: 1, field: 'title', before: held('a'), after: held('b') };
  test('a field that has changed, is locked, or whose track is gone', () => {
    expect(conflictOf(item, world(held('a')))).toBeNull();
    expect(conflictOf(item, world(held('c')))).toBe('The field has changed since');
    expect(conflictOf(item, world(undefined))).toBe('The track is no longer in the library');
    expect(conflictOf({ ...item, before: held('a', true), after: held('b', true) }, world(held('a', true)))).toBe(
      'The field is locked',
    );
  });
  test('entries that came or went meanwhile', () => {
    const list = listOf(1, 2);
    const [remove] = removeEntries('l', list, ['s0']);
    const after = apply(list, [remove!]);
    expect(conflictOf(remove!, { held: () => undefined, picture: () => undefined, list: () => after })).toBe(
      'The entry is no longer in the list',
    );
    expect(conflictOf(inverse(remove!), { held: () => undefined, picture: () => undefined, list: () => list })).toBe(
      'The entry is in the list already',
    );
    expect(conflictOf(remove!, { held: () => undefined, picture: () => undefined, list: () => undefined })).toBe(
      'The list is no longer there',
    );
  });
  test('an entry whose neighbour is gone goes back to its number', () => {
    const entries: Entry[] = [{ id: 'x', trackId: 7 }];
    expect(
      place(entries, [{ entryId: 'n', trackId: 9, before: null, after: { behind: 'gone', index: 5 } }]).map(
        (e) => e.id,
      ),
    ).toEqual(['x', 'n']);
  });
});

describe('drafts for fields', () => {
  const held: Held = { value: 'Ferryman', origin: 'file tag', at, locked: false };
  test('only what changes is drafted; locked fields are counted, not touched', () => {
    const { items, locked } = typeField(
      'title',
      [
        { trackId: 1, held },
        { trackId: 2, held: { ...held, locked: true, value: 'x' } },
        { trackId: 3, held: { ...held, value: 'New' } },
      ],
      'New',
      at,
    );
    expect(items).toEqual([
      {
        kind: 'set-field',
        trackId: 1,
        field: 'title',
        before: held,
        after: { value: 'New', origin: 'typed', at, locked: false },
      },
    ]);
    expect(locked).toEqual([2]);
  });
  test('locking keeps value and origin', () => {
    expect(lockField('title', [{ trackId: 1, held }], true, at)).toEqual([
      { kind: 'set-field', trackId: 1, field: 'title', before: held, after: { ...held, locked: true } },
    ]);
    expect(lockField('title', [{ trackId: 1, held }], false, at)).toEqual([]);
  });
});
