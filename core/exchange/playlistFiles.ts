/**
 * Playlists as files: M3U8 (extended M3U in UTF-8) and XSPF (the open XML format of the Xiph.Org
 * Foundation, version 1).
 */
import { templates } from '../templates/liquid.ts';
import { relativePath } from '../files/paths.ts';

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

export interface PlaylistFileOptions {
  format: 'm3u8' | 'xspf';
  paths: 'absolute' | 'relative';
  /** Folder in which the file will lie, for relative paths. */
  folder: string;
  name: string;
  /** Liquid template of the text of a line. */
  line: string;
}

export const DEFAULT_LINE =
  '{% if artist %}{{ artist }} - {% endif %}{{ title }}{% if version %} ({{ version }}){% endif %}';

const liquid = templates({ milliseconds: 2_000, memory: 10_000_000 });

/** A template that does not parse or uses an unknown filter. */
export class TemplateError extends Error {}

/** Fills a line template; one line of text comes out. @throws TemplateError with a sentence. */
export function renderLine(template: string, track: ListedTrack): string {
  try {
    const text = String(
      liquid.parseAndRenderSync(template, {
        ...track.fields,
        title: track.title,
        artist: track.artist,
        album: track.album,
        path: track.path,
      }),
    );
    return oneLine(text);
  } catch (error) {
    throw new TemplateError(`The line template cannot be used: ${(error as Error).message.split('\n')[0]}`);
  }
}

const oneLine = (text: string): string =>
  text
    .toWellFormed()
    .replace(/[\u0000-\u001f\u007f\u2028\u2029]+/g, ' ')
    .trim();

/** A whole list may take so long over its line template, in milliseconds. */
const MAX_MS = 4_000;

/** The same for many lines, which together have a limit. */
function lineWriter(template: string): (track: ListedTrack) => string {
  const until = Date.now() + MAX_MS;
  return (track) => {
    if (Date.now() > until) throw new TemplateError('The line template takes too long for a list of this length');
    return renderLine(template, track);
  };
}

/** Writes a playlist as text. @throws TemplateError for a bad line template. */
export function writePlaylist(tracks: readonly ListedTrack[], options: PlaylistFileOptions): string {
  return options.format === 'm3u8' ? writeM3u8(tracks, options) : writeXspf(tracks, options);
}

const locationOf = (track: ListedTrack, { paths, folder }: PlaylistFileOptions): string =>
  paths === 'relative' ? relativePath(folder, track.path) : track.path;

/** A path as a line of its own: one that starts with # would be a comment, one with a line break two lines. */
function asLine(location: string, paths: PlaylistFileOptions['paths']): string {
  if (/[\r\n]/.test(location)) return `${paths === 'absolute' ? 'file://' : ''}${percentEncode(location)}`;
  return location.startsWith('#') ? `./${location}` : location;
}

function writeM3u8(tracks: readonly ListedTrack[], options: PlaylistFileOptions): string {
  const line = lineWriter(options.line);
  const lines = ['#EXTM3U', `#PLAYLIST:${oneLine(options.name)}`];
  for (const track of tracks) {
    const seconds = track.durationSeconds === null ? -1 : Math.round(track.durationSeconds);
    const location = locationOf(track, options);
    lines.push(`#EXTINF:${seconds},${line(track)}`, asLine(location, options.paths));
  }
  return `${lines.join('\n')}\n`;
}

function writeXspf(tracks: readonly ListedTrack[], options: PlaylistFileOptions): string {
  const line = lineWriter(options.line);
  const items = tracks.map((track) => {
    const location = locationOf(track, options);
    const uri = options.paths === 'absolute' ? `file://${percentEncode(location)}` : percentEncode(location);
    const elements = [
      ['location', uri],
      ['title', track.title],
      ['creator', track.artist],
      ['annotation', line(track)],
      ['album', track.album],
      ['duration', track.durationSeconds === null ? '' : String(Math.round(track.durationSeconds * 1000))],
    ].filter(([, text]) => text);
    return `    <track>\n${elements.map(([name, text]) => `      <${name}>${escapeXml(text!)}</${name}>`).join('\n')}\n    </track>`;
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n<playlist version="1" xmlns="http://xspf.org/ns/0/">\n  <title>${escapeXml(options.name)}</title>\n  <trackList>\n${items.join('\n')}${items.length ? '\n' : ''}  </trackList>\n</playlist>\n`;
}

/** Percent-encodes a path for a URI, segment by segment. */
const percentEncode = (path: string): string =>
  path
    .split('/')
    .map((s) =>
      encodeURIComponent(s.toWellFormed()).replace(/[!'()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`),
    )
    .join('/');

/** Escapes text for XML 1.0 and drops what XML cannot hold at all. */
const escapeXml = (text: string): string =>
  oneLine(text)
    .replace(/[\ufffe\uffff]/g, '')
    .replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);
