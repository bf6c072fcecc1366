import { describe, expect, test } from '@jest/globals';
import { concat, sourceOf, spliced, TagTrouble, toLatin1 } from './bytes.ts';
import { editTags, openTags, pictureIn, TAG_FIELDS } from './edit.ts';
import { fieldOf } from '../fields/table.ts';
import { valueIn } from './values.ts';

import {
  frames,
  text,
  id3,
  ogg,
  old22,
  id3v22,
  latinText,
  FILES,
  NAMES,
  after,
  read,
  holds,
} from '../testing/tagSamples.ts';

test('pictures are put in, replaced and taken out', () => {
  const picture = { mime: 'image/png', data: Uint8Array.from({ length: 3000 }, (_, i) => i & 255) };
  for (const name of NAMES) {
    const file = FILES[name]!;
    const made = spliced(file, editTags(sourceOf(file), { fields: {}, picture }));
    expect({ name, picture: pictureIn(openTags(sourceOf(made))) }).toMatchObject({ name, picture });
    expect(read(made)).toEqual(read(file));
    const gone = spliced(made, editTags(sourceOf(made), { fields: {}, picture: null }));
    expect(pictureIn(openTags(sourceOf(gone)))).toBeNull();
  }
});

test('keys and numbers are spelled as tags have them', () => {
  const file = concat([id3(3, [text('TRCK', '3/12'), text('TKEY', 'Am')]), frames]);
  expect(read(after(file, { trackNumber: ['4'], key: ['g# minor'], year: ['2020'] }))).toMatchObject({
    trackNumber: ['4/12'],
    key: ['G#m'],
    year: ['2020'],
  });
  expect(holds(after(file, { year: ['2020'] }), 'TYER')).toBe(true);
  expect(() => after(file, { key: ['no key'] })).toThrow('"no key" is no key');
  expect(() => after(file, { energy: ['3'] })).toThrow(RangeError);
  expect(TAG_FIELDS.length).toBeGreaterThan(15);
});

describe('numbers of how many', () => {
  test('share one text with the number where a tag has it so, and each keeps the other', () => {
    const file = concat([id3(3, [text('TRCK', '3/12'), text('TPOS', '1')]), frames]);
    expect(read(file)).toMatchObject({ trackNumber: ['3/12'], trackTotal: ['12'], discNumber: ['1'] });
    expect(read(file).discTotal).toBeUndefined();
    const made = after(file, { trackTotal: ['14'], discTotal: ['2'] });
    expect(read(made)).toMatchObject({
      trackNumber: ['3/14'],
      trackTotal: ['14'],
      discNumber: ['1/2'],
      discTotal: ['2'],
    });
    expect(read(after(made, { trackTotal: [], discTotal: [] }))).toMatchObject({
      trackNumber: ['3'],
      discNumber: ['1'],
    });
    expect(read(after(made, { trackNumber: ['9'] })).trackTotal).toEqual(['14']);
    const unnumbered = after(made, { trackNumber: [] });
    expect(read(unnumbered)).toMatchObject({ trackNumber: ['0/14'], trackTotal: ['14'] });
    expect(valueIn(fieldOf('trackNumber'), ['0/14'])).toBeNull();
    expect(read(after(unnumbered, { trackTotal: [] })).trackNumber).toBeUndefined();
  });
  test.each(NAMES)('%s takes, gives and loses them', (name) => {
    const made = after(FILES[name]!, { trackNumber: ['3'], trackTotal: ['12'], discTotal: ['2'] });
    const said = read(made);
    if (said.trackTotal === undefined) {
      expect(openTags(sourceOf(made)).sets[0]!.family).toMatch(/riff|aiff/);
      return;
    }
    expect([
      said.trackTotal,
      said.discTotal,
      valueIn(fieldOf('trackNumber'), said.trackNumber!),
      valueIn(fieldOf('discNumber'), said.discNumber ?? []),
    ]).toEqual([['12'], ['2'], 3, null]);
    expect(read(after(made, { trackNumber: [], trackTotal: [], discTotal: [] }))).toEqual(read(FILES[name]!));
  });
  test('in Vorbis comments a total has a name of its own, or follows the number when it was written so', () => {
    const own = after(ogg(['TRACKNUMBER=3']), { trackTotal: ['12'] });
    expect([holds(own, 'TRACKNUMBER=3'), holds(own, 'TRACKNUMBER=3/'), holds(own, 'TRACKTOTAL=12')]).toEqual([
      true,
      false,
      true,
    ]);
    const pair = after(ogg(['TrackNumber=3/11']), { trackTotal: ['12'] });
    expect([holds(pair, 'TrackNumber=3/12'), holds(pair, 'TRACKTOTAL')]).toEqual([true, false]);
  });
});

test('moods go where each kind of tag has them', () => {
  const moods = ['dark', 'slow burn'];
  for (const name of NAMES) {
    const made = after(FILES[name]!, { moods });
    if (read(made).moods) expect([name, read(made).moods]).toEqual([name, moods]);
    else expect(openTags(sourceOf(made)).sets[0]!.family).toMatch(/riff|aiff/);
  }
  expect(holds(after(FILES['MP3 with v2.4']!, { moods }), 'TMOO')).toBe(true);
  const older = after(FILES['MP3 with v2.3']!, { moods });
  expect([holds(older, 'TMOO'), holds(older, 'TXXX')]).toEqual([false, true]);
  expect(holds(after(FILES.FLAC!, { moods }), 'MOOD=dark')).toBe(true);
});

test('a tag of v2.2 becomes one of v2.3 with everything in it, or is left when that cannot be', () => {
  const png = Uint8Array.from({ length: 200 }, (_, i) => (i * 7) & 255);
  const picture = old22('PIC', concat([Uint8Array.of(0), toLatin1('PNG'), Uint8Array.of(3, 0), png]));
  const file = concat([
    id3v22([old22('TT2', latinText('Old')), old22('TXX', latinText('mine\0kept')), picture], 100),
    frames,
  ]);
  expect(openTags(sourceOf(file)).sets[0]!.label).toBe('ID3v2.2');
  const made = after(file, { title: ['New'] });
  expect(made.length).toBe(file.length);
  const opened = openTags(sourceOf(made));
  expect([opened.sets[0]!.label, opened.sets[0]!.get('TXXX:mine'), pictureIn(opened)]).toEqual([
    'ID3v2.3',
    ['kept'],
    { mime: 'image/png', type: 3, data: png },
  ]);
  const strange = concat([id3v22([old22('TT2', latinText('Old')), old22('CRM', new Uint8Array(5))], 10), frames]);
  expect(read(strange).title).toEqual(['Old']);
  expect(() => after(strange, { title: ['New'] })).toThrow('"CRM"');
  expect(after(strange, { title: ['Old'] })).toEqual(strange);
});

test('files that are none are refused', () => {
  for (const bytes of [
    new Uint8Array(0),
    new Uint8Array(5000),
    toLatin1('Dear all, '.repeat(500)),
    id3(3, [text('TIT2', 'only a tag')]),
  ]) {
    expect(() => editTags(sourceOf(bytes), { fields: { title: ['x'] } })).toThrow(TagTrouble);
  }
});

test('gains are said as each container says them', () => {
  const fields = { trackGainDb: ['-6.5'], trackPeak: ['0.98'] };
  const mp3 = after(FILES['MP3 with v2.4']!, fields),
    opusFile = after(FILES.Opus!, fields);
  expect(holds(mp3, 'REPLAYGAIN_TRACK_GAIN\0-6.50 dB')).toBe(true);
  expect(holds(mp3, '0.980000')).toBe(true);
  expect(holds(opusFile, `R128_TRACK_GAIN=${(-6.5 - 5) * 256}`)).toBe(true);
  for (const made of [mp3, opusFile]) expect(read(made).trackGainDb).toEqual(['-6.5']);
  expect(() => after(FILES.FLAC!, { trackGainDb: ['loud'] })).toThrow('is no number');
});
