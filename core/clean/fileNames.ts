/**
 * Fields from file names. Names of a folder that are built alike are one group; what each part of a group means is
 * found from its shape (number, year, code), from repetition (the same in all: album or artist) and from the artists
 * that the library knows, which also settle whether the artist or the title comes first.
 */
import { refKey, type FileRef } from '../files/fileRef.ts';
import { isVersion } from './versions.ts';
import { nameKey, type KnownNames } from './known.ts';
import { remembering } from './memo.ts';
import { bothWays, knownFirst, likelyArtist, oneOfTwo, withoutFalseNumber } from './nameEvidence.ts';
import type { Asked, Found, Meaning, NamedFile, NameGroup, NameOptions, Split } from './nameGroup.ts';
import { nameParts, stemOf, type NamePart } from './nameParts.ts';

export const folderOf = (path: string): string => (path.includes('/') ? path.slice(0, path.lastIndexOf('/')) : '');

/** Groups of alike names with what their parts mean. */
export function nameGroups(files: readonly NamedFile[], options: NameOptions, names: KnownNames): NameGroup[] {
  const known: Asked = {
    ...names,
    isArtist: remembering((text) => isArtist(text, names)),
    isVersion: remembering(isVersion),
  };
  const folders = new Map<string, Folder>();
  for (const { id, rootId, path } of files) {
    const stem = stemOf(path),
      byHand = options.splits?.[id];
    const parts = byHand
      ? byHand.map((text): NamePart => ({ text, shape: 'text' }))
      : knownFirst(nameParts(stem, options.separators), stem, known.isArtist);
    const ref = { rootId, path: folderOf(path) };
    const there = folders.get(refKey(ref));
    if (there) there.splits.push({ id, stem, parts });
    else folders.set(refKey(ref), { ref, splits: [{ id, stem, parts }] });
  }
  return [...folders.values()].flatMap((folder) => groupsOf(folder, options, known));
}

/** Numbers before a name are written in several ways that all mean the same. */
const build = (parts: readonly NamePart[]): string =>
  parts.map((p) => (p.shape === 'side' || p.shape === 'disc and track' ? 'number' : p.shape)).join('|');

interface Folder {
  ref: FileRef;
  splits: Split[];
}

/** Patterns that were chosen when folders were known by their paths alone still count. */
const chosenFor = ({ patterns }: NameOptions, key: string): readonly Meaning[] | undefined =>
  patterns?.[key] ?? patterns?.[key.slice(key.indexOf(':') + 1)];

function groupsOf({ ref, splits: given }: Folder, options: NameOptions, known: Asked): NameGroup[] {
  const named = oneOfTwo(given.map((s) => s.parts));
  const splits = given.map((s) =>
    options.splits?.[s.id] ? s : { ...s, parts: knownFirst(s.parts, s.stem, (text) => named.has(nameKey(text))) },
  );
  const groups = new Map<string, Split[]>(),
    byHand = new Map<string, Split[]>();
  const add = (to: Map<string, Split[]>, key: string, split: Split): void => {
    const there = to.get(key);
    if (there) there.push(split);
    else to.set(key, [split]);
  };
  const likely = { ...known, isArtist: likelyArtist(splits, known) };
  for (const split of splits.map((s) => withoutFalseNumber(s, splits.length))) {
    const row = options.rows?.[split.id];
    if (row?.length === split.parts.length) add(byHand, `${build(split.parts)}\n${row.join('|')}`, split);
    else add(groups, build(split.parts), split);
  }
  joinOdd(groups, known);
  return [...groups, ...byHand].flatMap(([shape, members]) => {
    const key = `${refKey(ref)}\n${shape}`;
    const found = meaningsOf(members, ref.path, known);
    const group = (own: string, of: readonly Split[], { pattern, sure, reason }: Found): NameGroup => {
      const chosen = chosenFor(options, own) ?? (byHand.has(shape) ? options.rows![of[0]!.id] : undefined);
      return {
        key: own,
        rootId: ref.rootId,
        folder: ref.path,
        pattern: chosen ? pattern.map((m, i) => chosen[i] ?? m) : pattern,
        members: of.map((m) => ({ id: m.id, stem: m.stem, parts: m.parts.map((p) => p.text) })),
        sure: chosen ? 1 : sure,
        reason: chosen ? 'chosen by hand' : reason,
        byHand: chosen !== undefined,
      };
    };
    const parted = byHand.has(shape) ? [] : bothWays(members, found, known, likely);
    if (parted.length === 0) return [group(key, members, found)];
    return parted.map(({ mark, of, ...said }) => group(mark ? `${key}\n${mark}` : key, of, said));
  });
}

/**
 * A few names with one text more than the many beside them: a dash that belongs to a title (or to an artist's name).
 * They are put together again so that they are built like the rest.
 */
function joinOdd(groups: Map<string, Split[]>, known: KnownNames): void {
  const all = [...groups].sort((a, b) => b[1].length - a[1].length);
  for (const [shape, members] of all) {
    const longer = shape.split('|');
    const plain = all.find(
      ([other, many]) => `number|${other}` === shape && many.length >= 3 && many.length >= members.length * 3,
    );
    if (plain && members.every((m) => /^[1-9]\d*$/.test(m.parts[0]!.text))) {
      // Among names without numbers, a number belongs to the words behind it: "99 Buoys".
      groups.get(plain[0])!.push(
        ...members.map((m) => ({
          ...m,
          parts: [{ text: `${m.parts[0]!.text} ${m.parts[1]!.text}`, shape: m.parts[1]!.shape }, ...m.parts.slice(2)],
        })),
      );
      groups.delete(shape);
      continue;
    }
    const target = all.find(
      ([other, many]) =>
        many.length >= 3 &&
        many.length >= members.length * 3 &&
        other.split('|').length === longer.length - 1 &&
        other.includes('text|text') &&
        longer.filter((s) => s !== 'text').join() ===
          other
            .split('|')
            .filter((s) => s !== 'text')
            .join(),
    );
    if (!target || !groups.has(target[0])) continue;
    const rest: Split[] = [];
    for (const member of members) {
      const joined = joinParts(member.parts, target[1], known);
      if (joined && build(joined) === target[0]) groups.get(target[0])!.push({ ...member, parts: joined });
      else rest.push(member);
    }
    if (rest.length) groups.set(shape, rest);
    else groups.delete(shape);
  }
}

function joinParts(parts: readonly NamePart[], alike: readonly Split[], known: KnownNames): NamePart[] | null {
  const texts = parts.flatMap((p, i) => (p.shape === 'text' ? [i] : []));
  let best: { at: number; score: number } | null = null;
  for (let k = 0; k + 1 < texts.length; k++) {
    if (texts[k + 1] !== texts[k]! + 1) continue;
    const made = merged(parts, texts[k]!);
    // The other columns have to say what they say elsewhere; the last pair is the likeliest.
    let score = k / 100;
    made.forEach((p, i) => {
      if (i === texts[k]) return;
      if (alike.some((a) => a.parts[i] && nameKey(a.parts[i]!.text) === nameKey(p.text)) || known.has(p.text))
        score += 1;
    });
    if (made[texts[k]!] && known.has(made[texts[k]!]!.text)) score += 1;
    if (!best || score > best.score) best = { at: texts[k]!, score };
  }
  return best && best.score >= 1 ? merged(parts, best.at) : null;
}

const merged = (parts: readonly NamePart[], at: number): NamePart[] => [
  ...parts.slice(0, at),
  { text: `${parts[at]!.text} - ${parts[at + 1]!.text}`, shape: 'text' },
  ...parts.slice(at + 2),
];

interface Column {
  texts: string[];
  distinct: number;
  known: number;
  version: number;
  folder: number;
}

function meaningsOf(
  members: readonly Split[],
  folder: string,
  known: Asked,
): { pattern: Meaning[]; sure: number; reason: string } {
  const width = members[0]!.parts.length;
  const pattern: Meaning[] = [];
  const textAt: number[] = [];
  const columns: Column[] = [];
  const inFolder = folderNames(folder);
  for (let i = 0; i < width; i++) {
    const shapes = new Set(members.map((m) => m.parts[i]!.shape)),
      texts = members.map((m) => m.parts[i]!.text);
    if (shapes.has('disc and track')) pattern[i] = 'discAndTrack';
    else if (shapes.has('number') || shapes.has('side'))
      pattern[i] = pattern.includes('trackNumber') ? 'nothing' : 'trackNumber';
    else if (shapes.has('year')) pattern[i] = width === 1 ? 'title' : 'year';
    else if (shapes.has('catalogue')) pattern[i] = width === 1 ? 'title' : 'catalogueNumber';
    else {
      pattern[i] = 'undefined';
      textAt.push(i);
    }
    const share = (test: (t: string) => boolean): number => texts.filter(test).length / texts.length;
    columns[i] = {
      texts,
      distinct: new Set(texts.map(nameKey)).size / texts.length,
      known: share(known.isArtist),
      version: share(known.isVersion),
      folder: share((t) => inFolder.has(nameKey(t))),
    };
  }
  // A number of a name that is nothing but numbers and one of them is its title.
  if (textAt.length === 0 && pattern[width - 1] === 'trackNumber') {
    pattern[width - 1] = 'title';
    return { pattern, sure: 0.4, reason: 'only a number' };
  }
  // The last part says a version in most: "Artist - Title - Radio Edit".
  const last = textAt.at(-1);
  if (textAt.length >= 3 && last !== undefined && columns[last]!.version >= 0.5) {
    pattern[last] = 'version';
    textAt.pop();
  }
  const unspaced = members.some(
    (m) => m.stem.includes('_') && !/\s/.test(m.stem) && (m.parts.at(-1)?.text.includes(' ') ?? false),
  );
  const { sure, reason } = nameTexts(pattern, textAt, columns, members.length, unspaced);
  return { pattern, sure, reason };
}

/** An artist known, or several of whom one is. */
function isArtist(text: string, known: KnownNames): boolean {
  if (known.has(text)) return true;
  const parts = text.split(/\s+(?:feat\.?|ft\.?|featuring|vs\.?|x|&|and|pres\.?)\s+|\s*,\s*/iu);
  return parts.length > 1 && parts.some((p) => known.has(p));
}

const folderNames = (folder: string): Set<string> =>
  new Set(
    folder
      .split('/')
      .slice(-2)
      .flatMap((name) => [name, ...name.split(/\s+-\s+|_-_/)])
      .map(nameKey)
      .filter(Boolean),
  );

function nameTexts(
  pattern: Meaning[],
  at: readonly number[],
  columns: readonly Column[],
  n: number,
  unspaced: boolean,
): { sure: number; reason: string } {
  const [a, b] = at as [number, number];
  const repeats = (i: number): boolean => n >= 3 && columns[i]!.distinct <= 0.5 && columns[i]!.distinct < 1;
  const constant = (i: number): boolean => n >= 3 && columns[i]!.distinct <= 1 / n + 1e-9;
  switch (at.length) {
    case 0:
      return { sure: 0.5, reason: 'numbers only' };
    case 1:
      pattern[a] = 'title';
      if (unspaced) return { sure: 0.6, reason: 'underscores only: an artist could stand before the title' };
      return { sure: pattern.length > 1 || n >= 3 ? 0.85 : 0.7, reason: 'one text: the title' };
    case 2: {
      const ka = columns[a]!.known,
        kb = columns[b]!.known;
      if (ka !== kb) {
        name(pattern, ka > kb ? [a, 'artist'] : [b, 'artist'], ka > kb ? [b, 'title'] : [a, 'title']);
        return { sure: 0.7 + 0.29 * Math.abs(ka - kb), reason: 'the library knows the artists' };
      }
      // The same in all, or nearly: an artist.
      for (const [one, other] of [
        [a, b],
        [b, a],
      ] as const) {
        if (!repeats(one) || columns[one]!.distinct >= columns[other]!.distinct) continue;
        name(pattern, [one, 'artist'], [other, 'title']);
        return {
          sure: constant(one) ? 0.9 : 0.8,
          reason: constant(one) ? 'the same in all: the artist' : 'comes again and again: the artist',
        };
      }
      // Versions stand behind titles.
      const va = columns[a]!.texts.filter((t) => /[([]/.test(t)).length,
        vb = columns[b]!.texts.filter((t) => /[([]/.test(t)).length;
      if (va > vb) {
        name(pattern, [a, 'title'], [b, 'artist']);
        return { sure: 0.65, reason: 'versions stand behind the first part: the title' };
      }
      name(pattern, [a, 'artist'], [b, 'title']);
      return {
        sure: vb > va ? 0.75 : 0.6,
        reason: vb > va ? 'versions stand behind the second part: the title' : 'artist before title, as usual',
      };
    }
    default:
      return nameMany(pattern, at, columns, constant, repeats);
  }
}

const name = (pattern: Meaning[], ...given: (readonly [number, Meaning])[]): void => {
  for (const [i, meaning] of given) pattern[i] = meaning;
};

function nameMany(
  pattern: Meaning[],
  at: readonly number[],
  columns: readonly Column[],
  constant: (i: number) => boolean,
  repeats: (i: number) => boolean,
): { sure: number; reason: string } {
  // The title is what differs most; of equals, the last.
  const byDistinct = [...at].sort(
    (x, y) => columns[y]!.distinct - columns[x]!.distinct || columns[x]!.known - columns[y]!.known || y - x,
  );
  const known = [...at].sort((x, y) => columns[y]!.known - columns[x]!.known || x - y)[0]!;
  // Of nobody known: who comes again; else who stands first, before an album that is the same in all.
  const artist = columns[known]!.known > 0 ? known : (at.find((i) => !constant(i) && repeats(i)) ?? at[0]!);
  const title = byDistinct.find((i) => i !== artist && !constant(i)) ?? at.filter((i) => i !== artist).at(-1)!;
  name(pattern, [artist, 'artist'], [title, 'title']);
  const rest = at.filter((i) => i !== artist && i !== title);
  const album =
    rest.find((i) => constant(i)) ??
    rest.find((i) => repeats(i) || columns[i]!.folder > 0.5) ??
    (at.length === 3 && rest[0] !== undefined && rest[0] < title ? rest[0] : undefined);
  if (album !== undefined) {
    // An artist in front of the album whose tracks have artists of their own is the album's.
    name(pattern, [album, 'album']);
  }
  const open = rest.filter((i) => i !== album);
  const twin = open.find((i) => columns[i]!.known > 0.5);
  if (twin !== undefined && columns[twin]!.distinct < columns[artist]!.distinct) name(pattern, [twin, 'albumArtist']);
  const proof = columns[artist]!.known > 0.5 ? 0.95 : constant(artist) || repeats(artist) ? 0.8 : 0.6;
  return {
    sure: pattern.includes('undefined') ? Math.min(0.5, proof) : proof,
    reason:
      columns[artist]!.known > 0.5
        ? 'the library knows the artists'
        : album !== undefined && constant(album)
          ? 'the same in all: artist and album'
          : 'by position',
  };
}
