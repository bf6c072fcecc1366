import { expect, test } from '@jest/globals';
import { NO_CHANGES, type OtherChanges } from '../collection.ts';
import { DUNLIN } from './format.ts';

const write = (files: Map<string, string>, changes: Partial<OtherChanges>): Map<string, string | null> =>
  DUNLIN.write(files, { ...NO_CHANGES, ...changes }, '/x/data', '2026-11-29T10:00:00Z');
const edit = { tracks: [{ id: '../a.mp3', values: { title: 'A' } }] };

test('columns of its own are kept; where cells would be lost, nothing is written', () => {
  const whole = new Map([['tracks.csv', 'path,title,own\n../a.mp3,a,its own\n']]);
  expect(write(whole, edit).get('tracks.csv')).toMatch(/^path,title,own,artist,.*\n\.\.\/a\.mp3,A,its own,/);
  const more = new Map([['tracks.csv', 'path,title\n../a.mp3,a,and more\n']]);
  expect(() => write(more, edit)).toThrow('tracks.csv, line 2: it has too many cells');
  expect(DUNLIN.read(more, '/x/data')).toMatchObject({ tracks: [{ id: '../a.mp3' }], problems: [{}] });
});

test('lines of crates that cannot be read stay', () => {
  const files = new Map([
    ['tracks.csv', 'path,title\n../a.mp3,a\n'],
    ['crates.jsonl', '{"half\n{"id":"c1","parent":null,"name":"One","tracks":[],"colour":"red"}\n'],
  ]);
  const text = write(files, { lists: [{ id: 'c1', name: 'Two' }] }).get('crates.jsonl')!;
  expect(text).toBe('{"id":"c1","parent":null,"name":"Two","tracks":[],"colour":"red"}\n{"half\n');
});

test('a crate of another name takes along what lies in it; a place in which nothing lies any more goes', () => {
  const crate = (id: string, parent: string | null, tracks: string[] = []): string =>
    JSON.stringify({ id, parent, name: id, tracks });
  const files = new Map([
    ['tracks.csv', 'path,title\n../a.mp3,a\n'],
    ['crates.jsonl', `${crate('Gigs', null)}\n${crate('Early', 'Gigs', ['../a.mp3'])}\n`],
  ]);
  const text = write(files, { lists: [{ id: 'Early', place: ['Shows'] }] }).get('crates.jsonl')!;
  const { lists } = DUNLIN.read(new Map([...files, ['crates.jsonl', text]]), '/x/data');
  expect(lists).toEqual([{ id: 'Early', name: 'Early', place: ['Shows'], trackIds: ['../a.mp3'] }]);
  expect(text).not.toContain('"Gigs"');
});
