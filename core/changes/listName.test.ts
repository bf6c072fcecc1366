import { expect, test } from '@jest/globals';
import { nameAfter } from './listName.ts';

test.each([
  [
    [
      { artist: ['Keel Nine'], album: 'Oilskin Lamps' },
      { artist: ['Keel Nine'], album: 'Oilskin Lamps' },
    ],
    'Keel Nine - Oilskin Lamps',
  ],
  [[{ artist: ['Keel Nine'] }, { artist: ['Vesna Rook', 'Keel Nine'] }], 'Keel Nine'],
  [
    [
      { artist: ['A'], album: 'Slipway Nights' },
      { artist: ['B'], album: 'Slipway Nights' },
    ],
    'Slipway Nights',
  ],
  [
    [
      { artist: ['A'], genre: ['House'], bpm: 118.2 },
      { artist: ['B'], genre: ['House'], bpm: 125.9 },
    ],
    'House, 118 to 126',
  ],
  [
    [
      { artist: ['A'], genre: ['House'] },
      { artist: ['B'], genre: ['House'] },
    ],
    'House',
  ],
  [
    [
      { artist: ['A'], genre: ['Dub'], bpm: 87 },
      { artist: ['B'], genre: ['House'], bpm: 87 },
    ],
    '87 BPM',
  ],
  [[{ artist: ['A'] }, { artist: ['B'] }], null],
  [[], null],
])('%j: %s', (tracks, name) => {
  expect(nameAfter(tracks)).toBe(name);
});
