/** What a catalogue knows of releases, in the shape in which it is compared with tracks. */

export interface CatalogueTrack {
  disc: number;
  number: number;
  title: string;
  version: string | null;
  artists: string[];
  seconds: number | null;
  isrc: string | null;
}

export interface Release {
  id: string;
  title: string;
  artists: string[];
  year: number | null;
  /** Two letters. */
  country: string | null;
  /** What it came out on: "file", "12-inch", "CD" … */
  format: string | null;
  label: string | null;
  catalogueNumber: string | null;
  genres: { genre: string; subGenres: string[] }[];
  credits: { name: string; role: string }[];
  hasPicture: boolean;
  tracks: CatalogueTrack[];
}

/** A track of the library as it is looked up. */
export interface LookedUp {
  id: number;
  rootId: number;
  path: string;
  title: string;
  version: string;
  artists: string[];
  album: string;
  albumArtist: string;
  trackNumber: number | null;
  discNumber: number | null;
  year: number | null;
  seconds: number | null;
}
