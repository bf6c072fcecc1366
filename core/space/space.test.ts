import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { matches } from '../conditions/condition.ts';
import type { TrackValues } from '../fields/values.ts';
import { alongKeys, QUALITIES, SAMPLES, spaceTree, tracksAt, type SpaceNode, type SpaceRow } from './space.ts';

const key = fc.constantFrom('a', 'b', 'c');
const rows: fc.Arbitrary<SpaceRow[]> = fc.array(
  fc.record({
    keys: fc.array(key, { maxLength: 5 }),
    files: fc.nat(9),
    tracks: fc.nat(9),
    samples: fc.nat(9),
    others: fc.nat(9),
    bytes: fc.nat(1e6),
    listed: fc.nat(9),
    last: fc.constantFrom(null, '2030-01-01T00:00:00Z', '2031-01-01T00:00:00Z'),
  }),
);

describe('the tree', () => {
  test('a node holds the rows at its keys and below, and nothing else', () => {
    fc.assert(
      fc.property(rows, fc.array(key, { maxLength: 5 }), (all, keys) => {
        const nodes = alongKeys(spaceTree(all), keys);
        if (nodes.length <= keys.length) return;
        const below = all.filter((row) => keys.every((k, i) => row.keys[i] === k));
        const { files, bytes, listed, last } = nodes.at(-1)!;
        const sum = (of: 'files' | 'bytes' | 'listed'): number => below.reduce((n, row) => n + row[of], 0);
        expect({ files, bytes, listed }).toEqual({ files: sum('files'), bytes: sum('bytes'), listed: sum('listed') });
        expect(last).toBe(below.map((row) => row.last ?? '').reduce((a, b) => (a > b ? a : b), '') || null);
      }),
    );
  });
  test('the largest stands first at every level', () => {
    const check = (node: SpaceNode): void => {
      const sizes = node.children.map((c) => c.bytes);
      expect(sizes).toEqual(sizes.toSorted((a, b) => b - a));
      node.children.forEach(check);
    };
    fc.assert(fc.property(rows, (all) => check(spaceTree(all))));
  });
});

test('every file has just one quality', () => {
  const track = fc.record({
    format: fc.constantFrom('FLAC', 'MP3', 'M4A', 'WAV', null),
    codec: fc.constantFrom('alac', 'aac', 'mp3', 'pcm_s16le', null),
    bitrate: fc.option(fc.double({ min: 1, max: 2000, noNaN: true })),
  });
  fc.assert(
    fc.property(track, (values) => {
      expect(QUALITIES.filter((q) => matches(q.condition, values))).toHaveLength(1);
    }),
  );
});

test.each<[string, TrackValues, boolean]>([
  ['a hit of a drum', { kind: 'track', durationSeconds: 0.4, path: 'Packs/Kick 3.wav' }, true],
  ['a loop by name', { kind: 'track', durationSeconds: 40, path: 'Packs/Drum Loop 120.wav' }, true],
  [
    'a short piece that is named so elsewhere',
    { kind: 'track', durationSeconds: 200, path: 'Loop de loop.mp3' },
    false,
  ],
  ['a jingle', { kind: 'jingle', durationSeconds: 6, path: 'Jingles/Top of the hour.wav' }, false],
  ['what somebody called a loop', { kind: 'loop', durationSeconds: 90, path: 'x.wav' }, true],
  ['a short interlude', { kind: 'track', durationSeconds: 45, path: 'Album/03 Interlude.flac' }, false],
])('%s', (_, values, is) => {
  expect(matches(SAMPLES, values)).toBe(is);
});

test('a month of a year, to its last day', () => {
  expect(tracksAt('added', ['2028', '02'], [])).toMatchObject({ from: '2028-02-01', to: '2028-02-29' });
  expect(tracksAt('added', ['2028'], [])).toMatchObject({ from: '2028-01-01', to: '2028-12-31' });
});
