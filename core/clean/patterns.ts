/**
 * Patterns that people write, matched in linear time (RE2's method, Cox 2007): none can hang, however it is nested.
 * What that method cannot do, looking ahead and referring back, is said.
 */
import { RE2JS } from 're2js';

export interface PatternOptions {
  matchCase: boolean;
  /** Only where no letter or digit stands before or behind. */
  words: boolean;
}

const IN_WORD = /[\p{L}\p{N}]/u;
const inWord = (text: string, at: number, before: boolean): boolean => {
  const char = before ? [...text.slice(Math.max(0, at - 2), at)].at(-1) : [...text.slice(at, at + 2)][0];
  return char !== undefined && IN_WORD.test(char);
};

/** Why a pattern cannot be read, for the one who wrote it. */
function reasonOf(source: string, said: string): string {
  if (/\(\?<?[=!]/.test(source)) return 'looking ahead is not possible here';
  if (/\\[1-9]|\\k</.test(source)) return 'referring back to what was found is possible only in “Replace with”';
  return said.replace(/^error parsing regexp: /, '').replace(/`/g, '"');
}

/**
 * A replacement of all that a pattern finds: in the new text `$1` and `$<name>` stand for its groups, `$&` for all of
 * it, `$$` for a dollar.
 * @throws Error when the pattern cannot be read
 */
export function replacement(
  source: string,
  by: string,
  { matchCase, words }: PatternOptions,
): (text: string) => string {
  let pattern: RE2JS;
  try {
    pattern = RE2JS.compile(
      RE2JS.translateRegExp(source),
      RE2JS.LOOKBEHINDS | (matchCase ? 0 : RE2JS.CASE_INSENSITIVE),
    );
  } catch (error) {
    throw new Error(`The pattern cannot be read: ${reasonOf(source, (error as Error).message)}`, { cause: error });
  }
  const names = pattern.namedGroups() as Record<string, number>;
  const parts = by.split(/(\$(?:\$|&|\d{1,2}|<[^>]*>))/);
  return (text) => {
    const matcher = pattern.matcher(text);
    const group = (part: string): string => {
      if (part === '$$') return '$';
      if (part === '$&') return matcher.group(0) ?? '';
      const n = part[1] === '<' ? names[part.slice(2, -1)] : Number(part.slice(1));
      return n === undefined || n > matcher.groupCount() ? part : (matcher.group(n) ?? '');
    };
    let out = '',
      at = 0;
    while (matcher.find()) {
      const start = matcher.start(),
        end = matcher.end();
      if (words && (inWord(text, start, true) || inWord(text, end, false))) continue;
      out += text.slice(at, start) + parts.map((part, i) => (i % 2 ? group(part) : part)).join('');
      at = end;
    }
    return at === 0 && out === '' ? text : out + text.slice(at);
  };
}
