import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readCsv, readData, writeCrates, writeTracks, type Crate, type Row } from './data.ts';
import { makeEdits } from './edits.ts';

let home: string, data: string;
const COLUMNS = ['path', 'title', 'key', 'rating', 'comment', 'bpm', 'cue 1', 'plays'];
beforeEach(() => {
  home = mkdtempSync(join(tmpdir(), 'dunlin-'));
  data = join(home, 'data');
  mkdirSync(data);
  writeFileSync(join(home, 'a.mp3'), '');
});
afterEach(() => rmSync(home, { recursive: true, force: true }));
const row = (more: Row = {}): Row => ({ path: '../a.mp3', title: 'A "quoted", title\nin two lines', ...more });
const crate = (id: string, parent: string | null, more: Partial<Crate> = {}): Crate => ({
  ...{ id, parent, name: id, tracks: [] },
  ...more,
});

test('cells with quotes, commas and line breaks come back as they were', () => {
  writeTracks(data, COLUMNS, [row()]);
  expect(readData(data)).toMatchObject({ tracks: [row()], refused: [] });
  expect(() => readCsv('a,"b')).toThrow('a quote does not end');
});

test.each<[string, Row]>([
  ['../a.mp3: its comment is longer than 250 characters', { comment: 'x'.repeat(251) }],
  ['../a.mp3: "Am" is no key', { key: 'Am' }],
  ['../a.mp3: "fast" is no tempo', { bpm: 'fast' }],
  ['../a.mp3: its rating lies between 0 and 255', { rating: '256' }],
  ['../a.mp3: "in" is no cue', { 'cue 1': 'in' }],
  ['../none.mp3: there is no such file', { path: '../none.mp3' }],
])('refused: %s', (reason, more) => {
  writeTracks(data, COLUMNS, [row(more)]);
  expect(readData(data).refused).toEqual([reason]);
});

test('refused: crates too deep, of too long a name, with a track twice or one that is not there', () => {
  writeTracks(data, COLUMNS, [row()]);
  writeCrates(data, [
    ...[crate('a', null), crate('b', 'a'), crate('c', 'b'), crate('d', 'c')],
    crate('e', null, { name: 'x'.repeat(41) }),
    crate('f', 'none', { tracks: ['../a.mp3', '../a.mp3', '../b.mp3'] }),
  ]);
  expect(readData(data).refused).toEqual([
    'd: crates lie at most 3 deep',
    `${'x'.repeat(41)}: a name has 1 to 40 characters`,
    'f: the crate it lies in is not there',
    'f (f): a track is in it twice',
    'f: ../b.mp3 is no track',
  ]);
});

test('a person plays, rates, and fills crates', () => {
  writeTracks(data, COLUMNS, [row({ title: 'Lamp Room' })]);
  makeEdits(data, [
    { op: 'play', id: 'Lamp Room', times: 2 },
    { op: 'rate', id: 'Lamp Room', rating: 204 },
    { op: 'crate', name: 'Late', ids: ['Lamp Room'] },
    { op: 'crate', name: 'Later', parent: 'Late', ids: [] },
    { op: 'fill', name: 'Late', ids: [] },
  ]);
  expect(readData(data)).toMatchObject({
    tracks: [{ plays: '2', rating: '204' }],
    crates: [
      { name: 'Late', tracks: [] },
      { name: 'Later', parent: 'own1' },
    ],
    refused: [],
  });
});
