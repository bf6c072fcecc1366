/** XSPF: the open XML format for playlists of the Xiph.Org Foundation, version 1. */
import { XMLParser } from 'fast-xml-parser';
import { lineWriter } from '../line.ts';
import { NO_ENTRY, type ListedEntry, type ListedTrack, type ReadList, type WriteOptions } from '../listFile.ts';
import { readLocation, uriOf } from '../locations.ts';
import { escapeXml, orNull } from '../text.ts';

export function writeXspf(tracks: readonly ListedTrack[], options: WriteOptions): string {
  const line = lineWriter(options.line);
  const items = tracks.map((track) => {
    const elements = [
      ['location', uriOf(track, options)],
      ['title', track.title],
      ['creator', track.artist],
      ['annotation', line(track)],
      ['album', track.album],
      ['duration', track.durationSeconds === null ? '' : String(Math.round(track.durationSeconds * 1000))],
    ].filter(([, text]) => text);
    const inside = elements.map(([name, text]) => `      <${name}>${escapeXml(text!)}</${name}>`).join('\n');
    return `    <track>\n${inside}\n    </track>\n`;
  });
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<playlist version="1" xmlns="http://xspf.org/ns/0/">',
    `  <title>${escapeXml(options.name)}</title>`,
    '  <trackList>',
    `${items.join('')}  </trackList>`,
    '</playlist>',
    '',
  ].join('\n');
}

const parser = () =>
  new XMLParser({
    ignoreAttributes: true,
    parseTagValue: false,
    trimValues: true,
    removeNSPrefix: true,
    htmlEntities: true,
    isArray: (name) => ['track', 'location', 'title', 'creator', 'album', 'duration'].includes(name),
  });

/** Of several locations the first counts. XML that breaks off is read as far as it goes. */
export function readXspf(text: string): ReadList {
  const problems: ReadList['problems'] = [];
  const start = text.search(/<(?:\w+:)?playlist\b/i);
  if (start < 0) return { name: null, entries: [], problems: [{ line: null, reason: 'there is no playlist in it' }] };
  let read: Tree;
  try {
    read = parser().parse(text.replace(/^\uFEFF/, '')) as Tree;
  } catch (error) {
    // Track by track, as far as they are whole.
    const whole = text.match(/<(?:\w+:)?track\b[^>]*>[\s\S]*?<\/(?:\w+:)?track>/gi) ?? [];
    problems.push({ line: null, reason: `the XML is broken (${(error as Error).message.split('\n')[0]})` });
    read = { playlist: { trackList: { track: whole.flatMap(trackAlone) } } };
  }
  const { title, trackList } = read.playlist ?? {};
  const tracks = typeof trackList === 'object' ? (trackList.track ?? []) : [];
  const entries = tracks.flatMap((track, i): ListedEntry[] => {
    const of = (name: keyof Track): string | null => (typeof track === 'object' ? orNull(track[name]?.[0]) : null);
    const entry: ListedEntry = {
      ...NO_ENTRY,
      location: readLocation(of('location') ?? '', true),
      title: of('title'),
      artist: of('creator'),
      album: of('album'),
      seconds: Number(of('duration')) > 0 ? Number(of('duration')) / 1000 : null,
    };
    if (entry.location !== null || entry.title !== null) return [entry];
    problems.push({ line: null, reason: `track ${i + 1} has neither location nor title` });
    return [];
  });
  return { name: orNull(title?.[0]), entries, problems };
}

type Track = Partial<Record<'location' | 'title' | 'creator' | 'album' | 'duration', unknown[]>>;
interface Tree {
  playlist?: { title?: unknown[]; trackList?: { track?: (Track | string)[] } | string };
}

function trackAlone(xml: string): (Track | string)[] {
  try {
    return (parser().parse(xml) as { track?: (Track | string)[] }).track ?? [];
  } catch {
    return [];
  }
}
