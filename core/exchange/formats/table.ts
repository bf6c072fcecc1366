/** CSV (RFC 4180) and TSV: a track per row under named columns. */
import { parse } from 'csv-parse/browser/esm/sync';
import { stringify } from 'csv-stringify/browser/esm/sync';
import { NO_ENTRY, type ListedEntry, type ListedTrack, type ReadList, type WriteOptions } from '../listFile.ts';
import { locationOf, readLocation } from '../locations.ts';
import { linesOf, oneLine, orNull, secondsOf } from '../text.ts';

const HEAD = ['Artist', 'Title', 'Album', 'Seconds', 'Path'];

/** Cells that a spreadsheet would take for a formula get an apostrophe in front, in CSV. */
export function writeTable(tracks: readonly ListedTrack[], options: WriteOptions, delimiter: ',' | '\t'): string {
  const rows = tracks.map((t) => [
    oneLine(t.artist),
    oneLine(t.title),
    oneLine(t.album),
    t.durationSeconds === null ? '' : String(Math.round(t.durationSeconds)),
    locationOf(t, options),
  ]);
  return stringify([HEAD, ...rows], {
    delimiter,
    record_delimiter: delimiter === ',' ? '\r\n' : '\n',
    escape_formulas: delimiter === ',',
  });
}

/** What columns are called by others, by what they hold. */
const NAMES: Record<keyof ListedEntry, readonly string[]> = {
  location: ['path', 'file', 'location', 'filename', 'file name', 'file path', 'filepath', 'url'],
  title: ['title', 'name', 'track', 'track name', 'track title', 'song'],
  artist: ['artist', 'creator', 'performer', 'artists', 'track artist'],
  album: ['album', 'release', 'album title'],
  seconds: ['seconds', 'length', 'duration', 'time', 'duration (s)'],
};

/** The character between cells: the one that the first line has most of. */
const delimiterOf = (line: string): string =>
  ['\t', ';', ',', '|'].map((d) => [d, line.split(d).length] as const).reduce((a, b) => (b[1] > a[1] ? b : a))[0];

/**
 * Columns are told by their names; without any that is known, two columns are artist and title, and of others the one
 * with paths is looked for.
 */
export function readTable(text: string): ReadList {
  const problems: ReadList['problems'] = [];
  const plain = text.replace(/^\uFEFF/, '');
  const first = linesOf(plain).find((l) => l.trim()) ?? '';
  const rows = parse(plain, {
    delimiter: delimiterOf(first),
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    skip_records_with_error: true,
    trim: true,
    on_skip: (error: (Error & { lines?: number }) | undefined) => {
      if (error) problems.push({ line: error.lines ?? null, reason: 'its quotes do not add up' });
      return undefined;
    },
  }) as string[][];
  const head = (rows[0] ?? []).map((cell) => cell.toLowerCase());
  const places = Object.fromEntries(
    (Object.keys(NAMES) as (keyof ListedEntry)[]).map((what) => [
      what,
      NAMES[what].map((n) => head.indexOf(n)).find((at) => at >= 0) ?? -1,
    ]),
  ) as Record<keyof ListedEntry, number>;
  const named = Object.values(places).some((at) => at >= 0);
  if (!named) Object.assign(places, guessed(rows));
  const entries = rows.slice(named ? 1 : 0).flatMap((row, i): ListedEntry[] => {
    const cell = (what: keyof ListedEntry): string | null => {
      const said = orNull(row[places[what]]);
      return said && said.replace(/^'(?=[=+@-])/, '');
    };
    const seconds = cell('seconds');
    const entry: ListedEntry = {
      ...NO_ENTRY,
      location: readLocation(cell('location') ?? ''),
      title: cell('title'),
      artist: cell('artist'),
      album: cell('album'),
      seconds: seconds === null ? null : secondsOf(seconds) || null,
    };
    if (entry.location !== null || entry.title !== null) return [entry];
    problems.push({ line: i + (named ? 2 : 1), reason: 'it has neither path nor title' });
    return [];
  });
  return { name: null, entries, problems };
}

const PATH = /[\\/].*\.[a-z0-9]{2,5}$/i;

function guessed(rows: readonly string[][]): Partial<Record<keyof ListedEntry, number>> {
  const [row = []] = rows;
  const location = row.findIndex((cell) => PATH.test(cell));
  const left = row.map((_, i) => i).filter((i) => i !== location);
  return { location, ...(left.length > 1 ? { artist: left[0]!, title: left[1]! } : { title: left[0] ?? -1 }) };
}
