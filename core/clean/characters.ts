/** Characters removed or replaced: underscores, brackets, double spaces, odd quotes, what cannot be seen. */

export type BracketWish = 'keep' | 'drop marks' | 'drop with content';

export interface CharacterOptions {
  underscores: boolean;
  round: BracketWish;
  square: BracketWish;
  spaces: boolean;
  quotes: boolean;
  control: boolean;
  /** Own replacements, one after the other. */
  own: { from: string; to: string }[];
}

const QUOTES: [RegExp, string][] = [
  [/[\u2018\u2019\u201a\u201b\u2032\u00b4\u0060\u02bc]/g, "'"],
  [/[\u201c\u201d\u201e\u201f\u2033\u00ab\u00bb]/g, '"'],
  [/[\u2010\u2011\u2012\u2212]/g, '-'],
];
/** Control characters, soft hyphens, spaces of no width, marks of direction. */
const UNSEEN = /[\u0000-\u001f\u007f-\u009f\u00ad\u200b-\u200f\u202a-\u202e\u2060-\u2064\ufeff]/g;
const ODD_SPACES = /[\u00a0\u1680\u2000-\u200a\u202f\u205f\u3000]/g;

function brackets(text: string, open: string, close: string, wish: BracketWish): string {
  if (wish === 'keep') return text;
  const pair = new RegExp(`\\${open}([^\\${open}\\${close}]*)\\${close}`, 'g');
  let out = text;
  // From the inside out.
  for (let before = ''; before !== out;) {
    before = out;
    out = out.replace(pair, wish === 'drop marks' ? ' $1 ' : ' ');
  }
  return out === text ? text : out.replace(/ {2,}/g, ' ').trim();
}

export function tidyCharacters(text: string, options: CharacterOptions): string {
  let out = text;
  if (options.control) out = out.replace(UNSEEN, '').replace(ODD_SPACES, ' ');
  if (options.quotes) for (const [from, to] of QUOTES) out = out.replace(from, to);
  if (options.underscores) out = out.replace(/_+/g, ' ');
  for (const { from, to } of options.own) if (from) out = out.replaceAll(from, to);
  out = brackets(brackets(out, '(', ')', options.round), '[', ']', options.square);
  if (options.spaces) out = out.replace(/\s{2,}/g, ' ').trim();
  return out;
}
