import { expect, test } from '@jest/globals';
import { NO_CHANGES, type OtherChanges } from '../collection.ts';
import { PLOVER } from './format.ts';

const write = (files: Map<string, string>, changes: Partial<OtherChanges>): Map<string, string | null> =>
  PLOVER.write(files, { ...NO_CHANGES, ...changes }, '/x', '2026-11-29T10:00:00Z');
const track = (id: string): string => JSON.stringify({ id, location: `file:///m/${id}.mp3`, own: { of: 'its own' } });

test('what else a playlist says, of itself and of tracks that stay, is kept', () => {
  const list = `<?xml version="1.0"?>
<playlist version="1" xmlns="http://xspf.org/ns/0/">
  <title>Early</title><annotation>for the boathouse</annotation>
  <identifier>urn:1</identifier>
  <trackList>
    <track><location>file:///m/a.mp3</location><annotation>loud</annotation></track>
    <track><location>file:///m/b.mp3</location></track>
  </trackList>
  <extension application="x">kept</extension>
</playlist>
`;
  const files = new Map([
    ['tracks.jsonl', `${track('a')}\n${track('b')}\n${track('c')}\n`],
    ['lists/Early.xspf', list],
  ]);
  const after = write(files, { lists: [{ id: 'urn:1', name: 'Earlier & more', trackIds: ['c', 'a'] }] });
  expect(after.get('lists/Early.xspf')).toBeNull();
  const text = after.get('lists/Earlier & more.xspf')!;
  expect(text).toContain('<title>Earlier &amp; more</title><annotation>for the boathouse</annotation>');
  expect(text).toContain('<track><location>file:///m/a.mp3</location><annotation>loud</annotation></track>');
  expect(text).toContain('<extension application="x">kept</extension>');
  expect(PLOVER.read(new Map([...files, ['lists/Early.xspf', text]]), '/x').lists).toEqual([
    { id: 'urn:1', name: 'Earlier & more', place: [], trackIds: ['c', 'a'] },
  ]);
});

test('lines that cannot be read, and fields of its own, stay as they are written', () => {
  const files = new Map([['tracks.jsonl', `{"half\n${track('a')}\n`]]);
  const after = write(files, { tracks: [{ id: 'a', values: { title: 'A' } }] }).get('tracks.jsonl')!;
  expect(after.split('\n')[0]).toBe('{"half');
  expect(JSON.parse(after.split('\n')[1]!)).toMatchObject({ title: 'A', own: { of: 'its own' } });
});
