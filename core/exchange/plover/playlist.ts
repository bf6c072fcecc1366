/** A playlist of Plover: XSPF version 1, whose identifier stays when its name changes. */
import { XMLParser } from 'fast-xml-parser';
import { escapeXml, orNull } from '../text.ts';

export interface Playlist {
  id: string | null;
  title: string | null;
  /** As they are written. */
  locations: string[];
}

const parser = new XMLParser({
  ignoreAttributes: true,
  parseTagValue: false,
  trimValues: true,
  htmlEntities: true,
  isArray: (name) => name === 'track' || name === 'location',
});

interface Tree {
  playlist?: {
    title?: unknown;
    identifier?: unknown;
    trackList?: { track?: { location?: unknown[] }[] };
  };
}

/** @returns why it cannot be read */
export function readPlaylist(text: string): Playlist | string {
  let tree: Tree;
  try {
    tree = parser.parse(text.replace(/^\uFEFF/, ''), true) as Tree;
  } catch (error) {
    return `the XML is broken (${(error as Error).message.split('\n')[0]})`;
  }
  const { playlist } = tree;
  if (typeof playlist !== 'object') return 'there is no playlist in it';
  const list = typeof playlist.trackList === 'object' ? playlist.trackList : {};
  return {
    id: orNull(playlist.identifier),
    title: orNull(playlist.title),
    locations: (list.track ?? []).flatMap((track) => orNull(track.location?.[0]) ?? []),
  };
}

/**
 * The text of a playlist. @param former as it was written: what else it says of itself and of tracks that stay is kept
 */
export function writePlaylist(list: Playlist, former: string | null = null): string {
  const { id, title, locations } = list;
  const parts = former === null ? null : /^([\s\S]*?<trackList>)[\s\S]*?(<\/trackList>[\s\S]*)$/.exec(former);
  const was = former === null ? null : readPlaylist(former);
  if (!parts || was === null || typeof was === 'string' || was.title === null || was.id !== id)
    return newPlaylist(list);
  const blocks = new Map<string, string>();
  for (const [block] of former!.matchAll(/<track>[\s\S]*?<\/track>/g)) {
    const location = readPlaylist(`<playlist><trackList>${block}</trackList></playlist>`);
    if (typeof location !== 'string' && location.locations[0] !== undefined) blocks.set(location.locations[0], block);
  }
  const tracks = locations.map(
    (l) => `    ${blocks.get(l) ?? `<track><location>${escapeXml(l)}</location></track>`}\n`,
  );
  const head =
    was.title === title
      ? parts[1]!
      : parts[1]!.replace(/<title>[\s\S]*?<\/title>/, () => `<title>${escapeXml(title ?? '')}</title>`);
  return `${head}\n${tracks.join('')}  ${parts[2]!}`;
}

const newPlaylist = ({ id, title, locations }: Playlist): string =>
  [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<playlist version="1" xmlns="http://xspf.org/ns/0/">',
    `  <title>${escapeXml(title ?? '')}</title>`,
    `  <identifier>${escapeXml(id ?? '')}</identifier>`,
    '  <trackList>',
    ...locations.map((location) => `    <track><location>${escapeXml(location)}</location></track>`),
    '  </trackList>',
    '</playlist>',
    '',
  ].join('\n');
