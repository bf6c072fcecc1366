/** Where the file of an entry lies, as list files write it and as others wrote it. */
import { relativePath } from '../files/paths.ts';
import type { ListedTrack, WriteOptions } from './listFile.ts';

/** Percent-encodes a path for a URI, segment by segment. */
export const percentEncode = (path: string): string =>
  path
    .split('/')
    .map((s) =>
      encodeURIComponent(s.toWellFormed()).replace(/[!'()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`),
    )
    .join('/');

export const locationOf = (track: ListedTrack, { paths, folder }: WriteOptions): string =>
  paths === 'relative' ? relativePath(folder, track.path) : track.path;

/** The same as a URI. A first segment with a colon would be read as a scheme (RFC 3986, section 4.2). */
export function uriOf(track: ListedTrack, options: WriteOptions): string {
  const encoded = percentEncode(locationOf(track, options));
  return options.paths === 'relative' ? encoded : `file://${encoded}`;
}

/** A path as a line of its own: one that starts with # would be a comment, one with a line break two lines. */
export function asLine(location: string, paths: WriteOptions['paths']): string {
  if (/[\r\n]/.test(location)) return `${paths === 'absolute' ? 'file://' : ''}${percentEncode(location)}`;
  return location.startsWith('#') ? `./${location}` : location;
}

/** Percent escapes as what they stand for; broken ones stay as they are, bytes that are no UTF-8 are Windows-1252. */
function percentDecode(text: string): string {
  return text.replace(/(?:%[0-9a-f]{2})+/gi, (run) => {
    try {
      return decodeURIComponent(run);
    } catch {
      const bytes = Uint8Array.from(run.slice(1).split('%'), (hex) => Number.parseInt(hex, 16));
      return new TextDecoder('windows-1252').decode(bytes);
    }
  });
}

/**
 * A location as it was written, as a path with forward slashes; web addresses stay.
 * @param uri it is a URI reference, so that escapes in relative ones are escapes
 * @example readLocation('file:///C:/Music/a%20b.mp3') // "C:/Music/a b.mp3"
 * @example readLocation('..\\House\\a.mp3') // "../House/a.mp3"
 */
export function readLocation(text: string, uri = false): string | null {
  const said = text.trim();
  if (!said) return null;
  const file = /^file:(?:\/\/(?:localhost)?(?=\/)|\/\/|)(.*)$/is.exec(said);
  if (file) return withoutRoot(percentDecode(file[1]!.replace(/\\/g, '/')));
  if (/^[a-z][a-z0-9+.-]+:\/\//i.test(said)) return said;
  const path = said.replace(/\\/g, '/');
  return withoutRoot(uri ? percentDecode(path) : path);
}

/** "/C:/Music" → "C:/Music"; "./a" → "a". */
const withoutRoot = (path: string): string => path.replace(/^\/(?=[a-z]:\/)/i, '').replace(/^(?:\.\/)+/, '');

/** Is it a whole path, with a root or a drive? */
export const isAbsolute = (path: string): boolean => /^(?:\/|[a-z]:\/)/i.test(path);
export const isWebAddress = (location: string): boolean => /^(?!file:)[a-z][a-z0-9+.-]+:\/\//i.test(location);

/** A path elsewhere: the first of the mappings whose beginning it has, at a border between folders, counts. */
export function mapped(path: string, mappings: readonly (readonly [from: string, to: string])[]): string {
  const tidy = (p: string): string => p.replace(/\\/g, '/').replace(/(?<=.)\/+$/, '');
  for (const [from, to] of mappings) {
    const start = tidy(from),
      same = /^[a-z]:/i.test(start) ? path.toLowerCase().startsWith(start.toLowerCase()) : path.startsWith(start);
    const rest = path.slice(start.length);
    if (same && (rest === '' || rest.startsWith('/') || start === '/'))
      return start === '/' ? `${tidy(to)}/${path.slice(1)}` : `${tidy(to)}${rest}`;
  }
  return path;
}

/** A whole path from one that may be relative to a folder. */
export function wholePath(folder: string, path: string): string {
  const plain = path.replaceAll('\\', '/');
  if (isAbsolute(plain)) return plain;
  const parts = folder.split('/');
  for (const part of plain.split('/'))
    if (part === '..') parts.pop();
    else if (part !== '.' && part !== '') parts.push(part);
  return parts.join('/');
}
