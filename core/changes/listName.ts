/** What a list may be called that was made of chosen tracks: after what they have in common. */
import type { FieldValue, TrackValues } from '../fields/values.ts';

const namesIn = (value: FieldValue | undefined): string[] =>
  Array.isArray(value) ? value.map(String) : typeof value === 'string' && value ? [value] : [];

/** The one name that all have in a field; null where there is none. */
function shared(tracks: readonly TrackValues[], field: string): string | null {
  const [first, ...rest] = tracks.map((t) => namesIn(t[field]));
  return first?.find((name) => rest.every((other) => other.includes(name))) ?? null;
}

/** Share of tracks that have to be of a genre for a list to be called after it. */
const MOSTLY = 0.7;

function mostly(tracks: readonly TrackValues[], field: string): string | null {
  const counts = new Map<string, number>();
  for (const track of tracks) for (const name of namesIn(track[field])) counts.set(name, (counts.get(name) ?? 0) + 1);
  const [best] = [...counts].sort((a, b) => b[1] - a[1]);
  return best && best[1] >= tracks.length * MOSTLY ? best[0] : null;
}

function tempi(tracks: readonly TrackValues[]): string {
  const known = tracks.flatMap((t) => (typeof t.bpm === 'number' ? [Math.round(t.bpm)] : []));
  if (known.length < tracks.length * MOSTLY) return '';
  const [low, high] = [Math.min(...known), Math.max(...known)];
  return low === high ? `${low}` : `${low} to ${high}`;
}

/** A name after the artist, the album, or the genre with its tempi; null where they have nothing in common. */
export function nameAfter(tracks: readonly TrackValues[]): string | null {
  if (tracks.length === 0) return null;
  const artist = shared(tracks, 'artist'),
    album = shared(tracks, 'album');
  if (album) return artist ? `${artist} - ${album}` : album;
  if (artist) return artist;
  const genre = mostly(tracks, 'genre'),
    between = tempi(tracks);
  if (genre) return [genre, between].filter(Boolean).join(', ');
  return between ? `${between} BPM` : null;
}
