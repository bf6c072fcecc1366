/** Finding the releases that a group of tracks may be, best first. */
import type { Candidate } from '@early-set/core/api/catalogue';
import { byScore, matchRelease, SURE_SCORE } from '@early-set/core/catalogue/match';
import type { LookedUp, Release } from '@early-set/core/catalogue/releases';
import type { Catalogue, HeardRecording } from './client.ts';

/** So many releases are compared in full. */
const COMPARED = 8,
  KEPT = 6;
/** Worse ones are not offered. */
const MIN_SCORE = 0.45;
/** From here on two recordings sound the same. */
const SAME_SOUND = 0.6;

interface Wanted {
  kind: 'album' | 'single';
  query: { artist: string; album: string; title: string };
}

/** By what tags and names say. */
export async function findByFields(
  catalogue: Catalogue,
  { kind, query }: Wanted,
  tracks: readonly LookedUp[],
): Promise<Candidate[]> {
  const ids = (await catalogue.search(query, COMPARED)).map((r) => r.id);
  // An album without a name is looked for by its first tracks.
  if (kind === 'album' && ids.length === 0)
    for (const t of tracks.slice(0, 2))
      if (t.title)
        ids.push(
          ...(
            await catalogue.search({ artist: query.artist || t.artists.join(' '), album: '', title: t.title }, COMPARED)
          ).map((r) => r.id),
        );
  return compare(catalogue, ids, tracks, kind);
}

/** By sound; what is heard counts in the place of tags that are not there. */
export async function findBySound(
  catalogue: Catalogue,
  { kind }: Wanted,
  tracks: readonly LookedUp[],
  fingerprintOf: (trackId: number) => string | null,
): Promise<Candidate[]> {
  const votes = new Map<string, number>(),
    heard = new Map<number, HeardRecording>();
  for (const track of tracks) {
    const fingerprint = fingerprintOf(track.id);
    const best = fingerprint ? (await catalogue.hear(fingerprint))[0] : undefined;
    if (!best || best.score < SAME_SOUND) continue;
    heard.set(track.id, best);
    for (const id of best.releases) votes.set(id, (votes.get(id) ?? 0) + 1);
  }
  const ids = [...votes].sort((a, b) => b[1] - a[1]).map(([id]) => id);
  const told = tracks.map((t): LookedUp => {
    const h = heard.get(t.id);
    return h ? { ...t, title: h.title, version: h.version ?? '', artists: h.artist } : t;
  });
  const candidates = await compare(catalogue, ids, told, kind);
  const reason =
    heard.size === 1 && tracks.length === 1
      ? `it sounds like it: ${Math.round([...heard.values()][0]!.score * 100)} % alike`
      : `${heard.size} of ${tracks.length} sound like it`;
  return candidates.map(({ release, match }) => ({
    release,
    match: { ...match, reasons: [reason, ...match.reasons] },
  }));
}

async function compare(
  catalogue: Catalogue,
  ids: readonly string[],
  tracks: readonly LookedUp[],
  kind: Wanted['kind'],
): Promise<Candidate[]> {
  const releases = new Map<string, Release>();
  for (const id of [...new Set(ids)].slice(0, COMPARED)) {
    const release = await catalogue.release(id);
    if (release) releases.set(id, release);
  }
  return [...releases.values()]
    .map((release) => matchRelease(tracks, release, kind === 'album'))
    .filter((m) => m.score >= MIN_SCORE)
    .sort(byScore(releases))
    .slice(0, KEPT)
    .map((match) => ({ release: releases.get(match.releaseId)!, match }));
}

/** Sure enough to be taken without a look: a good score, and no other music that is nearly as good. */
export function isSure(candidates: readonly Candidate[]): boolean {
  const [first, ...others] = candidates;
  if (!first || first.match.score < SURE_SCORE) return false;
  const own = first.release.artists.join();
  return !others.some((o) => o.release.artists.join() !== own && o.match.score > first.match.score - 0.08);
}
