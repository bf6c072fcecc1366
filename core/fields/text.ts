/** Text as it may be kept. */

/** Text with no control characters that a database or file could choke on; NUL and lone surrogates go. */
export const cleanText = (text: string): string =>
  text
    .toWellFormed()
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g, '')
    .trim();
