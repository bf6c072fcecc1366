/** Habits of naming files, made up, each with what its names say. Artists, albums and titles are from our own scenario. */
import type { Meaning } from '@early-set/core/clean/fileNames';

export interface Song {
  artist: string;
  title: string;
  album: string;
  year: number;
  n: number;
  disc: number;
  code: string;
  label: string;
}
export interface Habit {
  name: string;
  folder: string;
  /** Which songs are in the folder: one artist's album, a compilation, or loose tracks. */
  songs: 'album' | 'compilation' | 'loose';
  write: (s: Song) => string;
  says: Partial<Record<Meaning, (s: Song) => string | number>>;
  /** Do artists' names help? Not when the library knows none of them. */
  known?: boolean;
}

const two = (n: number): string => String(n).padStart(2, '0');
const low = (t: string): string => t.toLowerCase();
const under = (t: string): string => t.replace(/ /g, '_');
const bare = (t: string): string =>
  low(t)
    .replace(/[^a-z0-9 ]+/g, '')
    .replace(/ +/g, ' ');
const title = { title: (s: Song) => s.title },
  artist = { artist: (s: Song) => s.artist },
  album = { album: (s: Song) => s.album },
  n = { trackNumber: (s: Song) => s.n };
const both = { ...artist, ...title };

export const HABITS: readonly Habit[] = [
  { name: 'artist - title', folder: 'Inbox', songs: 'loose', write: (s) => `${s.artist} - ${s.title}`, says: both },
  { name: 'title - artist', folder: 'Inbox', songs: 'loose', write: (s) => `${s.title} - ${s.artist}`, says: both },
  {
    name: 'number artist - title',
    folder: 'Promo',
    songs: 'loose',
    write: (s) => `${two(s.n)} ${s.artist} - ${s.title}`,
    says: { ...both, ...n },
  },
  {
    name: 'number - artist - title',
    folder: 'Promo',
    songs: 'compilation',
    write: (s) => `${two(s.n)} - ${s.artist} - ${s.title}`,
    says: { ...both, ...n },
  },
  {
    name: 'number. title',
    folder: 'Rips/one',
    songs: 'album',
    write: (s) => `${s.n}. ${s.title}`,
    says: { ...title, ...n },
  },
  {
    name: 'number title',
    folder: 'Rips/one',
    songs: 'album',
    write: (s) => `${two(s.n)} ${s.title}`,
    says: { ...title, ...n },
  },
  {
    name: 'underscored artist-title',
    folder: 'Net',
    songs: 'loose',
    write: (s) => `${under(bare(s.artist))}-${under(bare(s.title))}`,
    says: { artist: (s) => bare(s.artist), title: (s) => bare(s.title) },
  },
  {
    name: 'underscored number_artist-title',
    folder: 'Net',
    songs: 'loose',
    write: (s) => `${two(s.n)}_${under(bare(s.artist))}-${under(bare(s.title))}`,
    says: { artist: (s) => bare(s.artist), title: (s) => bare(s.title), ...n },
  },
  {
    name: 'artist - album - number - title',
    folder: 'Store',
    songs: 'album',
    write: (s) => `${s.artist} - ${s.album} - ${two(s.n)} - ${s.title}`,
    says: { ...both, ...album, ...n },
  },
  {
    name: 'artist - album - number title',
    folder: 'Store',
    songs: 'album',
    write: (s) => `${s.artist} - ${s.album} - ${two(s.n)} ${s.title}`,
    says: { ...artist, ...album },
  },
  {
    name: 'artist - album - title',
    folder: 'Store',
    songs: 'album',
    write: (s) => `${s.artist} - ${s.album} - ${s.title}`,
    says: { ...both, ...album },
  },
  {
    name: 'album - number - title',
    folder: 'Rips/two',
    songs: 'album',
    write: (s) => `${s.album} - ${two(s.n)} - ${s.title}`,
    says: { ...title, ...n },
  },
  { name: 'vinyl side and title', folder: 'Vinyl', songs: 'album', write: (s) => `A${s.n} ${s.title}`, says: title },
  {
    name: 'vinyl side - artist - title',
    folder: 'Vinyl',
    songs: 'compilation',
    write: (s) => `B${s.n} - ${s.artist} - ${s.title}`,
    says: both,
  },
  {
    name: 'disc-track title',
    folder: 'Box',
    songs: 'album',
    write: (s) => `${s.disc}-${two(s.n)} ${s.title}`,
    says: title,
  },
  {
    name: 'disc-track artist - title',
    folder: 'Box',
    songs: 'compilation',
    write: (s) => `${s.disc}-${two(s.n)} ${s.artist} - ${s.title}`,
    says: both,
  },
  {
    name: 'brackets round the number',
    folder: 'Odd',
    songs: 'album',
    write: (s) => `[${two(s.n)}] ${s.title}`,
    says: { ...title, ...n },
  },
  {
    name: 'round brackets round the number, artist - title',
    folder: 'Odd',
    songs: 'loose',
    write: (s) => `(${two(s.n)}) ${s.artist} - ${s.title}`,
    says: { ...both, ...n },
  },
  {
    name: 'artist - title (year)',
    folder: 'Years',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title} (${s.year})`,
    says: { ...both, year: (s) => s.year },
  },
  {
    name: 'year - artist - title',
    folder: 'Years',
    songs: 'loose',
    write: (s) => `${s.year} - ${s.artist} - ${s.title}`,
    says: { ...both, year: (s) => s.year },
  },
  {
    name: 'artist - title [code]',
    folder: 'Label',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title} [${s.code}]`,
    says: { ...both, catalogueNumber: (s) => s.code },
  },
  {
    name: 'code - artist - title',
    folder: 'Label',
    songs: 'loose',
    write: (s) => `${s.code} - ${s.artist} - ${s.title}`,
    says: { ...both, catalogueNumber: (s) => s.code },
  },
  {
    name: 'artist - title - version',
    folder: 'Mixes',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title} - Club Mix`,
    says: { ...both, version: () => 'Club Mix' },
  },
  {
    name: 'artist - title (version)',
    folder: 'Mixes',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title} (Radio Edit)`,
    says: { ...artist, title: (s) => `${s.title} (Radio Edit)` },
  },
  {
    name: 'artist – title with long dashes',
    folder: 'Typed',
    songs: 'loose',
    write: (s) => `${s.artist} – ${s.title}`,
    says: both,
  },
  {
    name: 'artist — title with longest dashes',
    folder: 'Typed',
    songs: 'loose',
    write: (s) => `${s.artist} — ${s.title}`,
    says: both,
  },
  { name: 'bars between', folder: 'Typed', songs: 'loose', write: (s) => `${s.artist} | ${s.title}`, says: both },
  { name: 'tildes between', folder: 'Typed', songs: 'loose', write: (s) => `${s.artist} ~ ${s.title}`, says: both },
  {
    name: 'all capitals',
    folder: 'Loud',
    songs: 'loose',
    write: (s) => `${s.artist.toUpperCase()} - ${s.title.toUpperCase()}`,
    says: { artist: (s) => s.artist.toUpperCase(), title: (s) => s.title.toUpperCase() },
  },
  {
    name: 'all small',
    folder: 'Quiet',
    songs: 'loose',
    write: (s) => `${low(s.artist)} - ${low(s.title)}`,
    says: { artist: (s) => low(s.artist), title: (s) => low(s.title) },
  },
  { name: 'title alone', folder: 'Alone', songs: 'loose', write: (s) => s.title, says: title },
  { name: 'one-sided dash', folder: 'Typed', songs: 'loose', write: (s) => `${s.artist} -${s.title}`, says: both },
  {
    name: 'other one-sided dash',
    folder: 'Typed',
    songs: 'loose',
    write: (s) => `${s.artist}- ${s.title}`,
    says: both,
  },
  {
    name: 'dash without spaces, with spaces in names',
    folder: 'Typed',
    songs: 'loose',
    write: (s) => `${s.artist}-${s.title}`,
    says: both,
  },
  {
    name: 'unknown artists, artist - title',
    folder: 'New',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title}`,
    says: both,
    known: false,
  },
  {
    name: 'unknown artist, album: artist - title',
    folder: 'New',
    songs: 'album',
    write: (s) => `${s.artist} - ${s.title}`,
    says: both,
    known: false,
  },
  {
    name: 'unknown artist, album: title - artist',
    folder: 'New',
    songs: 'album',
    write: (s) => `${s.title} - ${s.artist}`,
    says: both,
    known: false,
  },
  {
    name: 'unknown: number - artist - title',
    folder: 'New',
    songs: 'compilation',
    write: (s) => `${two(s.n)} - ${s.artist} - ${s.title}`,
    says: { ...both, ...n },
    known: false,
  },
  {
    name: 'unknown: artist - album - number - title',
    folder: 'New',
    songs: 'album',
    write: (s) => `${s.artist} - ${s.album} - ${two(s.n)} - ${s.title}`,
    says: { ...both, ...album, ...n },
    known: false,
  },
  {
    name: 'unknown: title - artist with versions',
    folder: 'New',
    songs: 'loose',
    write: (s) => `${s.title} (Dub) - ${s.artist}`,
    says: { ...artist, title: (s) => `${s.title} (Dub)` },
    known: false,
  },
  {
    name: 'number_title underscored',
    folder: 'Rips/three',
    songs: 'album',
    write: (s) => `${two(s.n)}_${under(s.title)}`,
    says: { ...title, ...n },
  },
  {
    name: 'number-title',
    folder: 'Rips/three',
    songs: 'album',
    write: (s) => `${two(s.n)}-${s.title}`,
    says: { ...title, ...n },
  },
  {
    name: 'number-artist-title, small and underscored',
    folder: 'Net',
    songs: 'compilation',
    write: (s) => `${two(s.n)}-${under(bare(s.artist))}-${under(bare(s.title))}`,
    says: { artist: (s) => bare(s.artist), title: (s) => bare(s.title), ...n },
  },
  {
    name: 'number artist_-_title',
    folder: 'Net',
    songs: 'compilation',
    write: (s) => `${two(s.n)}_-_${under(s.artist)}_-_${under(s.title)}`,
    says: { ...both, ...n },
  },
  {
    name: 'dots for spaces',
    folder: 'Dots',
    songs: 'album',
    write: (s) => `${two(s.n)}.${s.title.replace(/ /g, '.')}`,
    says: { ...title, ...n },
  },
  {
    name: 'artist - album (year) - number - title',
    folder: 'Store',
    songs: 'album',
    write: (s) => `${s.artist} - ${s.album} (${s.year}) - ${two(s.n)} - ${s.title}`,
    says: { ...both, ...album, ...n, year: (s) => s.year },
  },
  {
    name: 'album artist folder, number - title',
    folder: 'Rips/four',
    songs: 'album',
    write: (s) => `${two(s.n)} - ${s.title}`,
    says: { ...title, ...n },
  },
  {
    name: 'three digits: disc and track',
    folder: 'Box',
    songs: 'album',
    write: (s) => `${s.disc}${two(s.n)} ${s.title}`,
    says: title,
  },
  {
    name: 'number) title',
    folder: 'Rips/five',
    songs: 'album',
    write: (s) => `${s.n}) ${s.title}`,
    says: { ...title, ...n },
  },
  {
    name: 'number: artist - title',
    folder: 'Rips/five',
    songs: 'compilation',
    write: (s) => `${two(s.n)}. ${s.artist} - ${s.title}`,
    says: { ...both, ...n },
  },
  {
    name: 'title by the same, twice',
    folder: 'Rips/six',
    songs: 'album',
    write: (s) => `${s.title} - ${s.album} - ${s.artist}`,
    says: { ...both, ...album },
  },
  {
    name: 'number - title - artist',
    folder: 'Radio',
    songs: 'compilation',
    write: (s) => `${two(s.n)} - ${s.title} - ${s.artist}`,
    says: { ...both, ...n },
  },
  {
    name: 'artist - number - title',
    folder: 'Rips/seven',
    songs: 'album',
    write: (s) => `${s.artist} - ${two(s.n)} - ${s.title}`,
    says: { ...both, ...n },
  },
  {
    name: 'label - artist - title',
    folder: 'Label',
    songs: 'loose',
    write: (s) => `Tarn Recordings - ${s.artist} - ${s.title}`,
    says: both,
  },
  {
    name: 'guests: artist feat. guest - title',
    folder: 'Guests',
    songs: 'loose',
    write: (s) => `${s.artist} feat. Ines Tollard - ${s.title}`,
    says: { artist: (s) => `${s.artist} feat. Ines Tollard`, ...title },
  },
  {
    name: 'guests: artist - title (feat. guest)',
    folder: 'Guests',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title} (feat. Ines Tollard)`,
    says: { ...artist, title: (s) => `${s.title} (feat. Ines Tollard)` },
  },
  {
    name: 'dash in some titles',
    folder: 'Odd',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title}${s.n === 2 ? ' - Part Two' : ''}`,
    says: { ...artist, title: (s) => `${s.title}${s.n === 2 ? ' - Part Two' : ''}` },
  },
  {
    name: 'dash in some titles, numbered',
    folder: 'Odd',
    songs: 'compilation',
    write: (s) => `${two(s.n)} ${s.artist} - ${s.title}${s.n === 3 ? ' - By the Sea' : ''}`,
    says: { ...artist, ...n, title: (s) => `${s.title}${s.n === 3 ? ' - By the Sea' : ''}` },
  },
  {
    name: 'promo mark in front',
    folder: 'Promo',
    songs: 'loose',
    write: (s) => `[promo] ${s.artist} - ${s.title}`,
    says: { ...title },
  },
  {
    name: 'underscores for spaces, spaced dash',
    folder: 'Net',
    songs: 'loose',
    write: (s) => `${under(s.artist)} - ${under(s.title)}`,
    says: both,
  },
  {
    name: 'percent signs for spaces',
    folder: 'Net',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title}`.replace(/ /g, '%20'),
    says: both,
  },
  {
    name: 'bit rate behind',
    folder: 'Net',
    songs: 'loose',
    write: (s) => `${s.artist} - ${s.title} (320kbps)`,
    says: artist,
  },
  {
    name: 'number without zero, artist - title',
    folder: 'Chart',
    songs: 'loose',
    write: (s) => `${s.n} - ${s.artist} - ${s.title}`,
    says: { ...both, ...n },
  },
  {
    name: 'number # artist - title',
    folder: 'Chart',
    songs: 'loose',
    write: (s) => `#${s.n} ${s.artist} - ${s.title}`,
    says: both,
  },
  {
    name: 'year album number title',
    folder: 'Rips/eight',
    songs: 'album',
    write: (s) => `${s.year} - ${s.album} - ${two(s.n)} - ${s.title}`,
    says: { ...title, ...n, year: (s) => s.year },
  },
  {
    name: 'side, artist, title, small',
    folder: 'Vinyl',
    songs: 'loose',
    write: (s) => `a${s.n} ${low(s.artist)} - ${low(s.title)}`,
    says: { title: (s) => low(s.title) },
  },
];

const ARTISTS = [
  'Odette Kassar',
  'Kilter Nine',
  'Marrow & Pine',
  'Brine Choir',
  'Vesna Rook',
  'Low Tide Assembly',
  'Pell & Harrow',
  'The Ebb Street Band',
  'Mabel Orr',
  'Tar Barrel',
];
const TITLES = [
  'Slack Water',
  'Paper Lanterns',
  'Dry Dock',
  'Undertow',
  'Half a Mile of Rope',
  'Morning Bell',
  'Signal Fires',
  'Salt on the Fader',
  'Tin Roof Rain',
  'Neon Groyne',
  '99 Buoys',
  'Tollgate',
];
const ALBUMS = ['The Boatyard Tapes', 'Harbour Wall', 'Third Tide'];

/** Songs of a folder; the seed decides which. */
export function songsFor(kind: Habit['songs'], seed: number): Song[] {
  const pick = <T>(list: readonly T[], i: number): T => list[(i * 7 + seed * 3) % list.length]!;
  return Array.from({ length: 9 }, (_, i) => ({
    artist: kind === 'album' ? pick(ARTISTS, 0) : ARTISTS[(i * 3 + seed) % ARTISTS.length]!,
    title: TITLES[(i + seed) % TITLES.length]!,
    album: pick(ALBUMS, 0),
    year: kind === 'loose' ? 1990 + ((i * 5 + seed) % 34) : 2014,
    n: i + 1,
    disc: 1,
    code: `TRN${String(100 + i + seed)}`,
    label: 'Tarn Recordings',
  }));
}
export const KNOWN = ARTISTS;
