import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { TrackValues } from '../fields/values.ts';
import { nameTrouble } from '../files/fileRef.ts';
import { namer, READY_RULES, type Naming, type NamedFile } from './naming.ts';
import { cutBytes, DEFAULT_NAME_OPTIONS, safeName, type NameOptions } from './safeNames.ts';

const naming = (template: string, options: Partial<NameOptions> = {}): Naming => ({
  rules: [{ id: 'a', name: 'Own', where: null, on: true, template }],
  options: { ...DEFAULT_NAME_OPTIONS, ...options },
});
const track = (values: TrackValues, more: Partial<NamedFile> = {}): NamedFile => ({
  path: 'Inbox/x.MP3',
  values: { title: 'Slack Water', artist: ['Odette Kassar'], ...values },
  root: 'Music',
  lists: [],
  ...more,
});
const wanted = (template: string, values: TrackValues = {}, options: Partial<NameOptions> = {}): string => {
  const answer = namer(naming(template, options))(track(values));
  return 'path' in answer ? answer.path : `(${answer.trouble})`;
};
const ready = (name: string): string => READY_RULES.find((r) => r.name === name)!.template;

describe('a rule', () => {
  test('writes fields into folders and a name; the ending stays, in small letters', () => {
    const values = { album: 'Tideline', trackNumber: 3, version: 'Dub' };
    expect(wanted(ready('Artist, album, number and title'), values)).toBe(
      'Odette Kassar/Tideline/03 Slack Water (Dub).mp3',
    );
    expect(wanted(ready('Artist, album, number and title'), {})).toBe('Odette Kassar/Single tracks/Slack Water.mp3');
    expect(wanted(ready('Playout ID'), { playoutId: 42 })).toBe('000042 Odette Kassar - Slack Water.mp3');
    expect(wanted('{{ root }}/{{ list }}/{{ bpm }} {{ title }}', { bpm: 123.456 })).toBe(
      'Music/123.46 Slack Water.mp3',
    );
  });

  test('a slash in a value makes no folder, and folders of which nothing is left are none', () => {
    expect(wanted('{{ artist }}/{{ album }}/{{ title }}', { artist: ['Pell / Harrow', 'Keel'] })).toBe(
      'Pell-Harrow, Keel/Slack Water.mp3',
    );
    expect(wanted('{{ artist }}/../{{ title }}')).toBe('Odette Kassar/Slack Water.mp3');
    expect(wanted('/{{ title }}')).toBe('Slack Water.mp3');
  });

  test('leaves no marks of what is empty', () => {
    expect(wanted('{{ year }} - {{ title }} ({{ version }}) [{{ label }}]')).toBe('Slack Water.mp3');
    expect(wanted('{{ title }} - {{ version }}')).toBe('Slack Water.mp3');
  });

  test('names nothing that has no title, or of which nothing is left', () => {
    expect(wanted('{{ artist }} - {{ title }}', { title: '' })).toBe('(It has no title)');
    expect(wanted('{{ artist }}/{{ version }}')).toBe('(The rule leaves no name for it)');
    expect(namer({ rules: [], options: DEFAULT_NAME_OPTIONS })(track({}))).toEqual({ trouble: 'No rule takes it' });
  });

  test('the first that takes it counts, one that is off never', () => {
    const rules = READY_RULES.map((rule, i) => ({ ...rule, id: String(i) }));
    const order = ['Compilations', 'Videos', 'Year', 'Genre'].map((name) => rules.find((r) => r.name === name)!);
    order[2] = { ...order[2]!, on: false };
    const name = namer({ rules: order, options: DEFAULT_NAME_OPTIONS });
    const of = (values: TrackValues): unknown => {
      const answer = name(track(values));
      return 'path' in answer ? [answer.rule.name, answer.path] : answer.trouble;
    };
    const who = 'Odette Kassar - Slack Water.mp3';
    expect(of({ albumArtist: 'Various Artists', album: 'Quay' })).toEqual(['Compilations', `Compilations/Quay/${who}`]);
    expect(of({ kind: 'video' })).toEqual(['Videos', `Videos/${who}`]);
    expect(of({ genre: ['House'] })).toEqual(['Genre', `House/${who}`]);
  });

  test('number the files of each folder', () => {
    const name = namer(naming('{{ genre }}/{{ counter | pad: 2 }} {{ title }}'));
    const of = (genre: string, title: string): string =>
      (name(track({ genre: [genre], title })) as { path: string }).path;
    expect([of('House', 'A'), of('Dub', 'B'), of('House', 'C')]).toEqual([
      'House/01 A.mp3',
      'Dub/01 B.mp3',
      'House/02 C.mp3',
    ]);
  });

  test('that cannot be read or filled is said with its name', () => {
    expect(() => namer(naming('{{ title'))).toThrow(/^The rule “Own” cannot be used: /);
    expect(() => namer(naming('{{ title | shout }}'))).toThrow(/undefined filter: shout/);
    expect(() => wanted('{% for i in (1..100000) %}x{% endfor %}')).toThrow(/^The rule “Own” cannot be used: /);
  });
});

describe('names', () => {
  const name = (text: string, options: Partial<NameOptions> = {}, ending = '.mp3'): string | null =>
    safeName(text, ending, { ...DEFAULT_NAME_OPTIONS, ...options });

  test('hold what every drive can hold, or what this one can', () => {
    expect(name('What? 12" Mix: <Live>|*')).toBe('What 12’ Mix - Live-.mp3');
    expect(name('What? 12" Mix: <Live>|*', { drives: 'this drive' })).toBe('What? 12" Mix: <Live>|*.mp3');
    expect(name('Ends.. ', {}, '')).toBe('Ends');
    expect(name('..hidden')).toBe('hidden.mp3');
    expect([name('con'), name('COM1', {}, ''), name('aux.x', {}, ''), name('console')]).toEqual([
      'con_.mp3',
      'COM1_',
      'aux_.x',
      'console.mp3',
    ]);
    expect([name('  '), name('...'), name('()')]).toEqual([null, null, null]);
  });

  test('with plain letters, articles behind', () => {
    expect(name('Corazón de Sål øre', { accents: 'plain letters' })).toBe('Corazon de Sal ore.mp3');
    expect(name('e\u0301')).toBe('\u00e9.mp3');
    expect(
      wanted('{{ artist }}/{{ title }}', { artist: ['The Net Loft'], title: 'The Weir' }, { articlesBehind: true }),
    ).toBe('Net Loft, The/The Weir.mp3');
  });

  test('are cut behind a word, never inside a character', () => {
    expect(cutBytes('The long way around the point', 16)).toBe('The long way');
    expect(cutBytes('Longestwordofall', 8)).toBe('Longestw');
    expect(cutBytes('ééé', 5)).toBe('éé');
    expect(cutBytes('👩‍🚀👩‍🚀', 12)).toBe('👩‍🚀');
  });

  test('whatever a field holds: a name that the strictest drive takes, no longer than asked, and the same again', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 90 }), fc.integer({ min: 24, max: 255 }), (text, maxBytes) => {
        for (const drives of ['any drive', 'this drive'] as const) {
          const made = name(text, { maxBytes, drives });
          if (made === null) continue;
          expect(nameTrouble(made, drives === 'any drive' ? 'vfat' : 'ext4')).toBeNull();
          expect(new TextEncoder().encode(made).length).toBeLessThanOrEqual(maxBytes + 1);
          expect(made).not.toMatch(/^\./);
          expect(name(made.slice(0, -4), { maxBytes, drives })).toBe(made);
        }
      }),
      { numRuns: 2000 },
    );
  });
});
