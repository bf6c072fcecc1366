/** Versions, guests and remixers in titles: found, taken out, and told apart from what belongs to the name. */
import { nameKey, type KnownNames } from './known.ts';

/** Words that end a version. */
const KINDS = [
  'remix',
  're-?mix',
  'mix',
  're-?edit',
  'edit',
  'version',
  'dub',
  'instrumental',
  'a ?cc?app?ell?a',
  'a cappella',
  'rework',
  're-?fix',
  'refix',
  'bootleg',
  'mash-?up',
  'vip',
  'flip',
  're-?rub',
  'cut',
  'take',
  'session',
  'rehearsal',
  'demo',
  'reprise',
  'live',
  'acoustic',
  'unplugged',
  'orchestral',
  'stripped',
  'remaster(?:ed)?',
  'bonus beats',
  'beats',
  'tool',
  'extended',
  'original',
  'radio',
  'club',
  'clean',
  'dirty',
  'explicit',
  'karaoke',
  'mono',
  'stereo',
  'mixed',
  'overdub',
  'interpretation',
  'variation',
].join('|');
const ENDS_LIKE_VERSION = new RegExp(`(?:^|[\\s\\-/])(?:${KINDS})(?:\\s+(?:\\d{1,4}|[ivx]+|one|two|three))?$`, 'iu');
const BEGINS_LIKE_VERSION =
  /^(?:live (?:at|from|in)|recorded (?:at|live)|remaster(?:ed)?(?:\s+\d{4})?|\d{4} remaster(?:ed)?|(?:7|12)(?:"|''|”|-?inch)|vip\b|as (?:heard|played) )/iu;
/** Only these stand for a version without brackets or a dash. */
const BARE =
  /^(.+?\S)\s+((?:(?:original|radio|club|extended|vocal|dub|instrumental|night|single|album|short|long|full|deep) )+(?:mix|edit|version|dub|cut)|instrumental(?: mix| version)?|acapella|a cappella)$/iu;
/** Words that describe a version and name nobody. */
const GENERIC = new Set(
  'original radio club extended vocal dub instrumental night day single album short long full deep dirty clean main late early sunrise sunset morning evening summer winter warehouse festival dj live acoustic studio alternate alternative first second final rough special special alternative new old classic tribal house techno disco ambient jungle drum bass dubstep garage piano string strings ballad jazz soul funk funky latin afro acid hard soft slow fast edit mix remix version 12 7 inch vip bonus beats tool video tv mono stereo unreleased demo reprise rework bootleg mixed the a b part'.split(
    ' ',
  ),
);

export const isVersion = (text: string): boolean =>
  text.length <= 80 && (ENDS_LIKE_VERSION.test(text.trim()) || BEGINS_LIKE_VERSION.test(text.trim()));

const GUEST = /(?:feat(?:uring)?|ft|f\/)(?:\.\s*|\s+)/iu;
const GUEST_BEHIND = new RegExp(`\\s+${GUEST.source}`, 'iu');
const GUEST_IN_BRACKETS = /^(?:feat(?:uring)?\.?|ft\.?|f\/|with|w\/|guest:?)\s+(.+)$/iu;
const BRACKETS = /\s*(?:\(([^()]*)\)|\[([^[\]]*)\])/gu;

export interface TitleParts {
  title: string;
  versions: string[];
  guests: string[];
}

/**
 * Takes versions and guests out of a title.
 * @example titleParts('Half a Mile (feat. Vesna Rook) [Dub]') // { title: 'Half a Mile', versions: ['Dub'], guests:
 * ['Vesna Rook'] }
 */
export function titleParts(text: string, want: { versions: boolean; guests: boolean; bare: boolean }): TitleParts {
  const versions: string[] = [],
    guests: string[] = [];
  let title = text.replace(BRACKETS, (whole, round: string | undefined, square: string | undefined) => {
    const inside = (round ?? square ?? '').trim();
    const guest = want.guests ? GUEST_IN_BRACKETS.exec(inside)?.[1] : undefined;
    if (guest !== undefined && !isVersion(guest)) {
      guests.push(guest);
      return '';
    }
    if (want.versions && isVersion(inside)) {
      versions.push(inside);
      return '';
    }
    return whole;
  });
  if (want.versions) {
    const dashed = /^(.*\S)\s+[-–—]\s+([^-–—]+)$/u.exec(title);
    if (dashed && isVersion(dashed[2]!) && !GUEST.test(dashed[2]!)) {
      title = dashed[1]!;
      versions.unshift(dashed[2]!.trim());
    }
  }
  if (want.guests) {
    const at = GUEST_BEHIND.exec(title);
    if (at && at.index > 0) {
      const rest = title.slice(at.index + at[0].length),
        end = /\s+[-–—]\s+|\s*[([]/u.exec(rest);
      guests.push((end ? rest.slice(0, end.index) : rest).trim());
      title = title.slice(0, at.index) + (end ? rest.slice(end.index) : '');
    }
  }
  if (want.versions && want.bare && versions.length === 0) {
    const bare = BARE.exec(title);
    if (bare) {
      title = bare[1]!;
      versions.push(bare[2]!);
    }
  }
  return {
    title: tidy(title),
    versions: versions.map((v) => v.trim()).filter(Boolean),
    guests: guests.filter(Boolean),
  };
}

const tidy = (text: string): string =>
  text
    .replace(/\s{2,}/g, ' ')
    .replace(/\s+[-–—]\s*$/u, '')
    .trim();

export interface SplitOptions {
  feat: boolean;
  versus: boolean;
  times: boolean;
  presents: boolean;
  ampersand: boolean;
}

/**
 * Artists one by one. Names that are known whole stay whole; "&", "and" and commas part only names of which one is
 * known.
 * @example splitArtists(['Brine Choir feat. Vesna Rook'], …) // ['Brine Choir', 'Vesna Rook']
 */
export function splitArtists(artists: readonly string[], options: SplitOptions, known: KnownNames): string[] {
  const joiners = joinersOf(options);
  const parts = artists.flatMap((artist) => {
    const parted = joiners?.test(artist) === true;
    if (!parted && !options.ampersand) return [artist];
    if (known.has(artist) && !GUEST.test(artist)) return [artist];
    const split = parted ? artist.split(joiners) : [artist];
    return split
      .map((part, i) => (i > 0 ? part.replace(/[)\]]$/u, '') : part))
      .flatMap((part) => (options.ampersand ? splitKnown(part, known) : [part]));
  });
  return unique(parts.map((p) => p.trim()).filter(Boolean));
}

const made = new Map<string, RegExp | null>();
/** What stands between artists, by the options; null when nothing does. */
function joinersOf(options: SplitOptions): RegExp | null {
  const words = [
    options.feat && '\\s+[([]?(?:feat(?:uring)?|ft)(?:\\.\\s*|\\s+)',
    options.feat && '\\s+f/\\s*',
    options.versus && '\\s+(?:vs\\.?|versus)\\s+',
    options.times && '\\s+[x×]\\s+',
    options.presents && '\\s+(?:pres\\.?|presents)\\s+',
  ]
    .filter(Boolean)
    .join('|');
  if (!made.has(words)) made.set(words, words ? new RegExp(words, 'iu') : null);
  return made.get(words)!;
}

function splitKnown(text: string, known: KnownNames): string[] {
  if (known.has(text)) return [text];
  const parts = text.split(/\s*(?:,|;)\s*|\s+(?:&|and|\+)\s+/iu);
  return parts.length > 1 && parts.some((p) => known.has(p)) && parts.every((p) => p.trim()) ? parts : [text];
}

/** The guests of "A & B, C" one by one. */
export const splitGuests = (guests: readonly string[], known: KnownNames): string[] =>
  unique(
    guests
      .flatMap((g) => (known.has(g) ? [g] : g.split(/\s*,\s*|\s+(?:&|and)\s+/iu)))
      .map((g) => g.trim())
      .filter(Boolean),
  );

export function unique(names: readonly string[]): string[] {
  const seen = new Set<string>();
  return names.filter((name) => {
    const key = nameKey(name) || name;
    return !seen.has(key) && seen.add(key);
  });
}

/**
 * Who made a version: "Keel Nine Remix" names somebody, "Extended Mix" does not. With words that need not be
 * somebody's ("… Mix", "… Edit"), only a name that is known counts.
 */
export function remixerIn(version: string, known: KnownNames): string | null {
  const found =
    /^(.+?)(?:['’]s?)?\s+(remix|re-?mix|rework|bootleg|flip|re-?fix|re-?rub|vip|mix|edit|re-?edit|dub|version|interpretation)(?:\s+\d{1,4})?$/iu.exec(
      version.trim(),
    );
  if (!found) return null;
  const [, name, kind] = found as unknown as [string, string, string];
  // "Keel Nine Extended Remix": the words that describe are taken off behind the name.
  const words = name.split(/\s+/);
  while (words.length > 1 && GENERIC.has(words.at(-1)!.toLowerCase())) words.pop();
  const bare = words.join(' ').replace(/['’]s?$/u, '');
  if (known.has(bare)) return known.spelling(bare) ?? bare;
  if (words.every((w) => GENERIC.has(w.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')))) return null;
  return /^(mix|edit|dub|version|vip)$/iu.test(kind) ? null : bare;
}
