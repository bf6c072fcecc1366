import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Held } from '../fields/values.ts';
import { writeRule } from '../conditions/rule.ts';
import { lockField, typeField } from './fields.ts';
import { conflictOf, inverse, inverseOf, run, type ChangeItem } from './items.ts';
import { applyEdit, editList, listEdit } from './kinds/editList.ts';
import { place } from './placements.ts';
import { setField } from './kinds/setField.ts';
import { emptySnapshot, type Entry, type ListInfo, type ListState, type Snapshot } from './snapshot.ts';
import {
  addEntry,
  addTracks,
  copyList,
  createList,
  describeEntry,
  describeList,
  moveEntries,
  removeEntries,
  reorderEntries,
  replaceEntries,
  swapEntry,
} from './lists.ts';

const INFO: ListInfo = {
  kind: 'playlist',
  name: 'Slipway night',
  parentId: null,
  position: 1,
  removed: false,
  startsAt: '20:00',
  shape: null,
  rule: null,
  colour: null,
  note: null,
  wishedSeconds: null,
  reserveId: null,
  mirror: null,
  mirrorOf: null,
  clock: null,
  onAirAt: null,
};
const at = '2026-01-01T00:00:00Z';
let made = 0;
const newId = (): string => `e${++made}`;
const listOf = (...trackIds: number[]): ListState => ({
  info: INFO,
  entries: trackIds.map((trackId, i) => ({ id: `s${i}`, kind: 'track', trackId, data: {} })),
});
const apply = (list: ListState | undefined, items: readonly ChangeItem[]): ListState | undefined =>
  items.reduce<ListState | undefined>((state, i) => applyEdit(state, listEdit(i)!.edit), list);
const tracksOf = (list: ListState | undefined): (number | null)[] => list!.entries.map((e) => e.trackId);

const withList = (list: ListState | undefined): Snapshot => ({
  ...emptySnapshot(),
  lists: new Map(list ? [['l', list]] : []),
});

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
    fc.record({
      do: fc.constant('replace' as const),
      tracks: fc.array(fc.integer({ min: 1, max: 9 }), { maxLength: 6 }),
    }),
    fc.record({ do: fc.constant('swap' as const), pick: fc.nat(12), track: fc.integer({ min: 1, max: 9 }) }),
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
                : e.do === 'replace'
                  ? replaceEntries('l', now!, e.tracks, newId)
                  : e.do === 'swap'
                    ? swapEntry('l', now!, pick(e.pick) ?? '', e.track, newId)
                    : moveEntries('l', now!, ids, e.behind === null ? null : (pick(e.behind) ?? null));
          for (const item of items) {
            expect(conflictOf(item, withList(now))).toBeNull();
            now = apply(now, [item]);
          }
          if (e.do === 'replace') expect(tracksOf(now)).toEqual(e.tracks);
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
    const item = setField(1, 'title', null, { value: 'a', origin: 'typed', at, locked: false });
    expect(inverse(inverse(item))).toEqual(item);
  });
  test('making a list is taken back whole, but not when it has been filled since', () => {
    const items = createList('l', INFO, [4, 5], newId);
    const full = apply(undefined, items);
    expect(tracksOf(full)).toEqual([4, 5]);
    expect(apply(full, inverseOf(items))).toBeUndefined();
    const filled = apply(full, addTracks('l', full!, [6], newId))!;
    const [, gone] = inverseOf(items);
    expect(conflictOf(gone!, withList(filled))).toBe('The list has been filled since');
  });
});

describe('conflicts', () => {
  const held = (value: string, locked = false): Held => ({ value, origin: 'typed', at, locked });
  const world = (now: Held | null | undefined): Snapshot => ({
    ...emptySnapshot(),
    tracks: new Map(
      now === undefined
        ? []
        : [
            [
              1,
              {
                values: { title: now?.value ?? null },
                origins: (now ? { title: now } : {}) as Record<string, Held>,
                artHash: null,
              },
            ],
          ],
    ),
  });
  const item = setField(1, 'title', held('a'), held('b'));
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
    expect(conflictOf(remove!, withList(after))).toBe('The entry is no longer in the list');
    expect(conflictOf(inverse(remove!), withList(list))).toBe('The entry is in the list already');
    expect(conflictOf(remove!, withList(undefined))).toBe('The list is no longer there');
  });
  test('an entry whose neighbour is gone goes back to its number', () => {
    const entries: Entry[] = [{ id: 'x', kind: 'track', trackId: 7, data: {} }];
    expect(
      place(entries, [{ entryId: 'n', trackId: 9, before: null, after: { behind: 'gone', index: 5 } }]).map(
        (e) => e.id,
      ),
    ).toEqual(['x', 'n']);
  });
});

describe('drafts for fields', () => {
  const held: Held = { value: 'Ferry Clerk', origin: 'file tag', at, locked: false };
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
    expect(items).toEqual([setField(1, 'title', held, { value: 'New', origin: 'typed', at, locked: false })]);
    expect(locked).toEqual([2]);
  });
  test('locking keeps value and origin', () => {
    expect(lockField('title', [{ trackId: 1, held }], true, at)).toEqual([
      setField(1, 'title', held, { ...held, locked: true }),
    ]);
    expect(lockField('title', [{ trackId: 1, held }], false, at)).toEqual([]);
  });
});

describe('entries that are no tracks', () => {
  test('are put in, carry something, keep it when moved, and are taken back whole', () => {
    const list = listOf(1, 2);
    const link = { kind: 'link' as const, trackId: null, data: { text: 'Good evening', seconds: 20 } };
    const put = addEntry('l', list, link, newId, 1);
    const filled = apply(list, put)!;
    expect(filled.entries[1]).toMatchObject(link);
    const { id } = filled.entries[1]!;
    const described = describeEntry('l', filled, id, { text: 'Good night', seconds: null, remark: 'slowly' });
    const changed = apply(filled, described)!;
    expect(changed.entries[1]!.data).toEqual({ text: 'Good night', remark: 'slowly' });
    expect(describeEntry('l', changed, id, { text: 'Good night' })).toEqual([]);
    const moved = moveEntries('l', changed, [id], null);
    expect(apply(changed, moved)!.entries[0]).toEqual(changed.entries[1]);
    const gone = removeEntries('l', changed, [id]);
    expect(apply(apply(changed, gone), inverseOf(gone))).toEqual(changed);
    expect(apply(apply(changed, moved), inverseOf([...put, ...described, ...moved]))).toEqual(list);
  });
  test('other tracks in a list: it stays behind the entry it stood behind, or goes with the rest', () => {
    const link = { kind: 'link' as const, trackId: null, data: { text: 'Good evening' } };
    const list = listOf(1, 2, 3);
    const filled = apply(list, addEntry('l', list, link, newId, 2))!;
    const kept = replaceEntries('l', filled, [3, 2, 4], newId, true);
    expect(tracksOf(apply(filled, kept))).toEqual([3, 2, null, 4]);
    expect(apply(apply(filled, kept), inverseOf(kept))).toEqual(filled);
    expect(tracksOf(apply(filled, replaceEntries('l', filled, [3, 2, 4], newId)))).toEqual([3, 2, 4]);
  });

  test('what changed since is a conflict; a copy carries the same under other ids', () => {
    const list = apply(
      listOf(1),
      addEntry('l', listOf(1), { kind: 'note', trackId: null, data: { text: 'a' } }, newId),
    )!;
    const { id } = list.entries[1]!;
    const [edit] = describeEntry('l', list, id, { text: 'b' });
    const other = apply(list, describeEntry('l', list, id, { text: 'c' }));
    expect(conflictOf(edit!, withList(other))).toBe('The entry has been changed since');
    expect(conflictOf(edit!, withList(listOf(1)))).toBe('The entry is no longer in the list');
    const copy = apply(undefined, copyList('k', INFO, list.entries, newId))!;
    expect(copy.entries.map(({ kind, data }) => [kind, data])).toEqual(
      list.entries.map(({ kind, data }) => [kind, data]),
    );
    expect(copy.entries.some((e) => list.entries.some((o) => o.id === e.id))).toBe(false);
  });
  test('a crate cannot come to lie in itself, also by way of others', () => {
    const crate = (parentId: string | null): ListState => ({ info: { ...INFO, kind: 'crate', parentId }, entries: [] });
    const lists = new Map([
      ['a', crate(null)],
      ['b', crate('a')],
      ['c', crate('b')],
    ]);
    const into = editList('a', { op: 'describe', before: { parentId: null }, after: { parentId: 'c' } });
    expect(conflictOf(into, { ...emptySnapshot(), lists })).toBe('A crate cannot lie inside itself');
    const out = editList('c', { op: 'describe', before: { parentId: 'b' }, after: { parentId: 'a' } });
    expect(conflictOf(out, { ...emptySnapshot(), lists })).toBeNull();
  });
  test('a crate that fills itself cannot come to ask about itself, also by way of others', () => {
    const asking = (...inLists: string[]): string => writeRule({ where: { not: { inLists } } });
    const crate = (rule: string | null): ListState => ({ info: { ...INFO, kind: 'crate', rule }, entries: [] });
    const lists = new Map([
      ['a', crate(null)],
      ['b', crate(asking('a', 'plain'))],
      ['c', crate(asking('b'))],
    ]);
    const snapshot = { ...emptySnapshot(), lists };
    const give = (rule: string): string | null =>
      conflictOf(editList('a', { op: 'describe', before: { rule: null }, after: { rule } }), snapshot);
    const circle = 'A self-filling crate cannot ask about itself, by way of others either';
    expect([give(asking('c')), give(asking('a')), give(asking('plain', 'd'))]).toEqual([circle, circle, null]);
    const made = editList('d', { op: 'exist', before: null, after: crate(asking('d')).info });
    expect(conflictOf(made, snapshot)).toBe(circle);
  });
});

test('an order as a whole is made by few moves, and undone to the one before', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 12 }), fc.array(fc.nat(14)), (count, wish) => {
      const first = listOf(...Array.from({ length: count }, (_, i) => i + 1));
      const ids = first.entries.map((e) => e.id);
      const wished = wish.map((n) => `s${n}`);
      const named = [...new Set(wished)].filter((id) => ids.includes(id));
      const items = reorderEntries('l', first, wished);
      const snapshot = withList(first);
      expect(run(items, snapshot).every((l) => l.state === 'done')).toBe(true);
      const after = snapshot.lists.get('l')!;
      expect(after.entries.map((e) => e.id)).toEqual([...named, ...ids.filter((id) => !named.includes(id))]);
      run(inverseOf(items), snapshot);
      expect(snapshot.lists.get('l')).toEqual(first);
    }),
  );
  const list = listOf(1, 2, 3, 4, 5);
  const [item] = reorderEntries('l', list, ['s4', 's0', 's1', 's2', 's3']);
  expect(item!.edit).toMatchObject({ op: 'place', placements: [{ entryId: 's4' }] });
  expect(reorderEntries('l', list, ['s0', 's1'])).toEqual([]);
});
