/** Plain text: "artist - title" lines, as people write and send them. */
import { lineWriter } from '../line.ts';
import { NO_ENTRY, type ListedEntry, type ListedTrack, type ReadList, type WriteOptions } from '../listFile.ts';
import { readLocation } from '../locations.ts';
import { artistAndTitle, linesOf, oneLine } from '../text.ts';

export function writeText(tracks: readonly ListedTrack[], { line }: WriteOptions): string {
  const write = lineWriter(line);
  return tracks.map((track) => `${write(track)}\n`).join('');
}

/** Numbers and clock times in front, and lengths behind, are no part of a title. */
const IN_FRONT =
  /^(?:\[?\d{1,2}:\d\d(?::\d\d)?\]?\s+)?(?:#?\d{1,3}\s*[.):]\s+|[-*•]\s+)?(?:\[?\d{1,2}:\d\d(?::\d\d)?\]?\s+)?/;
const BEHIND = /\s+[[(]?(\d{1,2}:\d\d(?::\d\d)?)[\])]?$/;
const PATH = /(?:^[a-z]:[\\/]|[\\/]).*\.[a-z0-9]{2,5}$/i;

export function readText(text: string): ReadList {
  const entries = linesOf(text).flatMap((raw): ListedEntry[] => {
    const line = oneLine(raw);
    if (!line || line.startsWith('#')) return [];
    if (PATH.test(line)) return [{ ...NO_ENTRY, location: readLocation(line) }];
    const length = BEHIND.exec(line)?.[1];
    const said = artistAndTitle(line.replace(IN_FRONT, '').replace(BEHIND, ''));
    if (said.title === null) return [];
    const [minutes = 0, seconds = 0] = (length ?? '').split(':').map(Number);
    return [{ ...NO_ENTRY, ...said, seconds: length ? minutes * 60 + seconds : null }];
  });
  return { name: null, entries, problems: [] };
}
