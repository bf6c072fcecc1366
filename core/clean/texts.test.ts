import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { capitals, type CapitalMode } from './capitals.ts';
import { tidyCharacters, type CharacterOptions } from './characters.ts';
import { alikeGenres, genreTable, tidyGenres } from './genres.ts';
import { knownNames, NOBODY } from './known.ts';
import { dropMarks } from './marks.ts';
import { leadingNumber, withoutName } from './removal.ts';
import { isVersion, remixerIn, splitArtists, titleParts } from './versions.ts';

const known = knownNames([
  ['Marrow & Pine', 9],
  ['MARROW & PINE', 30],
  ['Vesna Rook', 3],
  ['Keel Nine', 2],
  ['Brine Choir', 2],
  ['deadWater', 4],
]);
const all = { web: true, promo: true, encoder: true };

test.each([
  ['Dry Dock www.free-promos.example', 'Dry Dock'],
  ['Dry Dock (www.free-promos.example)', 'Dry Dock'],
  ['Bladderwrack Cuts [from tidepool.example/new]', 'Bladderwrack Cuts'],
  ['tidepool.example - Bladderwrack Cuts', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts - http://tidepool.example/x?y=1', 'Bladderwrack Cuts'],
  ['[promo] Bladderwrack Cuts', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts (FREE DOWNLOAD)', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts ** OUT NOW **', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts - Free DL', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts [320kbps]', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts (320)', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts_(vinyl rip)', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts (encoded by somebody)', 'Bladderwrack Cuts'],
  ['Bladderwrack Cuts (16bit 44.1khz)', 'Bladderwrack Cuts'],
  ['Promo Mix', 'Promo Mix'],
  ['Mr.Me and St.It', 'Mr.Me and St.It'],
  ['Out Now and Then', 'Out Now and Then'],
  ['Half a Mile feat.me', 'Half a Mile feat.me'],
  ['320 Steps', '320 Steps'],
  ['Preview of a Storm', 'Preview of a Storm'],
  ['for promotional use only', ''],
  ['128', '128'],
  ['Promo Tape', 'Promo Tape'],
])('marks: %s', (text, wanted) => expect(dropMarks(text, all)).toBe(wanted));

describe('characters', () => {
  const none: CharacterOptions = {
    underscores: false,
    round: 'keep',
    square: 'keep',
    spaces: false,
    quotes: false,
    control: false,
    own: [],
  };
  test.each<[string, Partial<CharacterOptions>, string]>([
    ['Neon_Groyne', { underscores: true }, 'Neon Groyne'],
    ['a  b ', { spaces: true }, 'a b'],
    ['“Ebb” ‘n’ flow', { quotes: true }, '"Ebb" \'n\' flow'],
    ['Un\u200bder\u00a0tow\u0007', { control: true }, 'Under tow'],
    ['Tin [Shed] Rain', { square: 'drop marks' }, 'Tin Shed Rain'],
    ['Tin [Roof [old]] Rain', { square: 'drop with content' }, 'Tin Rain'],
    ['Tin (Roof) Rain', { round: 'drop with content' }, 'Tin Rain'],
    [
      'a+b',
      {
        own: [
          { from: '+', to: ' and ' },
          { from: '', to: 'x' },
        ],
      },
      'a and b',
    ],
  ])('%s', (text, options, wanted) => expect(tidyCharacters(text, { ...none, ...options })).toBe(wanted));
  test('doing it twice is doing it once', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('a', 'B', ' ', '_', '(', ')', '[', ']', '’', '\u00a0', '-'), maxLength: 30 }),
        (text) => {
          const options: CharacterOptions = {
            underscores: true,
            round: 'drop with content',
            square: 'drop marks',
            spaces: true,
            quotes: true,
            control: true,
            own: [],
          };
          const once = tidyCharacters(text, options);
          expect(tidyCharacters(once, options)).toBe(once);
        },
      ),
    );
  });
});

test.each<[string, CapitalMode, string]>([
  ['HALF A MILE OF ROPE', 'title', 'Half a Mile of Rope'],
  ['half a mile of rope', 'title', 'Half a Mile of Rope'],
  ['the tide is in', 'title', 'The Tide Is In'],
  ['SLACK WATER III', 'title', 'Slack Water III'],
  ['dj tool (vip mix)', 'title', 'DJ Tool (VIP Mix)'],
  ["don't stop o'hara", 'title', "Don't Stop O'Hara"],
  ['salt: the return', 'title', 'Salt: The Return'],
  ['one - the other', 'title', 'One - The Other'],
  ['tar-barrel', 'title', 'Tar-Barrel'],
  ['élan vital', 'title', 'Élan Vital'],
  ['I AND THE SEA', 'title', 'I and the Sea'],
  ['SLACK WATER. THE DJ', 'sentence', 'Slack water. The DJ'],
  ['i and i', 'sentence', 'I and I'],
  ['Loud', 'upper', 'LOUD'],
  ['Quiet', 'lower', 'quiet'],
  ['MARROW AND PINE', 'title', 'Marrow & Pine'],
  ['DEADWATER', 'title', 'deadWater'],
])('capitals: %s, %s', (text, mode, wanted) =>
  expect(capitals(text, { mode, known: true, onlyOneCase: false }, known)).toBe(wanted),
);
test('capitals: what has both cases is left when asked', () => {
  expect(capitals('iPad Sunrise of Doom', { mode: 'title', known: false, onlyOneCase: true }, NOBODY)).toBe(
    'iPad Sunrise of Doom',
  );
  const words = fc
    .array(fc.constantFrom('half', 'a', 'MILE', 'of', 'Rope', 'dj', 'iii', '(the', 'tide)', '-', "don't", 'i'), {
      minLength: 1,
      maxLength: 8,
    })
    .map((w) => w.join(' '));
  fc.assert(
    fc.property(fc.constantFrom<CapitalMode>('title', 'sentence', 'upper', 'lower'), words, (mode, text) => {
      const once = capitals(text, { mode, known: false, onlyOneCase: false }, NOBODY);
      expect(once.toLowerCase()).toBe(text.toLowerCase());
      if (mode === 'upper' || mode === 'lower')
        expect(capitals(once, { mode, known: false, onlyOneCase: false }, NOBODY)).toBe(once);
    }),
  );
});

const want = { versions: true, guests: true, bare: false };
test.each([
  ['Half a Mile (feat. Vesna Rook) [Dub]', 'Half a Mile', ['Dub'], ['Vesna Rook']],
  ['Bladderwrack Cuts (Instrumental)', 'Bladderwrack Cuts', ['Instrumental'], []],
  ['Ferry Clerk - Radio Edit', 'Ferry Clerk', ['Radio Edit'], []],
  ['Half a Mile of Rope feat. Vesna Rook', 'Half a Mile of Rope', [], ['Vesna Rook']],
  ['Parallel Rule ft Brine Choir (Keel Nine Remix)', 'Parallel Rule', ['Keel Nine Remix'], ['Brine Choir']],
  ['Walking with You', 'Walking with You', [], []],
  ['Duet (with Ada Thole)', 'Duet', [], ['Ada Thole']],
  ['Storm (Part Two)', 'Storm (Part Two)', [], []],
  ['Live (Live at the Boathouse)', 'Live', ['Live at the Boathouse'], []],
  ['Mixed Feelings', 'Mixed Feelings', [], []],
  ['Rain (2019 Remaster)', 'Rain', ['2019 Remaster'], []],
  ['Rain [Extended] [Clean]', 'Rain', ['Extended', 'Clean'], []],
  ['The Cut', 'The Cut', [], []],
  ['(Dub)', '', ['Dub'], []],
])('titles: %s', (text, title, versions, guests) =>
  expect(titleParts(text, want)).toEqual({ title, versions, guests }),
);
test('versions without brackets, when asked', () => {
  expect(titleParts('Neon Groyne night mix', { ...want, bare: true })).toEqual({
    title: 'Neon Groyne',
    versions: ['night mix'],
    guests: [],
  });
  expect(titleParts('Radio Edit', { ...want, bare: true }).title).toBe('Radio Edit');
  expect(isVersion('Editor')).toBe(false);
});

test.each<[string, string | null]>([
  ['Keel Nine Remix', 'Keel Nine'],
  ['Extended Mix', null],
  ['Keel Nine Extended Mix', 'Keel Nine'],
  ['Somebody Else Remix', 'Somebody Else'],
  ['Somebody Else Mix', null],
  ["Keel Nine's Edit", 'Keel Nine'],
  ['Club Remix', null],
  ['Dub', null],
])('remixer: %s', (version, wanted) => expect(remixerIn(version, known)).toBe(wanted));

describe('artists', () => {
  const split = { feat: true, versus: true, times: true, presents: true, ampersand: true };
  test.each([
    [['Brine Choir feat. Vesna Rook'], ['Brine Choir', 'Vesna Rook']],
    [['Marrow & Pine'], ['Marrow & Pine']],
    [['Keel Nine & Vesna Rook'], ['Keel Nine', 'Vesna Rook']],
    [['Pell & Harrow'], ['Pell & Harrow']],
    [['Brine Choir x Keel Nine'], ['Brine Choir', 'Keel Nine']],
    [['Keel Nine vs. Brine Choir'], ['Keel Nine', 'Brine Choir']],
    [['Keel Nine (feat. Vesna Rook)'], ['Keel Nine', 'Vesna Rook']],
    [['Keel Nine', 'keel nine'], ['Keel Nine']],
  ])('%s', (artists, wanted) => expect(splitArtists(artists, split, known)).toEqual(wanted));
});

test.each([
  ['Vesna Rook - Ferry Clerk', 'Vesna Rook', 'Ferry Clerk'],
  ['Ferry Clerk - Vesna Rook', 'Vesna Rook', 'Ferry Clerk'],
  ['marrow and pine_dragline', 'Marrow & Pine', 'dragline'],
  ['Rookery', 'Rook', 'Rookery'],
  ['The Rook', 'Rook', 'The Rook'],
  ['Vesna Rook', 'Vesna Rook', ''],
  ['Album [Vesna Rook]', 'Vesna Rook', 'Album'],
  ['A - Vesna Rook - B', 'Vesna Rook', 'A - B'],
  ['Anything', '', 'Anything'],
  ['a (b', '(b', 'a (b'],
])('one field out of another: %s', (text, name, wanted) => expect(withoutName(text, name)).toBe(wanted));

test.each<[string, number | null, { number: number | null; rest: string } | null]>([
  ['07. Dry Dock', null, { number: 7, rest: 'Dry Dock' }],
  ['07 Dry Dock', null, { number: 7, rest: 'Dry Dock' }],
  ['A2 Salt on the Fader', null, { number: null, rest: 'Salt on the Fader' }],
  ['99 Buoys', null, null],
  ['99 Buoys', 99, { number: 99, rest: 'Buoys' }],
  ['3.14 Love', null, null],
  ['1-04 Bladderwrack Cuts', null, null],
  ['1-04. Bladderwrack Cuts', null, { number: 4, rest: 'Bladderwrack Cuts' }],
  ['12', null, null],
  ['4 - Bladderwrack Cuts', null, { number: 4, rest: 'Bladderwrack Cuts' }],
])('track numbers: %s', (text, own, wanted) => expect(leadingNumber(text, own)).toEqual(wanted));

describe('genres', () => {
  test('by a table, whatever marks they have; joined ones are parted', () => {
    const table = [
      { from: 'dnb', to: ['Drum and Bass'] },
      { from: "Drum'n'Bass", to: ['Drum and Bass'] },
      { from: 'Other', to: [] },
      { from: 'Deep House', to: ['House', 'Deep House'] },
    ];
    expect(tidyGenres(['DNB', 'drum n bass', 'deep-house/Dub', 'Other'], genreTable(table), true)).toEqual([
      'Drum and Bass',
      'House',
      'Deep House',
      'Dub',
    ]);
  });
  test('alike spellings are suggested, unlike ones are not', () => {
    const alike = alikeGenres([
      ['House', 40],
      ['house', 60],
      ['Tecno', 1],
      ['Techno', 20],
      ['Dub', 3],
      ['Dubstep', 4],
      ['R&B', 2],
      ['R and B', 5],
    ]);
    expect(alike.map((s) => [s.wanted, s.found.length])).toEqual([
      ['house', 2],
      ['Techno', 2],
      ['R and B', 2],
    ]);
  });
});

test('known names: the usual spelling wins, shouted ones only when there is no other', () => {
  expect(known.spelling('marrow_and_pine')).toBe('Marrow & Pine');
  expect(known.spelling('nobody')).toBeUndefined();
  expect(knownNames([['LOUD ONLY', 2]]).spelling('loud only')).toBe('LOUD ONLY');
});
