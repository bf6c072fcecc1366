/** M3U: a path per line; extended with lengths and titles behind #EXTINF. M3U8 is the same in UTF-8. */
import { lineWriter } from '../line.ts';
import { NO_ENTRY, type ListedEntry, type ListedTrack, type ReadList, type WriteOptions } from '../listFile.ts';
import { asLine, locationOf, readLocation } from '../locations.ts';
import { artistAndTitle, linesOf, oneLine, orNull } from '../text.ts';

export function writeM3u8(tracks: readonly ListedTrack[], options: WriteOptions): string {
  const line = lineWriter(options.line);
  const lines = ['#EXTM3U', `#PLAYLIST:${oneLine(options.name)}`];
  for (const track of tracks) {
    const seconds = track.durationSeconds === null ? -1 : Math.round(track.durationSeconds);
    lines.push(`#EXTINF:${seconds},${line(track)}`, asLine(locationOf(track, options), options.paths));
  }
  return `${lines.join('\n')}\n`;
}

/** Lengths of 0 and below are not known ones. Directives that are not known are passed over, as comments are. */
export function readM3u(text: string): ReadList {
  const list: ReadList = { name: null, entries: [], problems: [] };
  let said: Partial<ListedEntry> = {};
  for (const [i, raw] of linesOf(text).entries()) {
    const line = raw.trim();
    const [, directive, value = ''] = /^#(EXTINF|PLAYLIST|EXTART|EXTALB):(.*)$/i.exec(line) ?? [];
    switch (directive?.toUpperCase()) {
      case 'PLAYLIST':
        list.name = orNull(value);
        continue;
      case 'EXTART':
        said = { ...said, artist: orNull(value) };
        continue;
      case 'EXTALB':
        said = { ...said, album: orNull(value) };
        continue;
      case 'EXTINF': {
        const [, seconds, title] = /^\s*(-?\d+(?:\.\d+)?)(?:\s+[\w-]+="[^"]*")*\s*,?(.*)$/.exec(value) ?? [];
        if (seconds === undefined) list.problems.push({ line: i + 1, reason: 'its length is not a number' });
        const length = Number(seconds ?? 0);
        said = { ...said, ...artistAndTitle(title ?? value), ...(length > 0 ? { seconds: length } : {}) };
        continue;
      }
    }
    if (!line || line.startsWith('#')) continue;
    list.entries.push({ ...NO_ENTRY, ...said, location: readLocation(line) });
    said = {};
  }
  if (said.title) list.problems.push({ line: null, reason: `"${said.title}" has no path` });
  return list;
}
