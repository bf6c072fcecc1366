/** Which part of a name is the artist: what the library knows, and what the other names of a folder tell. */
import { nameKey } from './known.ts';
import { SURE, type Asked, type Found, type Split } from './nameGroup.ts';
import type { NamePart } from './nameParts.ts';

/**
 * Artist and title the one way round or the other, name by name: where the library, or names that come again in the
 * folder, say who the artist is. Names of which nothing is known are unsure where others disagree.
 */
export function bothWays(
  members: readonly Split[],
  found: Found,
  known: Asked,
  likely: Asked,
): (Found & { mark: string; of: Split[] })[] {
  const artist = found.pattern.indexOf('artist'),
    title = found.pattern.indexOf('title');
  if (artist < 0 || title < 0) return [];
  const ways = (isArtist: (text: string) => boolean, of: readonly Split[]): [Split[], Split[], Split[]] => {
    const out: [Split[], Split[], Split[]] = [[], [], []];
    for (const m of of) {
      const first = isArtist(m.parts[artist]!.text),
        second = isArtist(m.parts[title]!.text);
      out[first === second ? 2 : first ? 0 : 1].push(m);
    }
    return out;
  };
  const [right, turned, open] = ways(known.isArtist, members);
  const [rightToo, turnedToo, rest] = ways(likely.isArtist, open);
  const texts = found.pattern.filter((m) => m !== 'trackNumber' && m !== 'discAndTrack').length;
  if (turned.length === 0 && (texts !== 2 || turnedToo.length === 0)) {
    // All that is known says the same.
    if (texts !== 2 || found.sure >= SURE || rest.length > members.length / 4) return [];
    return [{ ...found, sure: 0.85, reason: 'names that come again are artists', mark: '', of: [...members] }];
  }
  const other = found.pattern.map((m) => (m === 'artist' ? 'title' : m === 'title' ? 'artist' : m));
  const byLibrary = { sure: 0.95, reason: 'the library knows the artists' },
    byFolder = { sure: 0.85, reason: 'names that come again are artists' },
    open2 = { sure: 0.6, reason: 'other names of the folder are the other way round' };
  const all = [
    { mark: '', pattern: found.pattern, of: right, ...byLibrary },
    { mark: 'turned', pattern: other, of: turned, ...byLibrary },
    { mark: 'again', pattern: found.pattern, of: texts === 2 ? rightToo : [], ...byFolder },
    { mark: 'again turned', pattern: other, of: texts === 2 ? turnedToo : [], ...byFolder },
    { mark: 'open', pattern: found.pattern, of: texts === 2 ? rest : open, ...open2 },
  ];
  return all.filter((g) => g.of.length > 0);
}

/**
 * Artists that a folder itself tells: names that come again beside different others, in names of two texts. A title
 * comes again far less often.
 */
export function likelyArtist(splits: readonly Split[], known: Asked): (text: string) => boolean {
  const beside = new Map<string, Set<string>>();
  for (const { parts } of splits) {
    const texts = parts.flatMap((p) => (p.shape === 'text' ? [nameKey(p.text)] : []));
    if (texts.length !== 2) continue;
    for (const [one, other] of [texts, [...texts].reverse()] as [string, string][]) {
      const there = beside.get(one);
      if (there) there.add(other);
      else beside.set(one, new Set([other]));
    }
  }
  return (text) => known.isArtist(text) || (beside.get(nameKey(text))?.size ?? 0) >= 2;
}

/** Texts of a folder's names that have two: one of the two is an artist. */
export const oneOfTwo = (all: readonly (readonly NamePart[])[]): ReadonlySet<string> =>
  new Set(
    all.flatMap((parts) => {
      const texts = parts.filter((p) => p.shape === 'text');
      return texts.length === 2 ? texts.map((p) => nameKey(p.text)) : [];
    }),
  );

/**
 * "low_tide_assembly_bladderwrack_cuts": nothing parts the two but that the first, or the last, is known as an artist,
 * from the library or from other names of the folder.
 */
export function knownFirst(parts: NamePart[], stem: string, isArtist: (text: string) => boolean): NamePart[] {
  const texts = parts.filter((p) => p.shape === 'text');
  if (texts.length !== 1 || /\s/.test(stem) || !stem.includes('_')) return parts;
  const at = parts.indexOf(texts[0]!),
    words = texts[0]!.text.split(' ');
  for (let n = Math.min(6, words.length - 1); n >= 1; n--)
    for (const k of [n, words.length - n]) {
      const pair = [words.slice(0, k).join(' '), words.slice(k).join(' ')];
      if (!isArtist(pair[k === n ? 0 : 1]!)) continue;
      const split = pair.map((text): NamePart => ({ text, shape: 'text' }));
      return [...parts.slice(0, at), ...split, ...parts.slice(at + 1)];
    }
  return parts;
}

/** "99 Buoys - Vesna Rook" among thirty names: so high a number, and nothing behind it, belongs to the words. */
export function withoutFalseNumber(split: Split, names: number): Split {
  const [first, second] = split.parts;
  if (first?.shape !== 'number' || second?.shape !== 'text') return split;
  if (Number(first.text) <= Math.max(30, 2 * names) || !/^\d+\s+[\p{L}\p{N}]/u.test(split.stem)) return split;
  return { ...split, parts: [{ text: `${first.text} ${second.text}`, shape: 'text' }, ...split.parts.slice(2)] };
}
