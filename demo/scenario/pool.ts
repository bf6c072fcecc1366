/** What the pool offers to the island: new music, with the marks that pools leave in tags. */
import type { TrackSpec } from './tracks.ts';
import { planned, type PlannedTrack } from './plan.ts';

/** artist | title | version | genre | style | bpm | tags | day on which it came */
const ROWS = `
Odette Kassar | Sand Martin | | Deep House | deepHouse | 122.4 | promo | 2026-11-24
Keel Nine | Harbour Light, Off | Extended | House | house | 125 | promo | 2026-11-24
Low Tide Assembly | Cockle Row | | Tech House | house | 126.9 | number-in-title | 2026-11-23
Marrow & Pine | Thole Pin | Club Mix | Nu Disco | disco | 117.6 | promo | 2026-11-23
Iri Vane | Undertow Letters | | Drum & Bass | drumAndBass | 173.2 | underscores | 2026-11-21
Hal Sorrow | Gannet | VIP | Drum & Bass | drumAndBass | 175 | promo | 2026-11-21
Nadir Quay | Ticket Hall | | UK Garage | twoStep | 132.3 | promo | 2026-11-20
Pell & Harrow | Slate Roof | Night Mix | Electro | electro | 129.1 | upper | 2026-11-19
Ines Tarn | Last Bus, Again | Instrumental | Hip-Hop | hipHop | 91.7 | promo | 2026-11-18
The Copper Gate | Salt Windows | | Disco | disco | 115.2 | promo | 2026-11-18
Vesna Rook | Tar and Twine | Radio Edit | Indie Dance | disco | 120.8 | artist-in-title | 2026-11-17
Brine Choir | Low Pilot | Dub | Downtempo | dub | 95.3 | promo | 2026-11-14
`;

export interface PoolPlan extends PlannedTrack {
  id: string;
  added: string;
}

/** A row of such a table; what it is called as a file is for the caller to say. */
export function specOf(row: string, folder: string, nameOf: (spec: TrackSpec) => string): TrackSpec & { rest: string } {
  const [artist = '', title = '', version = '', genre = '', style, bpm, tags, rest = ''] = row
    .split('|')
    .map((part) => part.trim());
  const spec: TrackSpec = {
    ...{ artist, title, version, genre, album: '', year: 2026, bpm: Number(bpm), format: 'mp3', folder, name: '' },
    style: style as TrackSpec['style'],
    tags: tags as TrackSpec['tags'],
  };
  return { ...spec, name: nameOf(spec), rest };
}

export const POOL: PoolPlan[] = ROWS.trim()
  .split('\n')
  .map((row, i) => {
    const id = `kp${41 + i}`;
    const { rest, ...spec } = specOf(
      row,
      'files',
      ({ title, tags }) =>
        `${tags === 'number-in-title' ? '03_' : ''}${title.toLowerCase().replace(/[^a-z]+/g, '_')}${i % 2 === 0 ? '_promo' : ''}-${id}`,
    );
    return { ...planned(spec, i), id, added: rest };
  });

/** Lists of the pool, by ids of tracks. */
export const POOL_LISTS = [
  { id: 'week-48', name: 'New this week', tracks: POOL.slice(0, 4).map((t) => t.id) },
  { id: 'floor', name: 'For the floor', tracks: POOL.filter((t) => t.bpm > 115 && t.bpm < 135).map((t) => t.id) },
  { id: 'late', name: 'After midnight', tracks: ['kp45', 'kp46', 'kp49', 'kp52'] },
];
