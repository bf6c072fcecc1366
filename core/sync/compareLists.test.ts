/** Lists of both sides: merged, made, renamed, removed. */
import { describe, expect, test } from '@jest/globals';
import { PROGRAMS } from '../exchange/programs.ts';
import { applyThere, type TestHere } from '../testing/collections.ts';
import { ALL, library, list, look, PLOVER, start, sync, there, type Both } from '../testing/syncing.ts';
import type { Comparison } from './compare.ts';
import type { HereList } from './compareLists.ts';

describe('lists', () => {
  const five = library(Array.from({ length: 5 }, (_, i) => ({ title: `t${i + 1}`, artist: ['a'] })));
  const withLists = (...lists: HereList[]): TestHere => ({ ...five, lists });
  const editList = (both: Both, id: string, change: Partial<HereList>): Both => ({
    ...both,
    here: { ...both.here, lists: both.here.lists.map((l) => (l.id === id ? { ...l, ...change } : l)) },
  });
  const changeThere = (both: Both, change: Partial<Comparison['there']>): Both => ({
    ...both,
    files: applyThere(PLOVER, both.files, {
      there: { ...{ tracks: [], newTracks: [], lists: [], newLists: [], removedLists: [] }, ...change },
    }),
  });

  test('orders of both sides are merged; lists of each are made on the other; names and places follow', () => {
    let both = sync(PLOVER, start(withLists(list('l', 'Early', [1, 2, 3], { place: ['Gigs'] }))));
    const kept = there(PLOVER, both).lists[0]!;
    const [one, two, three, four, fiveId] = there(PLOVER, both).tracks.map((t) => t.id);
    both = editList(both, 'l', { trackIds: [1, 4, 2, 3], name: 'Earlier' });
    both = changeThere(both, {
      lists: [{ id: kept.id, trackIds: [one!, two!, three!, fiveId!] }],
      newLists: [{ id: 'urn:plover:list:9', name: 'After ten', place: ['Gigs'], trackIds: [four!] }],
    });
    both = sync(PLOVER, both);
    expect(both.here.lists).toMatchObject([
      { id: 'l', name: 'Earlier', trackIds: [1, 4, 2, 3, 5] },
      { name: 'After ten', place: ['Gigs'], trackIds: [4] },
    ]);
    expect(there(PLOVER, both).lists.map((l) => [l.name, l.trackIds])).toEqual(
      expect.arrayContaining([
        ['Earlier', [one, four, two, three, fiveId]],
        ['After ten', [four]],
      ]),
    );
    expect(look(PLOVER, both).lines).toEqual([]);
  });

  test('taken out on one side stays on the other, unless removals are asked for', () => {
    let both = sync(PLOVER, start(withLists(list('l', 'Early', [1, 2, 3]))));
    const kept = there(PLOVER, both).lists[0]!;
    both = changeThere(editList(both, 'l', { trackIds: [1, 3] }), {
      lists: [{ id: kept.id, trackIds: kept.trackIds.slice(0, 2) }],
    });
    const added = sync(PLOVER, both);
    expect(added.here.lists[0]!.trackIds).toEqual([1, 3]);
    expect(there(PLOVER, added).lists[0]!.trackIds).toEqual(kept.trackIds.slice(0, 2));
    expect(look(PLOVER, added).lines).toEqual([]);
    const mirrored = sync(PLOVER, both, { ...ALL, removals: true });
    expect(mirrored.here.lists[0]!.trackIds).toEqual([1]);
    expect(there(PLOVER, mirrored).lists[0]!.trackIds).toEqual([kept.trackIds[0]]);
    const gone = changeThere(both, { removedLists: [kept.id] });
    expect(look(PLOVER, gone).lines).toMatchObject([{ field: 'list', group: 'left', reason: 'removed there' }]);
    expect(sync(PLOVER, gone, { ...ALL, removals: true }).here.lists).toEqual([]);
  });

  test('crates that fill themselves keep their order here; what only the destination has stays in its lists', () => {
    let both = sync(PLOVER, start(withLists(list('l', 'Early', [1, 2], { fillsItself: true }))));
    const kept = there(PLOVER, both).lists[0]!;
    both = changeThere(both, {
      newTracks: [{ id: 'p-x', path: '/elsewhere/x.mp3', values: { title: 'x' }, times: {} }],
    });
    both = changeThere(both, { lists: [{ id: kept.id, trackIds: [kept.trackIds[0]!, 'p-x', kept.trackIds[1]!] }] });
    both = editList(both, 'l', { trackIds: [1, 3, 2] });
    both = sync(PLOVER, both);
    expect(both.here.lists[0]!.trackIds).toEqual([1, 3, 2]);
    expect(there(PLOVER, both).lists[0]!.trackIds).toHaveLength(4);
    expect(there(PLOVER, both).lists[0]!.trackIds).toContain('p-x');
    expect(look(PLOVER, both).lines).toEqual([]);
  });

  test('Dunlin: three deep, forty letters, each track once', () => {
    const dunlin = PROGRAMS.dunlin!;
    const deep = list('l', 'A name that is rather longer than forty letters', [1, 2, 1], { place: ['a', 'b', 'c'] });
    const both = sync(dunlin, start(withLists(deep)));
    expect(there(dunlin, both).lists).toMatchObject([
      { name: 'A name that is rather longer than forty', place: ['a', 'b'], trackIds: { length: 2 } },
    ]);
    expect(look(dunlin, both).lines).toEqual([]);
  });
});
