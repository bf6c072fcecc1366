import { describe, expect, test } from '@jest/globals';
import { allOf, EVERYTHING, matches, searchText, type Condition } from './condition.ts';

const track = {
  title: 'Corazón de Sal',
  artist: ['Sol Marisma', 'Ines Tarn'],
  genre: null,
  bpm: 98.6,
  hearLater: null,
  key: 'A minor',
  addedAt: new Date(2026, 10, 24, 0, 0, 1).toISOString(),
  path: 'Crates/Slow/x.mp3',
  rootId: 2,
  byHand: ['bpm'],
};

describe('conditions in memory', () => {
  test.each<[Condition, boolean]>([
    [EVERYTHING, true],
    [{ any: [] }, false],
    [{ field: 'bpm', test: 'between', low: 98, high: 99 }, true],
    [{ field: 'bpm', test: 'between', low: 99 }, false],
    [{ field: 'year', test: 'between' }, false],
    [{ field: 'artist', test: 'one of', values: ['Ines Tarn'] }, true],
    [{ field: 'genre', test: 'empty' }, true],
    [{ field: 'hearLater', test: 'is', value: false }, true],
    [{ not: { field: 'genre', test: 'empty' } }, false],
    [{ inFolder: { rootId: 2, path: 'Crates/Slow' }, below: false }, true],
    [{ inFolder: { rootId: 2, path: 'Crates' }, below: false }, false],
    [{ inFolder: { rootId: 2, path: 'Crates' }, below: true }, true],
    [{ inFolder: { rootId: 2, path: 'Crates/Sl' }, below: true }, false],
    [{ inFolder: { rootId: 2, path: '' }, below: true }, true],
    [{ inFolder: { rootId: 1, path: 'Crates/Slow' }, below: true }, false],
    [{ field: 'bpm', test: 'tempo', low: 48, high: 50 }, true],
    [{ field: 'bpm', test: 'tempo', low: 196, high: 198 }, true],
    [{ field: 'bpm', test: 'tempo', low: 60, high: 90 }, false],
    [{ field: 'key', test: 'near key', key: 'G major', reach: 1 }, true],
    [{ field: 'key', test: 'near key', key: 'D major', reach: 1 }, false],
    [{ field: 'addedAt', test: 'in the last', days: 3 }, true],
    [{ field: 'addedAt', test: 'in the last', days: 2 }, false],
    [{ field: 'title', test: 'in the last', days: 400 }, false],
    [{ field: 'bpm', test: 'by hand' }, true],
    [{ field: 'title', test: 'by hand' }, false],
    [{ test: 'words', text: 'SAL tarn slow' }, true],
    [{ test: 'words', text: 'sal boathouse' }, false],
    [{ test: 'words', text: '"de sal" tarn' }, true],
    [{ test: 'words', text: '"sal de"' }, false],
    [{ test: 'words', text: 'sal', field: 'title' }, true],
    [{ test: 'words', text: 'sal tarn', field: 'title' }, false],
    [{ test: 'words', text: 'TARN', field: 'artist' }, true],
    [{ test: 'words', text: 'tarn', field: 'comment' }, false],
    [{ test: 'words', text: ' ', field: 'comment' }, true],
  ])('%j is %s', (condition, expected) => {
    expect(matches(condition, track, new Date(2026, 10, 27, 0, 30))).toBe(expected);
  });

  test('unknown fields are refused', () => {
    expect(() => matches({ field: 'nope', test: 'empty' }, track)).toThrow(RangeError);
    expect(() => matches({ test: 'words', text: 'a', field: 'bpm' }, track)).toThrow('BPM is not searched');
  });
  test('joining leaves out what always holds', () => {
    expect(allOf(EVERYTHING, null, { field: 'genre', test: 'empty' })).toEqual({ field: 'genre', test: 'empty' });
  });
  test('words do not match across two fields', () => {
    expect(searchText(track)).toContain('sol marisma ines tarn');
    expect(matches({ test: 'words', text: 'salsol' }, track)).toBe(false);
  });
});
