/** Which track of the library an entry of a list by others means. */
import { namesSimilarity, similarity } from '../catalogue/similarity.ts';
import type { FieldValue, TrackValues } from '../fields/values.ts';
import type { ListedEntry } from './listFile.ts';

/** From here on a match needs no look, when nothing else is as near. */
export const SURE_SCORE = 0.85;
/** So much nearer the best one has to be. */
const AHEAD = 0.05;
/** Shares of title and artist. */
const TITLE_SHARE = 0.65;
/** Without an artist, a title alone says so much at most. */
const TITLE_ALONE = 0.9;
/** "Title - Artist" instead of "Artist - Title". */
const TURNED = 0.97;
/** The file has the name, but lies in a folder of another name. */
const NAME_ALONE = 0.9;
/** Lengths that differ by more than this share speak against it. */
const LENGTH_REACH = 0.08,
  OTHER_LENGTH = 0.1;

const texts = (value: FieldValue | undefined): string[] =>
  Array.isArray(value) ? value : typeof value === 'string' && value ? [value] : [];

/** Do two paths end alike? 1: folder and name, less: the name alone. */
function pathLikeness(location: string | null, values: TrackValues): number {
  if (location === null || typeof values.path !== 'string') return 0;
  const parts = (path: string): string[] => path.toLowerCase().normalize('NFC').split('/').filter(Boolean).reverse();
  const [a, b] = [parts(location), parts(values.path)];
  if (a[0] !== b[0]) return 0;
  return a.length === 1 || a[1] === b[1] ? 1 : NAME_ALONE;
}

/** The names in one text, as lists and logs of others join them: "Brine Choir; Vesna Rook", "… feat. …". */
export const artistNames = (text: string): string[] =>
  text
    .trim()
    .split(/\s*(?:;|,|&|\bfeat\.?|\bft\.?|\bvs\.?)\s*/i)
    .filter(Boolean);

function namesLikeness(title: string, artist: string | null, values: TrackValues): number {
  const own = texts(values.title)[0] ?? '',
    version = texts(values.version)[0];
  const named = [own, ...(version ? [`${own} (${version})`] : []), ...(own ? [] : texts(values.fileName))];
  const titled = Math.max(0, ...named.map((name) => similarity(title, name)));
  if (artist === null) return TITLE_ALONE * titled;
  const artists = texts(values.artist);
  const by = Math.max(
    namesSimilarity(artistNames(artist), artists),
    artists.length ? similarity(artist, artists.join(' ')) : 0,
  );
  return TITLE_SHARE * titled + (1 - TITLE_SHARE) * by;
}

/** How likely a track is what an entry means, 0 … 1. */
export function likeness(entry: ListedEntry, values: TrackValues): number {
  const { title, artist, seconds } = entry;
  const straight = title === null ? 0 : namesLikeness(title, artist, values);
  const turned = title === null || artist === null ? 0 : TURNED * namesLikeness(artist, title, values);
  const length = typeof values.durationSeconds === 'number' ? values.durationSeconds : null;
  const other = seconds !== null && length !== null && Math.abs(length / seconds - 1) > LENGTH_REACH;
  const score = Math.max(pathLikeness(entry.location, values), straight, turned);
  return Math.max(0, score - (other ? OTHER_LENGTH : 0));
}

export interface Match<T> {
  /** The likeliest first. */
  candidates: { track: T; score: number }[];
  /** The first needs no look. */
  sure: boolean;
}

const NEAREST = 5;
/** Less alike than this is nothing to offer. */
const WORTH_OFFERING = 0.5;

/** The same recording by its names: which of them is taken does not matter to the list. */
const sameNames = (a: TrackValues, b: TrackValues): boolean =>
  ['title', 'version', 'artist'].every(
    (f) => texts(a[f]).join(' ').toLowerCase() === texts(b[f]).join(' ').toLowerCase(),
  );

/** The tracks that an entry could mean; of equal ones that with the higher bit rate comes first. */
export function matchEntry<T extends { values: TrackValues }>(entry: ListedEntry, tracks: readonly T[]): Match<T> {
  const rate = ({ values }: T): number => (typeof values.bitrate === 'number' ? values.bitrate : 0);
  const candidates = tracks
    .map((track) => ({ track, score: likeness(entry, track.values) }))
    .filter((c) => c.score >= WORTH_OFFERING)
    .sort((a, b) => b.score - a.score || rate(b.track) - rate(a.track))
    .slice(0, NEAREST);
  const [best, ...others] = candidates;
  const rival = others.find((o) => best && !sameNames(o.track.values, best.track.values));
  return {
    candidates,
    sure: best !== undefined && best.score >= SURE_SCORE && (!rival || best.score - rival.score >= AHEAD),
  };
}
