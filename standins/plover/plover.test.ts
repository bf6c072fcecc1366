import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readData, writeList, writeTracks, type Track } from './data.ts';
import { makeEdits } from './edits.ts';

let data: string;
beforeEach(() => {
  data = mkdtempSync(join(tmpdir(), 'plover-'));
  mkdirSync(join(data, 'lists'));
});
afterEach(() => rmSync(data, { recursive: true, force: true }));
const track = (more: Partial<Track> = {}): Track => ({ id: 'p-1', location: 'file:///music/a%20b.mp3', ...more });
const list = {
  file: 'Gigs/Early & late.xspf',
  title: 'Early & late',
  identifier: 'urn:1',
  locations: [track().location],
};

test('what is whole is shown, with its lists in folders', () => {
  writeTracks(data, [track({ key: 'F#m', stars: 3, cues: [{ at: 10 }], loops: [{ at: 5, to: 9, colour: 'red' }] })]);
  writeList(data, list);
  expect(readData(data)).toMatchObject({ tracks: [{ key: 'F#m' }], lists: [list], refused: [] });
});

test.each<[string, Partial<Track>]>([
  ['its location is no file address', { location: '/music/a.mp3' }],
  ['its location is not escaped', { location: 'file:///music/é.mp3' }],
  ['"A minor" is no key', { key: 'A minor' }],
  ['stars from 1 to 5', { stars: 0 }],
  ['more than 8 cues', { cues: Array.from({ length: 9 }, (_, at) => ({ at })) }],
  ['more than 4 loops', { loops: Array.from({ length: 5 }, (_, at) => ({ at, to: at + 9 })) }],
  ['a mark lies at whole milliseconds', { cues: [{ at: 1.5 }] }],
  ['a loop ends after it begins', { loops: [{ at: 5, to: 5 }] }],
  ['"tide" is no colour', { cues: [{ at: 5, colour: 'tide' }] }],
])('refused: %s', (reason, more) => {
  writeTracks(data, [track(more)]);
  expect(readData(data).refused).toEqual([`p-1: ${reason}`]);
});

test('refused: what is there twice, breaks off, or names what is not there', () => {
  writeFileSync(join(data, 'tracks.jsonl'), `${JSON.stringify(track())}\n${JSON.stringify(track())}\n{"id`);
  writeList(data, { ...list, locations: ['file:///none.mp3'] });
  writeFileSync(join(data, 'lists/half.xspf'), '<playlist><title>half</title>');
  expect(readData(data).refused).toEqual([
    'tracks.jsonl breaks off',
    'p-1 is there twice',
    'file:///music/a%20b.mp3 is there twice',
    'tracks.jsonl, line 3: no JSON',
    'lists/Gigs/Early & late.xspf: file:///none.mp3 is no track',
    'lists/half.xspf: no whole playlist',
  ]);
});

test('a person plays, rates, marks, and makes lists', () => {
  writeTracks(data, [track({ title: 'Lamp Room' })]);
  const at = '2026-11-28T21:00:00Z';
  makeEdits(
    data,
    [
      { op: 'play', id: 'Lamp Room', times: 2, at },
      { op: 'rate', id: 'p-1', stars: 4 },
      { op: 'cue', id: 'p-1', index: 0, at: 1500, name: 'in' },
      { op: 'list', title: 'Late', folder: 'Gigs', ids: ['p-1'] },
      { op: 'order', title: 'Late', ids: [] },
    ],
    at,
  );
  expect(readData(data)).toMatchObject({
    tracks: [
      { played: 2, lastPlayed: at, stars: 4, cues: [{ at: 1500, name: 'in' }], changed: { rating: at, cues: at } },
    ],
    lists: [{ file: 'Gigs/Late.xspf', locations: [] }],
    refused: [],
  });
  makeEdits(data, [{ op: 'remove', title: 'Late' }], at);
  expect(readData(data).lists).toEqual([]);
  expect(() => makeEdits(data, [{ op: 'rate', id: 'none', stars: 1 }], at)).toThrow('There is no track none');
});
