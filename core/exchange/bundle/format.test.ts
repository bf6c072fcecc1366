import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compare, NO_PAST } from '../../sync/compare.ts';
import { sameHereAndThere } from '../../sync/decide.ts';
import { DEFAULT_POLICIES } from '../../sync/policies.ts';
import { placedFields, storable } from '../../sync/store.ts';
import { finish, hereTrack, trackValues, tracksById } from '../../testing/collections.ts';
import { BUNDLE, DESCRIPTION } from './format.ts';

const FOLDER = '/srv/bundles/loft';
const lines = (all: readonly object[]): string => all.map((line) => `${JSON.stringify(line)}\n`).join('');
const files = (parts: Record<string, object[]>): Map<string, string> =>
  new Map(Object.entries(parts).map(([name, all]) => [`${name}.jsonl`, lines(all)]));
const main = (trackId: number, more: object = {}): object => ({
  ...{ trackId, rootId: 1, path: `${trackId}.flac`, role: 'main', audioHash: `sound ${trackId}`, ...more },
});
const FOLDERS = [{ id: 1, path: '/there/music' }];
const list = (id: string, more: object): object => ({
  ...{ id, kind: 'playlist', name: id, parentId: null, removed: false, rule: null, mirror: null, ...more },
});

test('a track is read with all that it says, as the library holds it', () => {
  fc.assert(
    fc.property(trackValues, (values) => {
      const said = { ...values, hearLater: false };
      const { tracks, problems } = BUNDLE.read(
        files({ folders: FOLDERS, files: [main(7)], tracks: [{ id: 7, values: said, origins: {} }] }),
        FOLDER,
      );
      expect(problems).toEqual([]);
      const stored = storable(said as never, DESCRIPTION).values;
      for (const field of placedFields(DESCRIPTION))
        if (!sameHereAndThere(field, tracks[0]!.values[field], stored[field]))
          expect([field, tracks[0]!.values[field]]).toEqual([field, stored[field]]);
    }),
  );
});

test('a track lies where it lay there, or in the bundle when its music goes along; times are those of its origins', () => {
  const parts = {
    folders: FOLDERS,
    files: [main(1), main(2), main(1, { role: 'copy', path: 'other.mp3' })],
    tracks: [
      {
        id: 1,
        values: { title: 'one', lastUsed: '2026-05-01T12:00:00.5+02:00' },
        origins: { title: { at: '2026-05-02' } },
      },
      { id: 2, values: {} },
      { id: 3, values: {} },
    ],
    music: [{ trackId: 2 }],
  };
  const { tracks, problems } = BUNDLE.read(files(parts), FOLDER);
  expect(tracks.map(({ id, path, sound, times }) => ({ id, path, sound, times }))).toEqual([
    { id: '1', path: '/there/music/1.flac', sound: 'sound 1', times: { title: '2026-05-02' } },
    { id: '2', path: '/srv/bundles/loft/music/1/2.flac', sound: 'sound 2', times: {} },
  ]);
  expect(tracks[0]!.values.lastUsed).toBe('2026-05-01T10:00:00Z');
  expect(problems).toEqual([{ where: 'tracks.jsonl, line 3', reason: 'it says nowhere where its file lies' }]);
});

test('crates and playlists come in their places and order; what fills itself, hours and removed ones do not', () => {
  const parts = {
    ...{ folders: FOLDERS, files: [main(1), main(2)] },
    tracks: [
      { id: 1, values: {} },
      { id: 2, values: {} },
    ],
    lists: [
      list('friday', { parentId: 'gigs' }),
      list('gigs', { kind: 'crate', parentId: 'top' }),
      list('top', { kind: 'crate' }),
      list('by rule', { kind: 'crate', rule: {} }),
      list('like a folder', { kind: 'crate', mirror: {} }),
      list('gone', { kind: 'crate', removed: true }),
      list('in it', { parentId: 'gone' }),
      list('empty', { kind: 'crate' }),
      list('of a folder', { kind: 'crate', mirrorOf: {} }),
      list('an hour', { kind: 'hour' }),
    ],
    entries: [
      { listId: 'gigs', trackId: 2, kind: 'track', position: 1 },
      { listId: 'friday', trackId: 2, kind: 'track', position: 9 },
      { listId: 'friday', trackId: 1, kind: 'track', position: 4 },
      { listId: 'friday', trackId: null, kind: 'note', position: 5 },
      { listId: 'friday', trackId: 1, kind: 'track', position: 12 },
    ],
  };
  expect(BUNDLE.read(files(parts), FOLDER).lists).toEqual([
    { id: 'empty', kind: 'crate', name: 'empty', place: [], trackIds: [] },
    { id: 'gigs', kind: 'crate', name: 'gigs', place: ['top'], trackIds: ['2'] },
    { id: 'friday', kind: 'playlist', name: 'friday', place: ['top', 'gigs'], trackIds: ['1', '2', '1'] },
  ]);
});

test('crates that lie in each other come to an end', () => {
  const parts = {
    lists: [list('a', { kind: 'crate', parentId: 'b' }), list('b', { kind: 'crate', parentId: 'a' })],
  };
  expect(BUNDLE.read(files(parts), FOLDER).lists).toEqual([]);
});

test('it is compared by sound, nothing ever goes there, and it cannot be written', () => {
  const there = BUNDLE.read(
    files({
      folders: FOLDERS,
      files: [main(1), main(2)],
      tracks: [
        { id: 1, values: { title: 'Lamp Room', genre: ['Dub'], rating: 4 } },
        { id: 2, values: { title: 'Only there' } },
      ],
    }),
    FOLDER,
  );
  const mine = { ...hereTrack(12, { title: 'A name of its own', genre: ['Electro'] }), sound: 'sound 1' };
  const here = { tracks: [mine, hereTrack(13, { title: 'Only here' })], lists: [], others: new Set<string>() };
  const asked = {
    ...{ here, there, past: NO_PAST, format: BUNDLE, folder: FOLDER, maps: [], choices: {} },
    policies: { ...DEFAULT_POLICIES, direction: 'from there' as const },
  };
  const { lines, notHere, there: written, here: changed } = finish(compare(asked), here);
  expect(lines.map((l) => [l.trackId, l.field, l.group, l.will])).toEqual([
    [12, 'title', 'clash', null],
    [12, 'genre', 'clash', null],
    [12, 'rating', 'in', 'there'],
  ]);
  expect(lines.flatMap((l) => l.options)).not.toContain('here');
  expect(changed.fields).toEqual([{ trackId: 12, values: { rating: 4 } }]);
  expect(notHere.map((t) => t.name)).toEqual(['Only there']);
  expect(Object.values(written).flat()).toEqual([]);
  expect(tracksById(there).size).toBe(2);
  expect(() => BUNDLE.write(new Map(), written, FOLDER, '2026-11-30')).toThrow('only read');
});
