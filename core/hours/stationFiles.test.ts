import { expect, test } from '@jest/globals';
import type { FormatClock } from './clock.ts';
import { fileOfItem, withStationFiles, type StationFile } from './stationFiles.ts';

const CLOCK: FormatClock = {
  name: 'Morning',
  seconds: 3600,
  items: [
    { item: 'spoken', name: 'News', seconds: 180, fixed: { at: 0, when: 'exact' } },
    { item: 'jingle', name: 'Skerry jingle', seconds: 8 },
    { item: 'track', name: 'Ferry times' },
    { item: 'link', name: 'Ferry times', seconds: 60, overIntro: 6, bed: 'Bed, Tide Times' },
  ],
  rules: [],
};
const FILES: StationFile[] = [
  { id: 9, title: 'Skerry jingle', seconds: 7 },
  { id: 4, title: ' skerry  JINGLE', seconds: 6.25 },
  { id: 5, title: 'Ferry times', seconds: 41.5 },
];

test('items are as long as the files of their names; the rest, places for tracks too, stays as it is', () => {
  const { clock, fileAt } = withStationFiles(CLOCK, FILES);
  expect(clock.items).toEqual([
    CLOCK.items[0],
    { item: 'jingle', name: 'Skerry jingle', seconds: 6.25 },
    CLOCK.items[2],
    { item: 'link', name: 'Ferry times', seconds: 41.5, overIntro: 6, bed: 'Bed, Tide Times' },
  ]);
  expect([-1, 0, 1, 2, 3, 4].map(fileAt)).toEqual([null, null, 4, null, 5, null]);
  expect([clock.name, clock.rules]).toEqual([CLOCK.name, CLOCK.rules]);
});

test('the file of one item is the same', () => {
  expect(CLOCK.items.map((item) => fileOfItem(item, FILES)?.id ?? null)).toEqual([null, 4, null, 5]);
});

test('without files a clock stays as it is', () => {
  expect(withStationFiles(CLOCK, []).clock).toEqual(CLOCK);
});
