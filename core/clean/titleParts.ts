/** What is taken out of titles and albums into fields of its own: versions, guests, years; and totals of albums. */
import { isEmpty, type FieldValue } from '../fields/values.ts';
import { folderKey } from '../files/fileRef.ts';
import { splitGuests, titleParts, unique, type SplitOptions } from './versions.ts';
import type { CleanContext, Working } from './workingTrack.ts';

/** What is moved out of titles, and where artists are split. */
export interface PartOptions {
  versions: boolean;
  guests: boolean;
  remixers: boolean;
  bare: boolean;
  split: SplitOptions;
}

/** Moves versions and guests out of a title. */
export function moveOut(
  w: Working,
  options: PartOptions,
  known: CleanContext['known'],
  remixerOf: (version: string) => string | null,
): void {
  const parts = titleParts(w.text('title'), options);
  w.set('title', parts.title);
  if (parts.guests.length)
    w.set(
      'artist',
      unique([...w.list('artist'), ...splitGuests(parts.guests, known).map((g) => known.spelling(g) ?? g)]),
    );
  if (parts.versions.length) {
    const there = w.text('version');
    const fresh = parts.versions.filter((v) => !there.toLowerCase().includes(v.toLowerCase()));
    w.set('version', [there, ...fresh].filter(Boolean).join(', '));
  }
  if (options.remixers && isEmpty(w.values.remixer)) {
    const remixer = remixerOf(w.text('version'));
    if (remixer) w.set('remixer', [remixer]);
  }
}

/** "Slack Water EP (2019)" → 2019 into the year, when it has none. */
export function yearOut(w: Working, field: string): void {
  w.each(field, (text) => {
    const found =
      /\s*[([]\s*((?:19[3-9]|20[0-4])\d)(?:[-/.]\d{1,2}){0,2}\s*[)\]]\s*$|\s*[-–—,]\s*((?:19[3-9]|20[0-4])\d)\s*$/u.exec(
        text,
      );
    const year = Number(found?.[1] ?? found?.[2]);
    if (!found || (!isEmpty(w.values.year) && w.values.year !== year)) return text;
    w.set('year', year);
    return text.slice(0, found.index).trim();
  });
}

/**
 * Of how many tracks and discs, where an album is whole: in one folder, each number from 1 on once. Of an album with
 * gaps nobody knows how many there should be.
 */
export function totalsOf(workings: readonly Working[]): (w: Working) => void {
  const numbers = new Map<string, number[]>();
  const albumOf = (w: Working): string => `${folderKey(w.track)}|${w.text('album').toLowerCase()}`;
  const discOf = (w: Working): string => `${albumOf(w)}|${w.text('discNumber')}`;
  const add = (key: string, value: FieldValue | undefined): void => {
    numbers.set(key, [...(numbers.get(key) ?? []), typeof value === 'number' ? value : 0]);
  };
  for (const w of workings) add(discOf(w), w.values.trackNumber);
  const discs = new Map(workings.map((w) => [discOf(w), w]));
  for (const w of discs.values()) add(albumOf(w), w.values.discNumber);
  const whole = (found: number[]): number | null =>
    new Set(found).size === found.length && Math.max(...found) === found.length && !found.includes(0)
      ? found.length
      : null;
  return (w) => {
    if (isEmpty(w.values.album)) return;
    const tracks = whole(numbers.get(discOf(w))!),
      all = whole(numbers.get(albumOf(w))!);
    if (tracks !== null) w.set('trackTotal', tracks);
    if (all !== null) w.set('discTotal', all);
  };
}
