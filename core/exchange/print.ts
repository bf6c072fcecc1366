/** A short text that is another one as soon as a text is. */

/**
 * 53 bits of a text with its length, by two multiplicative hashes that are mixed in the end (after cyrb53, bryc 2018,
 * public domain): two texts of one collection that meet by chance are less likely than a broken drive.
 */
export function printOf(text: string): string {
  let one = 0xdeadbeef,
    other = 0x41c6ce57;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    one = Math.imul(one ^ code, 2654435761);
    other = Math.imul(other ^ code, 1597334677);
  }
  one = Math.imul(one ^ (one >>> 16), 2246822507) ^ Math.imul(other ^ (other >>> 13), 3266489909);
  other = Math.imul(other ^ (other >>> 16), 2246822507) ^ Math.imul(one ^ (one >>> 13), 3266489909);
  return `${text.length.toString(36)}-${(4294967296 * (2097151 & other) + (one >>> 0)).toString(36)}`;
}
