import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { groupsOf, pairKey, type DuplicatePair } from './groups.ts';
import { CRITERIA, DEFAULT_ORDER, keepOf, type CopyFacts } from './keep.ts';

const pair = (
  first: number,
  second: number,
  relation: DuplicatePair['relation'] = 'same recording',
  offsetSeconds = 0,
): DuplicatePair => ({ first, second, relation, offsetSeconds });
const unnamed = (): string => '';

describe('groups', () => {
  test('what is one recording is one group, with where each lies on the first', () => {
    expect(groupsOf([pair(3, 7, 'same recording', 2), pair(7, 9, 'same bytes', 0)], unnamed)).toEqual([
      { kind: 'same recording', version: null, trackIds: [3, 7, 9], offsets: [0, 2, 2] },
    ]);
  });

  test('one cut short, one named as another version, versions kept apart', () => {
    const groups = groupsOf(
      [pair(1, 2, 'cut short', 20), pair(3, 4), pair(5, 6, 'same bytes'), pair(1, 5, 'edit'), pair(2, 6, 'edit')],
      (id) => (id === 4 ? 'dub' : ''),
    );
    expect(groups.map((g) => [g.kind, g.version, g.trackIds])).toEqual([
      ['cut short', null, [1, 2]],
      ['kept apart', 'edit', [1, 5]],
      ['named apart', null, [3, 4]],
      ['same bytes', null, [5, 6]],
    ]);
  });

  test('of what somebody has said is none, nothing is left', () => {
    const parted = new Set([pairKey(2, 1)]);
    expect(groupsOf([pair(1, 2), pair(3, 4)], unnamed, parted).map((g) => g.trackIds)).toEqual([[3, 4]]);
  });

  test('each track is in one group of its recording at most, and every pair in some', () => {
    const ids = fc.integer({ min: 1, max: 12 });
    fc.assert(
      fc.property(fc.array(fc.tuple(ids, ids).filter(([a, b]) => a < b)), (wished) => {
        const groups = groupsOf(
          wished.map(([a, b]) => pair(a, b)),
          unnamed,
        );
        const all = groups.flatMap((g) => g.trackIds);
        expect(new Set(all).size).toBe(all.length);
        for (const [a, b] of wished)
          expect(groups.some(({ trackIds }) => trackIds.includes(a) && trackIds.includes(b))).toBe(true);
      }),
    );
  });
});

const file = (trackId: number, facts: Partial<CopyFacts> = {}): CopyFacts => ({
  trackId,
  lossless: false,
  bandwidthHz: 20_000,
  soundsReencoded: false,
  durationSeconds: 100,
  bitrate: 320,
  lists: 0,
  cues: 0,
  filled: 5,
  folder: 'Music/Inbox',
  addedAt: '2026-01-01T00:00:00Z',
  ...facts,
});

describe('which file stays', () => {
  test.each<[string, Partial<CopyFacts>, Partial<CopyFacts>]>([
    ['lossless', { lossless: true, bitrate: 900 }, {}],
    ['bandwidth', {}, { bandwidthHz: 16_000 }],
    ['not re-encoded', {}, { soundsReencoded: true }],
    ['longest', { durationSeconds: 102 }, {}],
    ['bit rate', {}, { bitrate: 128 }],
    ['lists and cues', { cues: 3 }, { lists: 1 }],
    ['tags', { filled: 6 }, {}],
    ['added first', {}, { addedAt: '2026-02-01T00:00:00Z' }],
  ])('%s decides, whatever their numbers are', (by, better, worse) => {
    expect(keepOf([file(1, worse), file(2, better)], DEFAULT_ORDER)).toEqual({ trackId: 2, by });
    expect(keepOf([file(1, better), file(2, worse)], DEFAULT_ORDER)).toEqual({ trackId: 1, by });
  });

  test('a folder that is preferred, with what lies below it', () => {
    const order = { criteria: ['folder', 'longest'] as const, folders: ['Music/Crates'] };
    expect(keepOf([file(1, { durationSeconds: 200 }), file(2, { folder: 'Music/Crates/House' })], order)).toEqual({
      trackId: 2,
      by: 'folder',
    });
    expect(keepOf([file(1), file(2, { folder: 'Music/Crates2' })], order).by).toBeNull();
  });

  test('the order is one’s own; small differences tell nothing', () => {
    const files = [file(1, { durationSeconds: 100.3, bitrate: 321 }), file(2, { filled: 9 }), file(3, { lists: 2 })];
    expect(keepOf(files, DEFAULT_ORDER)).toEqual({ trackId: 3, by: 'lists and cues' });
    expect(keepOf(files, { ...DEFAULT_ORDER, criteria: ['tags', 'lists and cues'] })).toEqual({
      trackId: 2,
      by: 'tags',
    });
    expect(keepOf(files, { criteria: [], folders: [] })).toEqual({ trackId: 1, by: null });
  });

  test('in whatever order files are given, the same one stays', () => {
    const facts = fc.record({ lossless: fc.boolean(), durationSeconds: fc.integer({ min: 90, max: 92 }) });
    fc.assert(
      fc.property(
        fc.array(facts, { minLength: 2, maxLength: 6 }),
        fc.shuffledSubarray([...CRITERIA]),
        (some, criteria) => {
          const files = some.map((f, i) => file(i + 1, f));
          const order = { criteria, folders: [] };
          expect(keepOf([...files].reverse(), order)).toEqual(keepOf(files, order));
        },
      ),
    );
  });
});
