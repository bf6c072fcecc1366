/** The tracks of a library by the words of their names, so that few have to be compared with an entry. */
import { fold } from '../fields/fold.ts';

export interface EntryIndex {
  /** Indices of the tracks that share the rarest words with a text, the likeliest first. */
  near: (text: string, limit: number) => number[];
}

/** Words that more tracks have than this say nothing, as long as there are others. */
const MAX_SHARE = 0.02,
  ALWAYS_LOOKED_AT = 500;
/** From this length on a word that nobody has is taken for a misspelt one. */
const MIN_MISSPELT = 4;
/** Letters by which it may differ. */
const MAX_DIFFERENCE = 2;
/** What a misspelt word counts beside one that is right. */
const MISSPELT_SHARE = 0.7;
/** What shares less than this with a text, beside the track that shares most, is none of the likely ones. */
const LEAST_SHARE = 0.4;

const wordsOf = (text: string): Set<string> => new Set(fold(text).match(/[\p{L}\p{N}]+/gu) ?? []);

/** @param names what each track is called: title, artists, file name */
export function entryIndex(names: readonly string[]): EntryIndex {
  const tracksOf = new Map<string, number[]>();
  for (const [i, name] of names.entries())
    for (const word of wordsOf(name)) {
      const tracks = tracksOf.get(word);
      if (tracks) tracks.push(i);
      else tracksOf.set(word, [i]);
    }
  const byStart = new Map<string, string[]>();
  for (const word of tracksOf.keys()) {
    const words = byStart.get(word[0]!);
    if (words) words.push(word);
    else byStart.set(word[0]!, [word]);
  }
  const known = new Map<string, [tracks: readonly number[], share: number][]>();
  /** The tracks that have a word, or one that differs by little. */
  const having = (word: string): [readonly number[], number][] => {
    const there = known.get(word);
    if (there) return there;
    const own = tracksOf.get(word);
    const found: [readonly number[], number][] = own
      ? [[own, 1]]
      : word.length < MIN_MISSPELT
        ? []
        : (byStart.get(word[0]!) ?? [])
            .filter((w) => differsLittle(word, w))
            .map((w) => [tracksOf.get(w)!, MISSPELT_SHARE]);
    known.set(word, found);
    return found;
  };
  const score = new Float64Array(names.length);
  const common = Math.max(ALWAYS_LOOKED_AT, names.length * MAX_SHARE);
  return {
    near(text, limit) {
      const all = [...wordsOf(text)].flatMap(having);
      const rare = all.filter(([tracks]) => tracks.length <= common);
      const touched: number[] = [];
      let most = 0;
      for (const [tracks, share] of rare.length > 0 ? rare : all) {
        const weight = share * Math.log(1 + names.length / tracks.length);
        for (const i of tracks) {
          if (score[i] === 0) touched.push(i);
          most = Math.max(most, (score[i]! += weight));
        }
      }
      const likely = touched.filter((i) => score[i]! >= LEAST_SHARE * most).map((i) => [i, score[i]!] as const);
      for (const i of touched) score[i] = 0;
      return likely
        .sort((a, b) => b[1] - a[1] || a[0] - b[0])
        .slice(0, limit)
        .map(([i]) => i);
    },
  };
}

/** Do two words differ by few letters put in, left out or changed (Levenshtein 1966)? */
function differsLittle(a: string, b: string): boolean {
  const most = Math.min(MAX_DIFFERENCE, Math.floor(Math.min(a.length, b.length) / 3));
  if (Math.abs(a.length - b.length) > most) return false;
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next[j] = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1));
    if (Math.min(...next) > most) return false;
    row = next;
  }
  return row[b.length]! <= most;
}
