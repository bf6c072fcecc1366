/** What a habit is, and how names are spelled in it. */
import type { Meaning } from '@early-set/core/clean/nameGroup';
import type { Song } from './songs.ts';

export interface Habit {
  name: string;
  folder: string;
  /** Which songs are in the folder: one artist's album, a compilation, or loose tracks. */
  songs: 'album' | 'compilation' | 'loose';
  write: (s: Song) => string;
  says: Partial<Record<Meaning | 'discNumber', (s: Song) => string | number>>;
  /** Do artists' names help? Not when the library knows none of them. */
  known?: boolean;
}

export const two = (n: number): string => String(n).padStart(2, '0');
export const low = (t: string): string => t.toLowerCase();
export const under = (t: string): string => t.replace(/ /g, '_');
export const bare = (t: string): string =>
  low(t)
    .replace(/[^a-z0-9 ]+/g, '')
    .replace(/ +/g, ' ');
export const title = { title: (s: Song) => s.title },
  artist = { artist: (s: Song) => s.artist },
  album = { album: (s: Song) => s.album },
  n = { trackNumber: (s: Song) => s.n };
export const both = { ...artist, ...title };
