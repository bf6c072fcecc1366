/** CUE sheets: a FILE with its TRACKs; here a file per track. */
import { NO_ENTRY, type ListedEntry, type ListedTrack, type ReadList, type WriteOptions } from '../listFile.ts';
import { locationOf, readLocation } from '../locations.ts';
import { linesOf, oneLine, orNull } from '../text.ts';

/** The format has no way to write a quotation mark. */
const quoted = (text: string): string => `"${oneLine(text).replace(/"/g, "'")}"`;

const TYPES: Record<string, string> = { mp3: 'MP3', aif: 'AIFF', aiff: 'AIFF' };

export function writeCue(tracks: readonly ListedTrack[], options: WriteOptions): string {
  const lines = tracks.flatMap((track, i) => {
    const location = locationOf(track, options),
      ending = location.split('.').at(-1)!.toLowerCase();
    return [
      `FILE ${quoted(location)} ${TYPES[ending] ?? 'WAVE'}`,
      `  TRACK ${String(i + 1).padStart(2, '0')} AUDIO`,
      `    TITLE ${quoted(track.title)}`,
      ...(track.artist ? [`    PERFORMER ${quoted(track.artist)}`] : []),
      '    INDEX 01 00:00:00',
    ];
  });
  return [`TITLE ${quoted(options.name)}`, ...lines, ''].join('\n');
}

/** Every TRACK is an entry. What a file's tracks do not say of their performer, the sheet says. */
export function readCue(text: string): ReadList {
  const list: ReadList = { name: null, entries: [], problems: [] };
  let performer: string | null = null,
    file: string | null = null,
    track: ListedEntry | null = null;
  for (const [i, raw] of linesOf(text).entries()) {
    const [, command, rest = ''] = /^\s*([A-Za-z]+)\s*(.*?)\s*$/.exec(raw) ?? [];
    const value = orNull(/^"(.*?)"?(?:\s+\w+)?$/.exec(rest)?.[1] ?? rest);
    switch (command?.toUpperCase()) {
      case 'FILE':
        file = readLocation(/^"(.*)"/.exec(rest)?.[1] ?? rest.replace(/\s+\w+$/, ''));
        break;
      case 'TRACK':
        if (file === null) list.problems.push({ line: i + 1, reason: 'there is no file for this track' });
        else if (/\bAUDIO\b/i.test(rest))
          list.entries.push((track = { ...NO_ENTRY, location: file, artist: performer }));
        else list.problems.push({ line: i + 1, reason: 'this track is no audio' });
        break;
      case 'TITLE':
        if (track) track.title = value;
        else list.name = value;
        break;
      case 'PERFORMER':
        if (track) track.artist = value;
        else performer = value;
        break;
    }
  }
  return list;
}
