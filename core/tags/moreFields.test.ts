/** Lyrics, grouping, language and the like, where each kind of tag has a place for them; counters are only read. */
import { describe, expect, test } from '@jest/globals';
import { after, FILES, flac, frame, frames, holds, id3, NAMES, read, text } from '../testing/tagSamples.ts';
import { concat, sourceOf, toLatin1 } from './bytes.ts';
import { openTags } from './edit.ts';
import { fieldOf } from '../fields/table.ts';
import { valueIn } from './values.ts';

const lyrics = (language: string, words: string, description = ''): Uint8Array =>
  frame(4, 'USLT', concat([Uint8Array.of(3), toLatin1(`${language}${description}\0${words}`)]));

describe('lyrics in ID3', () => {
  const file = concat([
    id3(4, [text('TIT2', 'A song', 4), lyrics('eng', 'Haul away\nhaul away', 'sung'), lyrics('deu', 'Hol weg')]),
    frames,
  ]);
  test('the first are shown, line by line', () => expect(read(file).lyrics).toEqual(['Haul away\nhaul away']));
  test('changed, their language and description stay, and those of other languages as they are', () => {
    const made = after(file, { lyrics: ['Slack\nwater'] });
    expect(read(made).lyrics).toEqual(['Slack\nwater']);
    expect([holds(made, 'engsung\0Slack\nwater'), holds(made, 'deu\0Hol weg')]).toEqual([true, true]);
    expect(holds(made, 'Haul')).toBe(false);
  });
  test('in scripts that Latin-1 does not hold, in v2.3', () => {
    const made = after(FILES['MP3 with v2.3']!, { lyrics: ['Вода\nстоит'] });
    expect(read(made).lyrics).toEqual(['Вода\nстоит']);
    expect(read(after(made, { lyrics: ['again'] })).lyrics).toEqual(['again']);
  });
});

test('in Vorbis comments both usual names are read; the one that is there is changed', () => {
  const file = flac(['title=A song', 'UNSYNCEDLYRICS=Haul away'], 200);
  expect(read(file).lyrics).toEqual(['Haul away']);
  expect(holds(after(file, { lyrics: ['Slack'] }), 'UNSYNCEDLYRICS=Slack')).toBe(true);
});

const SAID: Record<string, string[]> = {
  lyrics: ['One line\nand another'],
  grouping: ['Harbour pieces'],
  language: ['hrv'],
  originalYear: ['1998'],
  conductor: ['Mabel Orr'],
  lyricist: ['Ada Thole', 'Ines Tarn'],
  copyright: ['2021 Low Lamp'],
};
test.each(NAMES)('%s: each goes where its tags have a place, is read again, and is taken out', (name) => {
  for (const [field, texts] of Object.entries(SAID)) {
    const family = openTags(sourceOf(FILES[name]!)).sets[0]!.family;
    const names = fieldOf(field).tags[family] ?? [];
    const made = after(FILES[name]!, { [field]: texts });
    if (names.length === 0) continue;
    expect([name, field, read(made)[field]]).toEqual([name, field, texts]);
    expect(read(after(made, { [field]: [] }))[field]).toBeUndefined();
  }
});

test('an original date is a year; v2.3 has a name of its own for it', () => {
  const file = concat([id3(4, [text('TDOR', '1998-05-01', 4)]), frames]);
  expect(valueIn(fieldOf('originalYear'), read(file).originalYear!)).toBe(1998);
  expect(holds(after(FILES['MP3 with v2.3']!, { originalYear: ['1998'] }), 'TORY')).toBe(true);
  expect(holds(after(FILES['MP3 with v2.4']!, { originalYear: ['1998'] }), 'TDOR')).toBe(true);
});

test('a counter of plays is read, however long, and cannot be written', () => {
  const counted = (bytes: number[]): Uint8Array => concat([id3(4, [frame(4, 'PCNT', Uint8Array.from(bytes))]), frames]);
  expect(read(counted([0, 0, 1, 2])).playCount).toEqual(['258']);
  expect(read(counted([0, 1, 0, 0, 0])).playCount).toEqual(['16777216']);
  expect(fieldOf('playCount').editable).toBe(false);
});

describe('stars', () => {
  const popm = (address: string, rating: number, plays: number[] = []): Uint8Array =>
    frame(4, 'POPM', concat([toLatin1(address), Uint8Array.of(0, rating, ...plays)]));
  const file = concat([id3(4, [popm('one@slip.example', 196, [0, 0, 0, 7]), popm('two@slip.example', 64)]), frames]);
  test.each([
    [1, '1'],
    [51, '1'],
    [64, '2'],
    [128, '3'],
    [196, '4'],
    [204, '4'],
    [255, '5'],
    [0, undefined],
  ])('a popularity of %i is %s', (rating, stars) => {
    expect(read(concat([id3(4, [popm('', rating)]), frames])).rating?.[0] || undefined).toBe(stars);
  });
  test('the first rating is changed; its listener, its plays, and what others gave stay', () => {
    const made = after(file, { rating: ['2'] });
    expect(read(made).rating).toEqual(['2']);
    expect(holds(made, 'one@slip.example\0\x40\0\0\0\x07')).toBe(true);
    expect(holds(made, 'two@slip.example\0\x40')).toBe(true);
    const none = after(file, { rating: [] });
    expect(read(none).rating?.[0] ?? '').toBe('');
    expect(holds(none, 'one@slip.example\0\0\0\0\0\x07')).toBe(true);
  });
  test.each(['1', '2', '3', '4', '5'])('%s are the same ones afterwards, by fifths and by thresholds', (stars) => {
    for (const name of ['MP3 with v2.3', 'MP3 with nothing', 'FLAC'])
      expect([name, read(after(FILES[name]!, { rating: [stars] })).rating]).toEqual([name, [stars]]);
    const tag = openTags(sourceOf(after(FILES['MP3 with v2.4']!, { rating: [stars] }))).sets[0]!;
    const figure = Number(tag.get('POPM')![0]);
    expect([figure < 32, figure < 96, figure < 160, figure < 224].filter((less) => !less).length + 1).toBe(
      Number(stars),
    );
  });
  test.each([
    ['4', '4'],
    ['80', '4'],
    ['100', '5'],
    ['0', undefined],
  ])('a rating of %s in Vorbis comments is %s', (said, stars) => {
    expect(read(flac(['title=x', `RATING=${said}`], 100)).rating?.[0] || undefined).toBe(stars);
  });
});
