/** How well a release fits tracks that belong together, line by line, with the reasons in words. */
import { stemOf } from '../clean/nameParts.ts';
import { bestAssignment } from './assignment.ts';
import type { CatalogueTrack, LookedUp, Release } from './releases.ts';
import { namesSimilarity, similarity } from './similarity.ts';

export interface ReleaseMatch {
  releaseId: string;
  /** 0 … 1. */
  score: number;
  reasons: string[];
  /** Track id → index of its line. */
  lines: Record<number, number>;
}

/** A line worth less than this is no line of the track's. */
export const MIN_PAIR = 0.5;
/** From here on a match may be taken without a look. */
export const SURE_SCORE = 0.87;

const VERSIONLESS = new Set(['', 'original', 'original mix', 'album version', 'main', 'main mix']);
const versionsAlike = (a: string, b: string): number => {
  const x = a.toLowerCase().trim(),
    y = b.toLowerCase().trim();
  if (VERSIONLESS.has(x) && VERSIONLESS.has(y)) return 1;
  return VERSIONLESS.has(x) || VERSIONLESS.has(y) ? 0 : similarity(x, y);
};

/** A title with its version in brackets counts as title and version. */
function titleOf(track: LookedUp): { title: string; version: string } {
  const title = track.title || stemOf(track.path);
  if (track.version) return { title, version: track.version };
  const found = /^(.+?)\s*[([]([^()[\]]+)[)\]]\s*$/u.exec(title);
  return found ? { title: found[1]!, version: found[2]! } : { title, version: '' };
}

/** Of lengths: the same up to 2 s, nothing in common from 15 s. */
const lengthLikeness = (difference: number): number => Math.max(0, Math.min(1, (15 - Math.abs(difference)) / 13));

/**
 * How well one track is one line, 0 … 1; what is not known does not count. Likeness is squared: nearly the same name
 * is mostly another.
 */
export function pairScore(track: LookedUp, line: CatalogueTrack): number {
  const { title, version } = titleOf(track);
  const whole = Math.max(
    similarity(title, line.title),
    similarity(`${title} ${version}`, `${line.title} ${line.version ?? ''}`) * 0.98,
  );
  const parts: [weight: number, value: number][] = [
    [0.55, whole ** 2 * (0.65 + 0.35 * versionsAlike(version, line.version ?? ''))],
  ];
  if (track.seconds !== null && line.seconds !== null) parts.push([0.25, lengthLikeness(track.seconds - line.seconds)]);
  if (track.artists.length) parts.push([0.15, namesSimilarity(track.artists, line.artists) ** 2]);
  if (track.trackNumber !== null)
    parts.push([0.08, track.trackNumber === line.number && (track.discNumber ?? 1) === line.disc ? 1 : 0]);
  const weight = parts.reduce((n, [w]) => n + w, 0);
  return parts.reduce((n, [w, v]) => n + w * v, 0) / weight;
}

/**
 * Lays tracks that belong together on the lines of a release.
 * @param whole they are (nearly) all of an album; otherwise lines without a track weigh nothing
 */
export function matchRelease(tracks: readonly LookedUp[], release: Release, whole: boolean): ReleaseMatch {
  const pairs = tracks.map((t) => release.tracks.map((line) => pairScore(t, line)));
  return judge(tracks, release, bestAssignment(pairs, MIN_PAIR), pairs, whole);
}

/** The same for lines chosen by hand. */
export function judgeLines(
  tracks: readonly LookedUp[],
  release: Release,
  lines: Readonly<Record<number, number>>,
  whole: boolean,
): ReleaseMatch {
  const pairs = tracks.map((t) => release.tracks.map((line) => pairScore(t, line)));
  return judge(
    tracks,
    release,
    tracks.map((t) => lines[t.id] ?? -1),
    pairs,
    whole,
  );
}

function judge(
  tracks: readonly LookedUp[],
  release: Release,
  lineOf: readonly number[],
  pairs: readonly (readonly number[])[],
  whole: boolean,
): ReleaseMatch {
  const placed = lineOf.filter((l) => l >= 0).length,
    empty = release.tracks.length - placed;
  const reasons: string[] = [
    `${placed} of ${tracks.length} ${tracks.length === 1 ? 'track is' : 'tracks are'} matched`,
  ];
  const parts: [number, number][] = [];
  const fit = placed ? lineOf.reduce((n, l, i) => n + (l >= 0 ? pairs[i]![l]! : 0), 0) / placed : 0;
  parts.push([0.5, fit], [0.25, placed / tracks.length]);
  if (whole) {
    parts.push([0.12, release.tracks.length ? placed / release.tracks.length : 0]);
    if (empty > 0) reasons.push(`${empty} ${empty === 1 ? 'track' : 'tracks'} of the release without a file`);
  }
  const album = commonest(tracks.map((t) => t.album));
  if (album) {
    const alike = similarity(album, release.title);
    parts.push([0.1, alike]);
    reasons.push(
      alike === 1
        ? 'the album is called the same'
        : alike > 0.7
          ? `the album is called nearly the same: ${release.title}`
          : `the album is called otherwise: ${release.title}`,
    );
  }
  const owners = tracks.some((t) => t.albumArtist)
    ? tracks.map((t) => t.albumArtist).filter(Boolean)
    : [...new Set(tracks.flatMap((t) => t.artists))];
  if (owners.length) {
    const alike = Math.max(
      namesSimilarity([...new Set(owners)], release.artists),
      lineArtists(tracks, release, lineOf),
    );
    parts.push([0.08, alike ** 2]);
    if (alike < 0.7) reasons.push(`the artist is another: ${release.artists.join(', ')}`);
  }
  const differences = lineOf.flatMap((l, i) => {
    const own = tracks[i]!.seconds,
      theirs = l >= 0 ? release.tracks[l]!.seconds : null;
    return own !== null && theirs !== null && theirs !== undefined ? [Math.abs(own - theirs)] : [];
  });
  if (differences.length) {
    const most = Math.max(...differences);
    reasons.push(most <= 2 ? 'the lengths are the same' : `lengths differ by up to ${Math.round(most)} s`);
  }
  const year = commonest(tracks.flatMap((t) => (t.year ? [String(t.year)] : [])));
  if (year && release.year) {
    parts.push([0.03, Number(year) === release.year ? 1 : 0]);
    if (Number(year) !== release.year) reasons.push(`the year is ${release.year}, not ${year}`);
  }
  const weight = parts.reduce((n, [w]) => n + w, 0);
  return {
    releaseId: release.id,
    score: placed === 0 ? 0 : parts.reduce((n, [w, v]) => n + w * v, 0) / weight,
    reasons,
    lines: Object.fromEntries(tracks.flatMap((t, i) => (lineOf[i]! >= 0 ? [[t.id, lineOf[i]!]] : []))),
  };
}

function lineArtists(tracks: readonly LookedUp[], release: Release, lineOf: readonly number[]): number {
  const alike = lineOf.flatMap((l, i) =>
    l >= 0 && tracks[i]!.artists.length ? [namesSimilarity(tracks[i]!.artists, release.tracks[l]!.artists)] : [],
  );
  return alike.length ? alike.reduce((a, b) => a + b, 0) / alike.length : 0;
}

/** The text that comes most; empty for none. */
export function commonest(texts: readonly string[]): string {
  const counts = new Map<string, number>();
  for (const t of texts) if (t) counts.set(t, (counts.get(t) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '';
}

/** Best first; of equals, the earlier release. */
export const byScore =
  (releases: ReadonlyMap<string, Release>) =>
  (a: ReleaseMatch, b: ReleaseMatch): number =>
    Math.round((b.score - a.score) * 1000) ||
    (releases.get(a.releaseId)?.year ?? 9999) - (releases.get(b.releaseId)?.year ?? 9999) ||
    (a.releaseId < b.releaseId ? -1 : 1);
