/** What lists are as files: the entries that are read, the tracks that are written, and what each format can hold. */

/** A track as it is written into a list. */
export interface ListedTrack {
  /** Absolute path with forward slashes. */
  path: string;
  durationSeconds: number | null;
  title: string;
  artist: string;
  album: string;
  /** What the line template may use besides: all fields by id. */
  fields: Record<string, unknown>;
}

/** An entry as a list file says it. */
export interface ListedEntry {
  /** Path with forward slashes, relative or absolute ("/a/b", "C:/a/b"), or a web address; null where none is said. */
  location: string | null;
  title: string | null;
  artist: string | null;
  album: string | null;
  seconds: number | null;
}
export const NO_ENTRY: ListedEntry = { location: null, title: null, artist: null, album: null, seconds: null };

export interface ReadList {
  name: string | null;
  entries: ListedEntry[];
  /** What could not be used: a line (from 1) or an entry, and why. */
  problems: ListProblem[];
}
export interface ListProblem {
  line: number | null;
  reason: string;
}

/** What an entry may say, by the name a report gives it. */
export type Held = 'path' | 'title' | 'artist' | 'album' | 'length' | 'name of the list';

interface ListFormat {
  label: string;
  holds: readonly Held[];
}

/** The formats that are written, by ending. */
export const LIST_FORMATS = {
  m3u8: { label: 'M3U8', holds: ['path', 'title', 'artist', 'length', 'name of the list'] },
  xspf: { label: 'XSPF', holds: ['path', 'title', 'artist', 'album', 'length', 'name of the list'] },
  pls: { label: 'PLS', holds: ['path', 'title', 'artist', 'length'] },
  jspf: { label: 'JSPF', holds: ['path', 'title', 'artist', 'album', 'length', 'name of the list'] },
  csv: { label: 'CSV', holds: ['path', 'title', 'artist', 'album', 'length'] },
  tsv: { label: 'TSV', holds: ['path', 'title', 'artist', 'album', 'length'] },
  cue: { label: 'CUE sheet', holds: ['path', 'title', 'artist', 'name of the list'] },
  txt: { label: 'Text', holds: ['title', 'artist'] },
  html: { label: 'HTML', holds: ['title', 'artist', 'album', 'length', 'name of the list'] },
} as const satisfies Record<string, ListFormat>;
export type ListFormatId = keyof typeof LIST_FORMATS;
export const LIST_FORMAT_IDS = Object.keys(LIST_FORMATS) as ListFormatId[];

/** A list as it is written. */
export interface WriteOptions {
  paths: 'absolute' | 'relative';
  /** Folder in which the file will lie, for relative paths. */
  folder: string;
  name: string;
  /** Liquid template of the text of a line, in formats that have one. */
  line: string;
}

/**
 * What a list says and a format cannot hold, as sentences.
 * @example lossesOf(tracks, 'pls') // ["PLS holds no album (12 entries have one)"]
 */
export function lossesOf(
  entries: readonly ListedEntry[],
  name: string | null,
  format: { label: string; holds: readonly string[] },
): string[] {
  const said: Record<Held, (e: ListedEntry) => boolean> = {
    path: (e) => e.location !== null,
    title: (e) => e.title !== null,
    artist: (e) => e.artist !== null,
    album: (e) => e.album !== null,
    length: (e) => e.seconds !== null,
    'name of the list': () => false,
  };
  const lost = (Object.keys(said) as Held[]).flatMap((what) => {
    const count = entries.filter(said[what]).length;
    if (format.holds.includes(what) || count === 0) return [];
    return [`${format.label} holds no ${what} (${count} ${count === 1 ? 'entry has' : 'entries have'} one)`];
  });
  if (name !== null && !format.holds.includes('name of the list'))
    lost.push(`${format.label} holds no name of the list`);
  return lost;
}
