/** Capitals of names and titles. */
import type { KnownNames } from './known.ts';

export type CapitalMode = 'title' | 'sentence' | 'upper' | 'lower';
export interface CapitalOptions {
  mode: CapitalMode;
  /** Names that the library knows keep their spelling. */
  known: boolean;
  /** Leaves texts that have capitals and small letters already. */
  onlyOneCase: boolean;
}

const SMALL = new Set(
  'a an and as at but by for from if in into n nor of off on onto or over per so the to up upon vs via with yet de la le et und der die das di da del y'.split(
    ' ',
  ),
);
const ACRONYMS = new Set(
  'dj mc ep lp vip uk us usa eu tv fm am cd dvd ok id ufo bpm ny nyc la vhf uhf rsvp'.split(' '),
);
const NEVER_ALONE = new Set(['la', 'us', 'am', 'id']);
const ROMAN = /^(?=[ivx])(?:x{0,3})(?:ix|iv|v?i{0,3})$/i;

const first = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1).toLowerCase();
const isOneCase = (text: string): boolean => text === text.toUpperCase() || text === text.toLowerCase();

/**
 * @example capitals('MARROW AND PINE iii', { mode: 'title', known: false, onlyOneCase: false }, NOBODY) // "Marrow and
 * Pine III"
 */
export function capitals(text: string, { mode, known, onlyOneCase }: CapitalOptions, names: KnownNames): string {
  const spelling = known ? names.spelling(text) : undefined;
  if (spelling !== undefined) return spelling;
  if (onlyOneCase && !isOneCase(text)) return text;
  switch (mode) {
    case 'upper':
      return text.toUpperCase();
    case 'lower':
      return text.toLowerCase();
    case 'sentence':
      return sentence(text);
    case 'title':
      return title(text);
  }
}

function sentence(text: string): string {
  const shouted = text === text.toUpperCase();
  let start = true;
  return text.replace(/[\p{L}\p{N}][\p{L}\p{N}'’]*|[.!?:([]/gu, (token) => {
    if (!/[\p{L}\p{N}]/u.test(token)) {
      if (token !== '(' || start) start = token !== '(' || start;
      return token;
    }
    const word =
      special(token, shouted) ??
      (start
        ? first(token)
        : token === 'i' || token === 'I'
          ? 'I'
          : shouted || !hasOwnCapitals(token)
            ? token.toLowerCase()
            : token);
    start = false;
    return word;
  });
}

function title(text: string): string {
  const shouted = text === text.toUpperCase() && text !== text.toLowerCase();
  const words = [...text.matchAll(/[\p{L}\p{N}][\p{L}\p{N}\p{M}'’]*/gu)];
  let out = '',
    at = 0;
  words.forEach((match, i) => {
    const gap = text.slice(at, match.index),
      word = match[0];
    // After a mark that begins something new, and at the very ends, small words are no longer small.
    const begins = i === 0 || /[:([{.!?/"“]\s*$|\s[-–—]\s*$/.test(gap);
    const ends = i === words.length - 1 || /^\s*[)\]}:]|^\s[-–—]\s/.test(text.slice(match.index + word.length));
    out += gap + titleWord(word, shouted, begins || ends);
    at = match.index + word.length;
  });
  return out + text.slice(at);
}

function titleWord(word: string, shouted: boolean, edge: boolean): string {
  const low = word.toLowerCase();
  if (SMALL.has(low) && !edge) return low;
  return special(word, shouted) ?? (!shouted && hasOwnCapitals(word) ? word : capitalised(word));
}

/** "O'Hara", but "Don't". */
function capitalised(word: string): string {
  const [, head, tail] = /^([odl]['’])(\p{L}{3,}.*)$/iu.exec(word) ?? [];
  return head !== undefined && tail !== undefined
    ? head.charAt(0).toUpperCase() + head.slice(1) + first(tail)
    : first(word);
}

/** "deadPan", "USA" in a text that is not all capitals. */
const hasOwnCapitals = (word: string): boolean =>
  /\p{Lu}/u.test(word.slice(1)) && (word !== word.toUpperCase() || word.length <= 4);

/** Acronyms and Roman numerals; undefined for ordinary words. */
function special(word: string, shouted: boolean): string | undefined {
  const low = word.toLowerCase();
  if (ACRONYMS.has(low) && !NEVER_ALONE.has(low)) return word.toUpperCase();
  if (ROMAN.test(low) && low !== 'i' && low.length > 1 && low !== 'mix') return word.toUpperCase();
  if (low === 'i') return 'I';
  return shouted || !/^\p{Lu}\p{Lu}+$/u.test(word) || word.length > 4 ? undefined : word;
}
