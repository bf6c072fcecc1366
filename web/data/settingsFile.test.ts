import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import { newStep } from '@early-set/core/clean/steps';
import { readLayout } from './layouts.ts';
import {
  categoriesIn,
  only,
  partsOf,
  readSettingsFile,
  SETTING_CATEGORIES,
  settingsFile,
  withNames,
  type HereNow,
} from './settingsFile.ts';

const HERE: HereNow = {
  settings: {
    ...DEFAULT_SETTINGS,
    ...{ editsGoTo: 'library', quarantineDays: 30, keyLock: false },
    backups: { ...DEFAULT_SETTINGS.backups, folder: '/drive/backups', at: '05:30' },
  },
  presets: [{ id: 3, name: 'Tidy', steps: [newStep('trackNumbers', 'one')], updatedAt: '2026-11-01T10:00:00Z' }],
  layouts: [readLayout({ name: 'Wide', theme: 'night' })],
};
const categories = fc.subarray([...SETTING_CATEGORIES]).map((some) => new Set(some));

describe('settings as a file', () => {
  test('what is written of some categories is read again, and nothing else', () => {
    fc.assert(
      fc.property(categories, categories, (written, wanted) => {
        const read = readSettingsFile(settingsFile(partsOf(HERE, written)));
        expect(new Set(categoriesIn(read))).toEqual(written);
        expect(only(read, wanted)).toEqual(partsOf(HERE, new Set([...written].filter((c) => wanted.has(c)))));
      }),
    );
  });

  test('where backups go stays with the computer; presets go without their numbers', () => {
    const { backups, presets } = partsOf(HERE, new Set(SETTING_CATEGORIES));
    expect(backups).toEqual({ on: true, at: '05:30', keep: DEFAULT_SETTINGS.backups.keep });
    expect(presets).toEqual([{ name: 'Tidy', steps: HERE.presets[0]!.steps }]);
  });

  test.each([
    ['not json', 'not a settings file'],
    ['[]', 'not a settings file'],
    ['{"kind":"early-set-layout","version":1}', 'not a settings file'],
    ['{"kind":"early-set-settings","version":2}', 'newer version'],
  ])('%s is refused in words', (text, words) => {
    expect(() => readSettingsFile(text)).toThrow(words);
  });

  test('what it does not know, or is none, is left out', () => {
    const text = JSON.stringify({
      ...{ kind: 'early-set-settings', version: 1, settings: { keyLock: true, later: 1 } },
      ...{ presets: [null, { name: 4 }, { name: 'Ok', steps: [] }], layouts: ['x', { name: 'Wide', theme: 'odd' }] },
    });
    expect(readSettingsFile(text)).toEqual({
      settings: { keyLock: true },
      presets: [{ name: 'Ok', steps: [] }],
      layouts: [{ name: 'Wide', columns: null, theme: 'system', widths: expect.anything() as object }],
    });
  });

  test('of one name the later one stays', () => {
    const was = { name: 'b', at: 1 },
      now = { name: 'b', at: 2 };
    expect(withNames([was, { name: 'c', at: 1 }], [now, { name: 'a', at: 2 }])).toEqual([
      { name: 'a', at: 2 },
      now,
      { name: 'c', at: 1 },
    ]);
  });
});
