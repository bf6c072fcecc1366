/** PLS: numbered File, Title and Length lines under [playlist]. */
import { lineWriter } from '../line.ts';
import { NO_ENTRY, type ListedEntry, type ListedTrack, type ReadList, type WriteOptions } from '../listFile.ts';
import { asLine, locationOf, readLocation } from '../locations.ts';
import { artistAndTitle, linesOf } from '../text.ts';

export function writePls(tracks: readonly ListedTrack[], options: WriteOptions): string {
  const line = lineWriter(options.line);
  const lines = tracks.flatMap((track, i) => [
    `File${i + 1}=${asLine(locationOf(track, options), options.paths)}`,
    `Title${i + 1}=${line(track)}`,
    `Length${i + 1}=${track.durationSeconds === null ? -1 : Math.round(track.durationSeconds)}`,
  ]);
  return ['[playlist]', ...lines, `NumberOfEntries=${tracks.length}`, 'Version=2', ''].join('\n');
}

/** In the order of their numbers; what is said of a number without a file is a problem. */
export function readPls(text: string): ReadList {
  const byNumber = new Map<number, ListedEntry>();
  const problems: ReadList['problems'] = [];
  for (const [i, raw] of linesOf(text).entries()) {
    const line = raw.trim();
    if (!line || /^[;#[]/.test(line)) continue;
    const [, key, digits, value = ''] = /^(File|Title|Length)(\d{1,7})\s*=(.*)$/i.exec(line) ?? [];
    if (!key || !digits) {
      if (!/^(?:NumberOfEntries|Version|X-\w+|PlaylistName)\s*=/i.test(line))
        problems.push({ line: i + 1, reason: 'it is none of File, Title and Length' });
      continue;
    }
    const entry = byNumber.get(Number(digits)) ?? { ...NO_ENTRY };
    if (key.toLowerCase() === 'file') entry.location = readLocation(value);
    else if (key.toLowerCase() === 'title') Object.assign(entry, artistAndTitle(value.trim()));
    else if (Number(value) > 0) entry.seconds = Number(value);
    byNumber.set(Number(digits), entry);
  }
  const numbered = [...byNumber].sort(([a], [b]) => a - b);
  for (const [number, { location }] of numbered)
    if (location === null) problems.push({ line: null, reason: `entry ${number} has no path` });
  return { name: null, entries: numbered.map(([, e]) => e).filter((e) => e.location !== null), problems };
}
