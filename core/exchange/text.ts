/** Text as lists hold it: in one line, escaped, decoded from whatever bytes it came as. */

export const oneLine = (text: string): string =>
  text
    .toWellFormed()
    .replace(/[\u0000-\u001f\u007f\u2028\u2029]+/g, ' ')
    .trim();

/** Escapes text for XML 1.0 and HTML, and drops what XML cannot hold at all. */
export const escapeXml = (text: string): string =>
  oneLine(text)
    .replace(/[\ufffe\uffff]/g, '')
    .replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

/** Text of nothing but blanks is none. */
export const orNull = (text: unknown): string | null => {
  const said = typeof text === 'string' || typeof text === 'number' ? oneLine(String(text)) : '';
  return said || null;
};

/**
 * The text of a list file: UTF-8 or UTF-16 by its byte order mark, else UTF-8 where it is that, else Windows-1252, as
 * old programs write.
 */
export function decodeList(bytes: Uint8Array): string {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (a === 0xfe && b === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/** Lines, whichever way they end. */
export const linesOf = (text: string): string[] => text.replace(/^\uFEFF/, '').split(/\r\n|\n|\r/);

/** Artist and title of "artist - title"; all of it is the title where there is no dash with blanks around it. */
export function artistAndTitle(text: string): { artist: string | null; title: string | null } {
  const [, artist, title] = /^(.*?)\s+[-–—]\s+(.*)$/.exec(text) ?? [];
  return artist && title ? { artist: orNull(artist), title: orNull(title) } : { artist: null, title: orNull(text) };
}

/** Seconds of "3:05", "1:02:03", "185" or "185.4"; null when it is neither. */
export function secondsOf(text: string): number | null {
  const parts = text.trim().split(':');
  if (parts.length > 3 || !parts.every((p) => /^\d+(\.\d+)?$/.test(p))) return null;
  return parts.reduce((sum, p) => sum * 60 + Number(p), 0);
}
