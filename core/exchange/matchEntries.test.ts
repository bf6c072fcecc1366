import { describe, expect, test } from '@jest/globals';
import type { TrackValues } from '../fields/values.ts';
import { NO_ENTRY, type ListedEntry } from './listFile.ts';
import { likeness, matchEntry, SURE_SCORE } from './matchEntries.ts';

const track = (title: string, artist: string[], more: TrackValues = {}): { values: TrackValues } => ({
  values: { title, artist, path: `Crates/House/${artist[0] ?? ''} - ${title}.mp3`, ...more },
});
const LIBRARY = [
  track('Lamp Room', ['Vesna Rook']),
  track('Slack Water', ['Odette Kassar'], { version: 'Boathouse Mix' }),
  track('Slack Water', ['Odette Kassar'], { version: 'Radio Edit' }),
  track('Dry Dock', ['Marrow & Pine'], { bitrate: 128_000 }),
  track('Dry Dock', ['Marrow & Pine'], { bitrate: 320_000, path: 'Old/Dry Dock.mp3' }),
  track('Tin Shed Rain', ['Pell & Harrow', 'Vesna Rook']),
];
const entry = (more: Partial<ListedEntry>): ListedEntry => ({ ...NO_ENTRY, ...more });
const best = (more: Partial<ListedEntry>) => {
  const { candidates, sure } = matchEntry(entry(more), LIBRARY);
  return { at: candidates[0] ? LIBRARY.indexOf(candidates[0].track) : null, sure, offered: candidates.length };
};

describe('what an entry means', () => {
  test('is told by title and artist, however they are written', () => {
    for (const said of [
      { artist: 'Vesna Rook', title: 'Lamp Room' },
      { artist: 'VESNA  ROOK', title: 'lamp room' },
      { artist: 'Lamp Room', title: 'Vesna Rook' },
      { artist: 'Vesna Rok', title: 'Lamp Rooms' },
    ])
      expect(best(said)).toMatchObject({ at: 0, sure: true });
    expect(best({ artist: 'Pell & Harrow feat. Vesna Rook', title: 'Tin Shed Rain' })).toMatchObject({
      at: 5,
      sure: true,
    });
  });
  test('of several versions the one that is named, else a look is needed', () => {
    expect(best({ artist: 'Odette Kassar', title: 'Slack Water (Radio Edit)' })).toMatchObject({ at: 2, sure: true });
    expect(best({ artist: 'Odette Kassar', title: 'Slack Water' })).toMatchObject({ sure: false, offered: 2 });
  });
  test('of equal ones the higher bit rate, without a look', () => {
    expect(best({ artist: 'Marrow & Pine', title: 'Dry Dock' })).toMatchObject({ at: 4, sure: true });
  });
  test('by the end of its path, whatever computer it lay on', () => {
    expect(best({ location: 'D:/Music/House/Vesna Rook - Lamp Room.mp3' })).toMatchObject({ at: 0, sure: true });
    expect(best({ location: '/else/Old/DRY DOCK.mp3' })).toMatchObject({ at: 4, sure: true });
    expect(likeness(entry({ location: '/elsewhere/Vesna Rook - Lamp Room.mp3' }), LIBRARY[0]!.values)).toBe(0.9);
  });
  test('a title alone is worth a little less, and what is unlike is not offered', () => {
    expect(best({ title: 'Lamp Room' })).toMatchObject({ at: 0, sure: true });
    expect(best({ title: 'Harbour Ghosts', artist: 'Nobody' })).toEqual({ at: null, sure: false, offered: 0 });
    expect(best({})).toEqual({ at: null, sure: false, offered: 0 });
  });
  test('another length speaks against it', () => {
    const of = (seconds: number) =>
      likeness(entry({ artist: 'Vesna Rook', title: 'Lamp Room', seconds }), {
        ...LIBRARY[0]!.values,
        durationSeconds: 200,
      });
    expect(of(205)).toBe(1);
    expect(of(300)).toBeCloseTo(0.9);
    expect(of(300)).toBeGreaterThan(SURE_SCORE);
  });
});
