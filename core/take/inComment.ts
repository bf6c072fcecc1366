/** Energy and moods that somebody wrote into a comment, since there was no other place for them. */
import { fold } from '../fields/fold.ts';
import { splitList } from '../fields/values.ts';

/** Words for moods that are understood even where no track has them yet. */
export const MOOD_WORDS = [
  ...[
    'calm',
    'cheerful',
    'dark',
    'deep',
    'dreamy',
    'driving',
    'euphoric',
    'gentle',
    'happy',
    'hypnotic',
    'melancholic',
  ],
  ...['moody', 'playful', 'raw', 'romantic', 'sad', 'soulful', 'tense', 'uplifting', 'warm'],
] as const;

const OF = /\b(\d{1,3})\s*\/\s*(10|100)\b/;
const NAMED = /\benergy\s*[:=]?\s*(\d{1,3})\b/i;

/** Energy 0 … 100: "energy 7", "Energy: 70", "7/10"; null where none is said. */
function energyIn(comment: string): number | null {
  const of = OF.exec(comment);
  if (of) return inReach((Number(of[1]) / Number(of[2])) * 100);
  const named = NAMED.exec(comment);
  if (!named) return null;
  const n = Number(named[1]);
  return inReach(n <= 10 ? n * 10 : n);
}
const inReach = (energy: number): number | null => (energy > 100 ? null : Math.round(energy));

/**
 * What a comment says of energy and moods. A word counts as a mood only where it stands by itself, between commas,
 * semicolons, slashes or bars.
 * @param moods names of moods as the library spells them
 */
export function inComment(
  comment: string | null,
  moods: readonly string[],
): { energy: number | null; moods: string[] } {
  if (!comment) return { energy: null, moods: [] };
  const known = new Map([...MOOD_WORDS, ...moods].map((mood) => [fold(mood), mood]));
  const found = comment.split(/[,;/|]+|\s[-–]\s/).flatMap((part) => known.get(fold(part.trim())) ?? []);
  return { energy: energyIn(comment), moods: splitList(found.join('; ')) };
}
