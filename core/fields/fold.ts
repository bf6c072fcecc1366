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

/**
 * The folded words of a search; what stands in quotes is one, with its spaces. A quote opens a phrase only where a word
 * begins, so that 12" stays as it is; one that is not closed yet goes to the end. Empty for blank text.
 */
export function searchWords(text: string): string[] {
  const words = [...text.matchAll(/(?<!\S)["“„](.*?)(?:["”“](?!\S)|$)|\S+/gsu)].map(([word, phrase]) => phrase ?? word);
  return [...new Set(words.map((word) => fold(word).trim().replace(/\s+/g, ' ')).filter(Boolean))];
}

/** Folded text with numbers padded, so that "9" sorts before "10"; at most 80 characters. */
export const sortText = (text: string): string =>
  cut(
    cut(fold(text).replace(/^[^\p{L}\p{N}]+/u, ''), 160).replace(/\d+/g, (digits) => digits.padStart(8, '0')),
    80,
  );
