/** Genres: a table from what is found to what is wanted, and which found ones look alike. */
import { fold } from '../fields/fold.ts';

export interface GenreRow {
  from: string;
  to: string[];
}

/** "Drum'n'Bass", "drum & bass" and "Drum and Bass" are written alike. */
export const genreKey = (genre: string): string =>
  fold(genre)
    .replace(/['’`]?n['’`]/g, ' and ')
    .replace(/\s+n\s+|&|\+/g, ' and ')
    .replace(/[^\p{L}\p{N}]+/gu, '');

/** One genre written in several ways, with the spelling most used. */
export interface GenreSuggestion {
  wanted: string;
  found: { genre: string; tracks: number }[];
}

/** Genres that differ in marks, case or one letter only. Counts decide which spelling is wanted. */
export function alikeGenres(counts: Iterable<readonly [string, number]>): GenreSuggestion[] {
  const groups = new Map<string, { genre: string; tracks: number }[]>();
  for (const [genre, tracks] of counts) {
    const key = genreKey(genre);
    const home = groups.has(key) ? key : ([...groups.keys()].find((k) => oneLetterApart(k, key)) ?? key);
    groups.set(home, [...(groups.get(home) ?? []), { genre, tracks }]);
  }
  const nice = (g: { genre: string; tracks: number }): number =>
    g.tracks + (g.genre !== g.genre.toLowerCase() && g.genre !== g.genre.toUpperCase() ? 0.5 : 0);
  return [...groups.values()]
    .filter((found) => found.length > 1)
    .map((found) => {
      const sorted = [...found].sort((a, b) => nice(b) - nice(a));
      return { wanted: sorted[0]!.genre, found: sorted };
    });
}

/** One letter put in, left out or exchanged, in words of five letters and more. */
function oneLetterApart(a: string, b: string): boolean {
  if (Math.min(a.length, b.length) < 5 || Math.abs(a.length - b.length) > 1 || /\d/.test(a + b)) return false;
  let i = 0;
  while (i < a.length && a[i] === b[i]) i++;
  return a.slice(i + (a.length >= b.length ? 1 : 0)) === b.slice(i + (b.length >= a.length ? 1 : 0));
}

/** What is wanted, by the key of what is found. */
export const genreTable = (table: readonly GenreRow[]): ReadonlyMap<string, string[]> =>
  new Map(table.filter((row) => row.from.trim()).map((row) => [genreKey(row.from), row.to]));

/** Each genre by the table; those that stand in no row stay. */
export function tidyGenres(genres: readonly string[], wanted: ReadonlyMap<string, string[]>, split: boolean): string[] {
  const single = split
    ? genres.flatMap((g) => (wanted.has(genreKey(g)) ? [g] : g.split(/\s*[/|,\\]\s*/)))
    : [...genres];
  return [
    ...new Set(
      single
        .flatMap((g) => wanted.get(genreKey(g)) ?? [g])
        .map((g) => g.trim())
        .filter(Boolean),
    ),
  ];
}
