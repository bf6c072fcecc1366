/** One field taken out of another: the artist out of a title, the album out of a title. */

/** A text as a pattern that finds just it. */
export const escaped = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
const SEPARATOR = '\\s*(?:[-–—_:|~,/]+)\\s*';

/** A name however it is spaced and joined: "Marrow & Pine" also finds "marrow_and_pine". */
function loosely(name: string): string {
  return name
    .trim()
    .split(/[\s_]+/)
    .map((word) => (/^(?:&|and|\+)$/i.test(word) ? '(?:&|and|\\+)' : escaped(word)))
    .join('[\\s_]+');
}

/** What looks for one name: anywhere at all, and in the places from which it is taken. */
interface Finder {
  anywhere: RegExp;
  whole: RegExp;
  taken: RegExp[];
}

const finders = new Map<string, Finder>();
/** The same names come again and again; so many are kept. */
const MAX_FINDERS = 5000;

function finderOf(name: string): Finder {
  const known = finders.get(name);
  if (known) return known;
  const n = loosely(name);
  const made: Finder = {
    anywhere: new RegExp(n, 'iu'),
    whole: new RegExp(`^\\s*${n}\\s*$`, 'iu'),
    taken: [
      new RegExp(`^\\s*${n}${SEPARATOR}(?=\\S)`, 'iu'),
      new RegExp(`${SEPARATOR}${n}\\s*$`, 'iu'),
      new RegExp(`${SEPARATOR}${n}(?=${SEPARATOR})`, 'iu'),
      new RegExp(`\\s*[([]\\s*${n}\\s*[)\\]]`, 'giu'),
    ],
  };
  if (finders.size >= MAX_FINDERS) finders.clear();
  finders.set(name, made);
  return made;
}

/**
 * Takes a name off the start or the end of a text, with the separator beside it, and out of brackets. In the middle of
 * words it stays. The text is the name and nothing else: nothing is left.
 * @example withoutName('Vesna Rook - Ferry Clerk', 'Vesna Rook') // "Ferry Clerk"
 */
export function withoutName(text: string, name: string): string {
  if (!name.trim() || !text.trim()) return text;
  const { anywhere, whole, taken } = finderOf(name);
  if (!anywhere.test(text)) return text;
  if (whole.test(text)) return '';
  const out = taken.reduce((left, place) => left.replace(place, ''), text);
  return out === text ? text : out.trim();
}

/** A leading track number, side or disc-and-track code; null when the text begins with none. */
export function leadingNumber(text: string, own: number | null): { number: number | null; rest: string } | null {
  const marked =
    /^\s*(?:track\s*)?[([#]?\s*(\d{1,3}|\d{1,2}-\d{2}|[A-H]\d{1,2})\s*(?:[.)\]:_]+|\s[-–—]|[-–—](?=\s))\s*(?=[^\d\s])/iu.exec(
      text,
    );
  const bare = marked ? null : /^\s*(0\d{1,2}|[A-H]\d|\d{1,3})\s+(?=\p{L})/u.exec(text);
  const found = marked ?? bare;
  if (!found) return null;
  const code = found[1]!;
  // "7 Days" and "99 Reasons" begin with a number of their own, unless it is the track's.
  if (bare && /^[1-9]/.test(code) && Number(code) !== own) return null;
  const rest = text.slice(found[0].length).trim();
  return rest
    ? { number: /^\d+$/.test(code) ? Number(code) : /^\d+-\d+$/.test(code) ? Number(code.split('-')[1]) : null, rest }
    : null;
}
