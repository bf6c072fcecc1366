/** Marks that do not belong to a name: web addresses, promo notes, what an encoder left. */

const ENDINGS =
  'com|net|org|info|example|biz|fm|co|io|tv|me|cc|to|de|uk|fr|it|es|nl|pl|ru|us|eu|blog|online|site|club|store|audio|download|invalid|test';
/** Short words before a dot that are no address: "feat.me". */
const NO_ADDRESS = /^(feat|ft|vs|vol|pt|no|nr|dr|mr|mrs|st|op|pres)\./i;
const ADDRESS = new RegExp(
  `(?:https?:\\/\\/[^\\s)\\]}>]+|www\\.[^\\s)\\]}>]+\\.[^\\s)\\]}>]+|\\b[a-z0-9][a-z0-9-]+(?:\\.[a-z0-9-]+)*\\.(?:${ENDINGS})\\b(?:\\/[^\\s)\\]}>]*)?)`,
  'giu',
);

const PROMO_WORDS = [
  'free (?:download|dl|d/l)',
  'out now',
  'out soon',
  '(?:dj )?promo(?: only| copy| cd| version)?',
  '(?:for )?promotional use only',
  'for promo(?:tion)? (?:use )?only',
  'exclusive(?: premiere| preview| promo)?',
  'premiere',
  'preview',
  'snippet',
  'advance(?: copy)?',
  'not for (?:re)?sale',
  'pre-?release',
  'buy (?:it )?now',
  'new release',
  'lossless promo',
].join('|');
const ENCODER_WORDS = [
  '(?:mp3|flac|aac|wav|ogg|m4a)?[ -]?(?:\\d{2,3} ?k(?:bps|bit/?s?|b/s)|vbr(?: ?v\\d)?|cbr)',
  '(?:16|24|32)[ -]?bit(?:[ /-]*\\d{2,3}(?:[.,]\\d)? ?khz)?',
  '(?:encoded|ripped|converted|uploaded|downloaded) (?:by|with|from|via) [^)\\]]+',
  '(?:web|vinyl|cd|cassette|tape|radio)[ -]?rip',
  'lame ?\\d[\\d.]*',
  '(?:hq|hd) audio',
  'high quality',
  'official (?:audio|video)',
  'lyrics? video',
].join('|');
/** Only beside a name: alone they are one. */
const RATES = '|320|256|192|128';

const inBrackets = (words: string): RegExp => new RegExp(`[\\s_]*[\\[({<*]+\\s*(?:${words})\\s*[*>})\\]]+`, 'giu');
const atEnd = (words: string): RegExp =>
  new RegExp(`(?:\\s+[-–—|~*]+\\s*|\\s*\\*+\\s*|_-_|_)(?:${words})[\\s*!.]*$`, 'iu');
const atStart = (words: string): RegExp => new RegExp(`^(?:${words})\\s*[-–—|:]+\\s*`, 'iu');

/** Nothing but a mark. Where a name would be left empty, the step asks. */
const alone = (words: string): RegExp => new RegExp(`^[\\s*]*(?:${words})[\\s*!.]*$`, 'iu');

interface Marks {
  bracketed: RegExp;
  others: RegExp[];
}
const PROMO: Marks = {
  bracketed: inBrackets(PROMO_WORDS),
  others: [atEnd(PROMO_WORDS), atStart(PROMO_WORDS), alone(PROMO_WORDS)],
};
const ENCODER: Marks = {
  bracketed: inBrackets(ENCODER_WORDS + RATES),
  others: [atEnd(ENCODER_WORDS + RATES), alone(ENCODER_WORDS)],
};

export interface MarkOptions {
  web: boolean;
  promo: boolean;
  encoder: boolean;
}

/** The text without the marks, and without the brackets and dashes that held them. */
export function dropMarks(text: string, { web, promo, encoder }: MarkOptions): string {
  let out = text;
  // Most texts have neither dots nor brackets: a look for them is cheaper than the patterns.
  if (web && /\.|:\/\//.test(out)) {
    const without = out.replace(ADDRESS, (found) => (NO_ADDRESS.test(found) ? found : '\u0001'));
    if (without !== out)
      out = without
        .replace(
          /\s*[[({<]\s*(?:(?:by|from|via|on|at|visit|get it (?:at|on)|more (?:at|on))\s+)?\u0001\s*[>})\]]/giu,
          '\u0001',
        )
        .replace(/(?:[\s_]*[-–—|~*:]+[\s_]*|\s+(?:by|from|via|visit)\s+|\s*)\u0001/giu, '')
        .replace(/^\s*[-–—|~*:_]+\s*/u, '');
  }
  for (const { bracketed, others } of [...(promo ? [PROMO] : []), ...(encoder ? [ENCODER] : [])]) {
    if (/[[({<*]/.test(out)) out = out.replace(bracketed, '');
    for (const pattern of others) out = out.replace(pattern, '');
  }
  return out === text ? text : out.trim();
}
