import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { nameGroups } from './fileNames.ts';
import { nameParts } from './nameParts.ts';
import { fieldsOfFolder, fieldsOfName } from './nameFields.ts';
import { needsLook } from './nameGroup.ts';
import { NOBODY } from './known.ts';
import { context } from '../testing/cleanSamples.ts';

describe('patterns of file names', () => {
  const known = context.known,
    options = { separators: 'loose' as const, folders: false };
  const files = ['Vesna Rook - Ferry Clerk', 'Brine Choir - Foghorn', 'Rope Walk (Late Mix) - Vesna Rook'].map(
    (stem, i) => ({ id: i + 1, rootId: 1, path: `In/${stem}.mp3` }),
  );
  test('equal folders of two roots are not mixed; patterns chosen when only paths counted still do', () => {
    const both = [...files, ...files.map((f) => ({ ...f, id: f.id + 10, rootId: 2 }))];
    const groups = nameGroups(both, options, known);
    expect(new Set(groups.map((g) => g.rootId))).toEqual(new Set([1, 2]));
    for (const g of groups) expect(g.members.every((m) => m.id > 10 === (g.rootId === 2))).toBe(true);
    const old = groups[0]!.key.slice(groups[0]!.key.indexOf(':') + 1);
    expect(nameGroups(both, { ...options, patterns: { [old]: ['album', 'title'] } }, known)[0]!.pattern).toEqual([
      'album',
      'title',
    ]);
  });
  test('one name in a folder that says artist and title the other way round is a pattern of its own', () => {
    const groups = nameGroups(files, options, known);
    expect(groups.map((g) => [g.pattern, g.members.map((m) => m.id)])).toEqual([
      [
        ['artist', 'title'],
        [1, 2],
      ],
      [['title', 'artist'], [3]],
    ]);
  });
  test('meanings chosen for a group, or for single names', () => {
    const [first] = nameGroups(files, options, known);
    const chosen = nameGroups(files, { ...options, patterns: { [first!.key]: ['album', 'title'] } }, known);
    expect(chosen[0]).toMatchObject({ pattern: ['album', 'title'], sure: 1 });
    const rows = nameGroups(files, { ...options, rows: { 2: ['label', 'title'] } }, known);
    expect(rows.find((g) => g.pattern[0] === 'label')).toMatchObject({
      members: [{ id: 2 }],
      reason: 'chosen by hand',
    });
    expect(rows.flatMap((g) => g.members)).toHaveLength(3);
  });
});

describe('file names', () => {
  const options = { separators: 'loose' as const, folders: false };
  const group = (names: string[], more = {}) =>
    nameGroups(
      names.map((name, id) => ({ id, rootId: 1, path: `Inbox/${name}.mp3` })),
      { ...options, ...more },
      context.known,
    );
  test('several habits in one folder are several groups', () => {
    expect(group(['Vesna Rook - One', 'Brine Choir - Two', '01 Three', '02 Four']).map((g) => g.pattern)).toEqual([
      ['artist', 'title'],
      ['trackNumber', 'title'],
    ]);
  });
  test('a pattern chosen by hand counts, and a name split by hand', () => {
    const [first] = group(['X - Y', 'Z - W']);
    expect(first!.pattern).toEqual(['artist', 'title']);
    const [chosen] = group(['X - Y', 'Z - W'], { patterns: { [first!.key]: ['title', 'artist'] } });
    expect(chosen).toMatchObject({ pattern: ['title', 'artist'], sure: 1 });
    const split = group(['Jean-Luc - Sea', 'Vesna Rook - Two'], { splits: { 0: ['Jean', 'Luc - Sea'] } });
    expect(split[0]!.members[0]!.parts).toEqual(['Jean', 'Luc - Sea']);
  });
  test('strict separators leave bare dashes alone', () => {
    expect(group(['low-tide'], { separators: 'strict' })[0]!.pattern).toEqual(['title']);
    expect(group(['low-tide'])[0]!.members[0]!.parts).toEqual(['low', 'tide']);
    expect(group(['re-edit'])[0]!.members[0]!.parts).toEqual(['re-edit']);
  });
  test('folders', () => {
    expect(fieldsOfFolder('Music/Vesna Rook - Harbour Wall (2014) [TRN101]/01.mp3', context.known)).toEqual({
      albumArtist: 'Vesna Rook',
      album: 'Harbour Wall',
      year: 2014,
      catalogueNumber: 'TRN101',
    });
    expect(fieldsOfFolder('vesna rook/Harbour Wall/01.mp3', context.known)).toEqual({
      albumArtist: 'Vesna Rook',
      album: 'Harbour Wall',
    });
    expect(fieldsOfFolder('Inbox/x.mp3', context.known)).toEqual({});
  });
  test.each([
    ['DISC01-03 - Slack Water - Vesna Rook', ['1-03', 'Slack Water', 'Vesna Rook']],
    ['CD2-11 Vesna Rook - Slack Water', ['2-11', 'Vesna Rook', 'Slack Water']],
    ['D1T03 Slack Water', ['1-03', 'Slack Water']],
    ['disc 2 track 4 - Slack Water', ['2-04', 'Slack Water']],
    ['Track 07 - Slack Water', ['07', 'Slack Water']],
    ['Discount Rope - Vesna Rook', ['Discount Rope', 'Vesna Rook']],
    ['Track Marks - Vesna Rook', ['Track Marks', 'Vesna Rook']],
  ])('codes with letters: %s', (name, parts) => {
    expect(nameParts(name, 'loose').map((p) => p.text)).toEqual(parts);
  });
  const groupsOf = (names: readonly string[], known = context.known) =>
    nameGroups(
      names.map((name, id) => ({ id, rootId: 1, path: `In/${name}.mp3` })),
      { separators: 'loose', folders: false },
      known,
    );
  const saidOf = (names: readonly string[], known = context.known) =>
    Object.fromEntries(
      groupsOf(names, known).flatMap((g) =>
        g.members.map((m) => [
          m.stem,
          `${g.pattern.map((p, i) => `${p} ${m.parts[i]}`).join(', ')}${needsLook(g) ? '?' : ''}`,
        ]),
      ),
    );
  test('of nobody known, names that come again are the artists, either way round; the rest is unsure', () => {
    const names = ['Keel Nine - Wick', 'Moorings - Keel Nine', 'Keel Nine - Cable Bay', 'Low Cloud - Hal Sorrow'];
    expect(saidOf(names, NOBODY)).toEqual({
      'Keel Nine - Wick': 'artist Keel Nine, title Wick',
      'Keel Nine - Cable Bay': 'artist Keel Nine, title Cable Bay',
      'Moorings - Keel Nine': 'title Moorings, artist Keel Nine',
      'Low Cloud - Hal Sorrow': 'artist Low Cloud, title Hal Sorrow?',
    });
  });
  test('underscores only: a known artist is parted from the title, else it is asked', () => {
    expect(saidOf(['03_low_tide_assembly_dry_dock_(dub)', '04_nobody_at_all_dry_dock'])).toEqual({
      '03_low_tide_assembly_dry_dock_(dub)': 'trackNumber 03, artist low tide assembly, title dry dock (dub)',
      '04_nobody_at_all_dry_dock': 'trackNumber 04, title nobody at all dry dock?',
    });
  });
  test('or another name of the folder tells the artist', () => {
    expect(saidOf(['03_keel_nine_dry_dock_(dub)', '04_hal_sorrow_moorings', 'Keel Nine - Wick'], NOBODY)).toEqual({
      '03_keel_nine_dry_dock_(dub)': 'trackNumber 03, artist keel nine, title dry dock (dub)',
      '04_hal_sorrow_moorings': 'trackNumber 04, title hal sorrow moorings?',
      'Keel Nine - Wick': 'artist Keel Nine, title Wick',
    });
  });
  test('a high number with nothing behind it belongs to the words', () => {
    expect(saidOf(['99 Buoys - Vesna Rook', 'A1 Vesna Rook - Moorings'])).toEqual({
      '99 Buoys - Vesna Rook': 'title 99 Buoys, artist Vesna Rook',
      'A1 Vesna Rook - Moorings': 'trackNumber A1, artist Vesna Rook, title Moorings',
    });
  });
  test('a part set to disc and track fills both, however it is written', () => {
    for (const text of ['2-07', 'DISC02-07', '207', '2.07'])
      expect(fieldsOfName([text, 'x'], ['discAndTrack', 'title'], NOBODY)).toEqual({
        discNumber: 2,
        trackNumber: 7,
        title: 'x',
      });
  });
  test('a track number alone, among names that have a disc too, is a track number', () => {
    for (const group of groupsOf(['DISC01-03 - Wick - Keel Nine', '22. Moorings - Keel Nine']))
      for (const m of group.members)
        expect(fieldsOfName(m.parts, group.pattern, NOBODY)).toMatchObject(
          m.id === 0 ? { discNumber: 1, trackNumber: 3 } : { trackNumber: 22, title: 'Moorings' },
        );
  });
  test('any name at all is taken apart without failing, and nothing of it is lost but separators', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.string({ maxLength: 40 }).map((s) => s.replaceAll('/', '')),
          { minLength: 1, maxLength: 6 },
        ),
        (names) => {
          for (const g of group(names))
            for (const m of g.members) expect(m.parts.length).toBe(g.members[0]!.parts.length);
        },
      ),
    );
  });
});
