/** Songs whose names are written in many habits; from our own scenario. */
export interface Song {
  artist: string;
  title: string;
  album: string;
  year: number;
  n: number;
  disc: number;
  code: string;
  label: string;
}
const ARTISTS = [
  'Odette Kassar',
  'Keel Nine',
  'Marrow & Pine',
  'Brine Choir',
  'Vesna Rook',
  'Low Tide Assembly',
  'Pell & Harrow',
  'Net Loft Seven',
  'Mabel Orr',
  'Tar Barrel',
];
const TITLES = [
  'Slack Water',
  'Oilskin Lamps',
  'Dry Dock',
  'Bladderwrack Cuts',
  'Half a Mile of Rope',
  'First Bell Ashore',
  'Beacon Pan',
  'Salt on the Fader',
  'Tin Shed Rain',
  'Neon Groyne',
  '99 Buoys',
  'Tollgate',
  'Winter Coat',
  'Foghorn Study',
  'Night Ferry',
  'Rope Walk',
  'Post Office Steps',
  'Coal Boat',
  'Nine Steps Down',
  'Low Cloud',
  'Cable Bay',
  'Moorings',
  'Swell Tally',
  'Chip Paper',
  'The Net Mender',
  'Kelp Line',
  'Lamp Room',
  'Evening Bell',
  'Grey Harbour',
  'Letter from the Lighthouse',
  'Pleamar',
  'Ferry Clerk',
];
const ALBUMS = ['The Boatyard Tapes', 'Harbour Wall', 'Third Tide'];

/** Songs of a folder; the seed decides which. */
export function songsFor(kind: 'album' | 'compilation' | 'loose', seed: number, count = 9): Song[] {
  const pick = <T>(list: readonly T[], i: number): T => list[(i * 7 + seed * 3) % list.length]!;
  return Array.from({ length: count }, (_, i) => ({
    artist: kind === 'album' ? pick(ARTISTS, 0) : ARTISTS[(i * 3 + seed) % ARTISTS.length]!,
    title: TITLES[(i + seed) % TITLES.length]!,
    album: pick(ALBUMS, 0),
    year: kind === 'loose' ? 1990 + ((i * 5 + seed) % 34) : 2014,
    n: i + 1,
    disc: 1,
    code: `TRN${String(100 + i + seed)}`,
    label: 'Tarn Recordings',
  }));
}
export const KNOWN = ARTISTS;
