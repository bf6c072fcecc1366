/** JSPF: XSPF as JSON. */
import { lineWriter } from '../line.ts';
import { NO_ENTRY, type ListedEntry, type ListedTrack, type ReadList, type WriteOptions } from '../listFile.ts';
import { readLocation, uriOf } from '../locations.ts';
import { oneLine, orNull } from '../text.ts';

export function writeJspf(tracks: readonly ListedTrack[], options: WriteOptions): string {
  const line = lineWriter(options.line);
  const track = tracks.map((t) => ({
    location: [uriOf(t, options)],
    ...(t.title ? { title: oneLine(t.title) } : {}),
    ...(t.artist ? { creator: oneLine(t.artist) } : {}),
    annotation: line(t),
    ...(t.album ? { album: oneLine(t.album) } : {}),
    ...(t.durationSeconds === null ? {} : { duration: Math.round(t.durationSeconds * 1000) }),
  }));
  return `${JSON.stringify({ playlist: { title: oneLine(options.name), track } }, null, 2)}\n`;
}

export function readJspf(text: string): ReadList {
  const broken = (reason: string): ReadList => ({ name: null, entries: [], problems: [{ line: null, reason }] });
  let read: unknown;
  try {
    read = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    return broken('it is not JSON');
  }
  const { playlist } = Object(read) as { playlist?: { title?: unknown; track?: unknown } };
  if (!Array.isArray(playlist?.track)) return broken('there is no playlist in it');
  const problems: ReadList['problems'] = [];
  const entries = (playlist.track as unknown[]).flatMap((item, i): ListedEntry[] => {
    const track = Object(item) as Record<string, unknown>;
    const location = Array.isArray(track.location) ? (track.location as unknown[])[0] : track.location;
    const entry: ListedEntry = {
      ...NO_ENTRY,
      location: readLocation(orNull(location) ?? '', true),
      title: orNull(track.title),
      artist: orNull(track.creator),
      album: orNull(track.album),
      seconds: Number(track.duration) > 0 ? Number(track.duration) / 1000 : null,
    };
    if (entry.location !== null || entry.title !== null) return [entry];
    problems.push({ line: null, reason: `track ${i + 1} has neither location nor title` });
    return [];
  });
  return { name: orNull(playlist.title), entries, problems };
}
