/** Text folded for finding and sorting: accents and case do not count. */
import { cut } from './cut.ts';

/** "Corazón de Sal" → "corazon de sal". */
export function fold(text: string): string {
  if (/^[\x20-\x7e]*$/.test(text)) return text.toLowerCase();
  return text
    .toWellFormed()
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/ß/g, 'ss')
    .replace(/æ/g, 'ae')
    .replace(/œ/g, 'oe')
    .replace(/ø/g, 'o')
    .replace(/đ/g, 'd')
    .replace(/ł/g, 'l')
    .replace(/ı/g, 'i')
    .replace(/[\u0000-\u001f\u007f]+/g, ' ');
}

/** The folded words of a search; empty for blank text. */
export const searchWords = (text: string): string[] => [...new Set(fold(text).split(/\s+/).filter(Boolean))];

/** Folded text with numbers padded, so that "9" sorts before "10"; at most 80 characters. */
export const sortText = (text: string): string =>
  cut(
    cut(fold(text).replace(/^[^\p{L}\p{N}]+/u, ''), 160).replace(/\d+/g, (digits) => digits.padStart(8, '0')),
    80,
  );
