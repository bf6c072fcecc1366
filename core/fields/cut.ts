/** A text of at most `length` units, never cut inside a character: half of one is no text that could be stored. */
export const cut = (text: string, length: number): string =>
  text.length <= length
    ? text
    : text.slice(0, /[\ud800-\udbff]/.test(text[length - 1]!) && length > 0 ? length - 1 : length);
