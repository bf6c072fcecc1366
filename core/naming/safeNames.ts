/** Names of folders and files made safe for the drives that are to hold them. */
import { cut } from '../fields/cut.ts';

export const ACCENTS = ['keep', 'plain letters'] as const;
export const DRIVES = ['any drive', 'this drive'] as const;

export interface NameOptions {
  /** Names that every usual file system takes, or such as those of this computer. */
  drives: (typeof DRIVES)[number];
  accents: (typeof ACCENTS)[number];
  /** "The Net Loft" becomes "Net Loft, The". */
  articlesBehind: boolean;
  /** Bytes that one name may have, its ending included. */
  maxBytes: number;
}
export const DEFAULT_NAME_OPTIONS: NameOptions = {
  drives: 'any drive',
  accents: 'keep',
  articlesBehind: false,
  maxBytes: 200,
};
export const MIN_NAME_BYTES = 24;
export const MAX_NAME_BYTES = 255;

const encoder = new TextEncoder();
const bytesOf = (text: string): number => encoder.encode(text).length;
const graphemes = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** At most so many bytes of UTF-8, cut behind a word where that leaves at least half, never inside a character. */
export function cutBytes(text: string, maxBytes: number): string {
  if (bytesOf(text) <= maxBytes) return text;
  let kept = '';
  let left = maxBytes;
  for (const { segment } of graphemes.segment(cut(text, maxBytes))) {
    left -= bytesOf(segment);
    if (left < 0) break;
    kept += segment;
  }
  const space = kept.lastIndexOf(' ');
  return (space >= kept.length / 2 ? kept.slice(0, space) : kept).trimEnd();
}

/** At most so many characters, cut behind a word where that leaves at least half. */
export function cutCharacters(text: string, most: number): string {
  if (text.length <= most) return text;
  const kept = cut(text, Math.max(1, most));
  const space = text[kept.length] === ' ' ? kept.length : kept.lastIndexOf(' ');
  return (space >= kept.length / 2 ? kept.slice(0, space) : kept).replace(/[. ]+$/, '');
}

/** Letters that are no letter with a mark. */
const PLAIN: Record<string, string> = {
  ß: 'ss',
  æ: 'ae',
  Æ: 'AE',
  œ: 'oe',
  Œ: 'OE',
  ø: 'o',
  Ø: 'O',
  đ: 'd',
  Đ: 'D',
  ł: 'l',
  Ł: 'L',
  ı: 'i',
  þ: 'th',
  Þ: 'Th',
  ð: 'd',
  Ð: 'D',
};
/** Letters without their marks. */
export const plainLetters = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .replace(/[ßæÆœŒøØđĐłŁıþÞðÐ]/g, (letter) => PLAIN[letter]!)
    .normalize('NFC');

const ARTICLE = /^(The|A|An) (?=\S)(.+)$/i;
export const articleBehind = (name: string): string => name.replace(ARTICLE, '$2, $1');

/** Names that one family of systems keeps for devices, whatever comes behind a dot. */
const DEVICE = /^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])(?=\.|$)/i;

/** A value within a name: what would part folders is none. */
export const withoutSlashes = (text: string): string => text.replace(/\s*[/\\]\s*/g, '-');

/**
 * One name, of a folder or of a file without its ending.
 * @param ending of a file, with its dot; '' for a folder
 * @returns the name with the ending; null where nothing is left of it
 */
export function safeName(text: string, ending: string, { drives, accents, maxBytes }: NameOptions): string | null {
  let name = text.toWellFormed().normalize('NFC');
  if (accents === 'plain letters') name = plainLetters(name);
  name = name.replace(/[\u0000-\u001f\u007f]+/g, ' ').replace(/[/]+/g, '-');
  if (drives === 'any drive')
    name = name
      .replace(/\s*:\s*/g, ' - ')
      .replace(/"/g, '’')
      .replace(/[\\|]/g, '-')
      .replace(/[<>*?]/g, '');
  name = withoutLeftovers(name);
  if (drives === 'any drive') name = name.replace(/[. ]+$/, '');
  name = cutBytes(name, maxBytes - bytesOf(ending));
  if (drives === 'any drive') name = name.replace(/[. ]+$/, '').replace(DEVICE, '$1_');
  return name === '' ? null : name + ending;
}

/** What empty fields leave: brackets around nothing, and marks with nothing on one side; dots that would hide it. */
function withoutLeftovers(text: string): string {
  return text
    .replace(/[([]\s*[)\]]/g, '')
    .replace(/\s+/g, ' ')
    .replace(/^(?:\s*[-–—_,]+\s+)+/, '')
    .replace(/(?:\s+[-–—_,]+\s*)+$/, '')
    .trim()
    .replace(/^\.+\s*/, '');
}
