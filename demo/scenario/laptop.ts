/** What lies on the laptop of whoever plays with Plover, and nowhere in the library. */
import type { FieldValue } from '@early-set/core/fields/values';
import { planned, type PlannedTrack } from './plan.ts';
import { specOf } from './pool.ts';

/** artist | title | version | genre | style | bpm | tags | comment, as it stands in Plover */
const ROWS = `
Low Tide Assembly | Mussel Bed | | Techno | techno | 133.4 | full | energy 8; dark
Pell & Harrow | Winch House | Extended | Tech House | house | 127.2 | no-genre | energy 7, driving
Odette Kassar | Sea Fret | | Deep House | deepHouse | 119.6 | underscores | for the first hour
Marrow & Pine | Bread and Tar | | Nu Disco | disco | 116.8 | full | energy 6; warm, playful
Vesna Rook | Two Ferries | Dub | Downtempo | dub | 94.2 | upper | calm
Keel Nine | Stone Pier | VIP | Breakbeat | breakbeat | 136.1 | none | energy 9
`;

/** Where they lie beside the demo's music. */
export const LAPTOP_FOLDER = 'laptop music';

export interface LaptopPlan extends PlannedTrack {
  /** What Plover has of it. */
  values: Record<string, FieldValue>;
}

export const LAPTOP: LaptopPlan[] = ROWS.trim()
  .split('\n')
  .map((row, i) => {
    const { rest, ...spec } = specOf(
      row,
      i % 2 ? 'Bought 2026' : 'From friends',
      ({ artist, title }) => `${artist} - ${title}`,
    );
    const { artist, title, version, genre } = spec;
    return {
      ...planned(spec, 20 + i),
      values: {
        ...{ title, version: version || null, artist: artist.split('; '), genre: [genre], year: 2026, comment: rest },
        ...{ rating: 3 + (i % 3), timesUsed: 2 + i, lastUsed: '2026-11-21T22:00:00Z' },
        cues: JSON.stringify([
          { at: 2, name: 'in', colour: 'tide' },
          { at: 30.5, name: 'break', colour: 'buoy' },
        ]),
      },
    };
  });
