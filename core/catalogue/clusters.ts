/** Tracks that belong together: albums by folder and tags, so that none is torn apart; the rest one by one. */
import { nameKey } from '../clean/known.ts';
import { refKey } from '../files/fileRef.ts';
import { nameParts, stemOf } from '../clean/nameParts.ts';
import { commonest } from './match.ts';
import type { LookedUp } from './releases.ts';

export interface Cluster {
  kind: 'album' | 'single';
  /** For people. */
  name: string;
  folder: string;
  trackIds: number[];
  /** What to ask the catalogue for. */
  query: { artist: string; album: string; title: string };
}

const DISC = /^(?:cd|disc|disk|side)[ _-]?[0-9a-d]{1,2}$/i;

/** The folder of an album: folders of single discs count as the one above. */
function albumFolder(path: string): string {
  const parts = path.split('/').slice(0, -1);
  if (parts.length > 1 && DISC.test(parts.at(-1)!)) parts.pop();
  return parts.join('/');
}

/** So many numbered names without an album in one folder are an album. */
const MIN_NUMBERED = 3;

/** @param tearApart takes every track as a single */
export function clusterTracks(tracks: readonly LookedUp[], tearApart = false): Cluster[] {
  if (tearApart) return tracks.map(single);
  const folders = new Map<string, LookedUp[]>();
  for (const t of tracks) {
    const key = refKey({ rootId: t.rootId, path: albumFolder(t.path) });
    folders.set(key, [...(folders.get(key) ?? []), t]);
  }
  return [...folders.values()].flatMap((all) => {
    const folder = albumFolder(all[0]!.path);
    const albums = new Map<string, LookedUp[]>(),
      loose: LookedUp[] = [];
    for (const t of all) {
      const key = nameKey(t.album);
      if (key) albums.set(key, [...(albums.get(key) ?? []), t]);
      else loose.push(t);
    }
    const numbers = loose.map((t) => t.trackNumber ?? numberOf(t.path)).filter((n): n is number => n !== null);
    const only = [...albums.values()];
    // Tracks that lost their tags lie beside those that have them, or are an album by their numbers.
    if (loose.length && only.length === 1 && only[0]!.length >= loose.length && numbers.length === loose.length)
      only[0]!.push(...loose.splice(0));
    if (loose.length >= MIN_NUMBERED && new Set(numbers).size === loose.length) only.push(loose.splice(0));
    return [
      ...only.flatMap((group) => (group.length === 1 ? [single(group[0]!)] : [album(folder, group)])),
      ...loose.map(single),
    ];
  });
}

const numberOf = (path: string): number | null => {
  const [first] = nameParts(stemOf(path), 'loose');
  return first?.shape === 'number' ? Number(first.text) : null;
};

function album(folder: string, tracks: LookedUp[]): Cluster {
  const owner = commonest(tracks.map((t) => t.albumArtist)),
    artists = tracks.map((t) => t.artists[0] ?? '').filter(Boolean);
  const shared = commonest(artists),
    several = new Set(artists.map(nameKey)).size > Math.max(1, tracks.length / 2);
  const folderParts = nameParts(folder.split('/').at(-1) ?? '', 'strict')
    .filter((p) => p.shape === 'text')
    .map((p) => p.text);
  const title = commonest(tracks.map((t) => t.album)) || folderParts.at(-1) || '';
  const artist = owner || (several ? '' : shared) || (folderParts.length > 1 ? folderParts[0]! : '');
  return {
    kind: 'album',
    name: [artist || (several ? 'Various' : ''), title].filter(Boolean).join(' – ') || folder,
    folder,
    trackIds: tracks.map((t) => t.id),
    query: { artist, album: title, title: '' },
  };
}

function single(t: LookedUp): Cluster {
  const texts = nameParts(stemOf(t.path), 'loose')
    .filter((p) => p.shape === 'text')
    .map((p) => p.text);
  const title = t.title || texts.at(-1) || '',
    artist = t.artists.join(' ') || (texts.length > 1 ? texts[0]! : '');
  return {
    kind: 'single',
    name: [artist, title].filter(Boolean).join(' – ') || t.path,
    folder: albumFolder(t.path),
    trackIds: [t.id],
    query: { artist, album: t.album, title },
  };
}
