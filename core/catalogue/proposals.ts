/** What a release would put into the fields of a track, by a choice per field. */
import { goesIn, type ChosenPolicy } from '../fields/merge.ts';
import { isEmpty, sameValue, type FieldValue, type TrackValues } from '../fields/values.ts';
import type { CatalogueTrack, Release } from './releases.ts';

/** Fields that a catalogue can fill. */
export const CATALOGUE_FIELDS = [
  'title',
  'version',
  'artist',
  'album',
  'albumArtist',
  'trackNumber',
  'discNumber',
  'year',
  'genre',
  'label',
  'catalogueNumber',
  'isrc',
] as const;
export type CatalogueField = (typeof CATALOGUE_FIELDS)[number];
export interface Policies {
  fields: Record<CatalogueField, ChosenPolicy>;
  genres: 'genre' | 'sub-genre' | 'both';
}

export const DEFAULT_POLICIES: Policies = {
  fields: Object.fromEntries(CATALOGUE_FIELDS.map((f) => [f, 'fill gaps'])) as Policies['fields'],
  genres: 'sub-genre',
};
/** Only year and genre; `clear` writes over what is there. */
export const fillerPolicies = (fields: readonly CatalogueField[], clear: boolean): Policies => ({
  fields: Object.fromEntries(
    CATALOGUE_FIELDS.map((f) => [f, fields.includes(f) ? (clear ? 'replace' : 'fill gaps') : 'keep']),
  ) as Policies['fields'],
  genres: 'sub-genre',
});

/** Values as a line of a release says them. */
export function valuesOf(
  release: Release,
  line: CatalogueTrack,
  { genres }: Pick<Policies, 'genres'>,
): Record<CatalogueField, FieldValue> {
  const main = release.genres.map((g) => g.genre),
    sub = release.genres.flatMap((g) => g.subGenres);
  const wanted = genres === 'genre' ? main : genres === 'sub-genre' ? (sub.length ? sub : main) : [...main, ...sub];
  return {
    title: line.title,
    version: line.version,
    artist: line.artists.length ? line.artists : release.artists,
    album: release.title,
    albumArtist: release.artists.join(', ') || null,
    trackNumber: line.number,
    discNumber: release.tracks.some((t) => t.disc > 1) ? line.disc : null,
    year: release.year,
    genre: wanted.length ? [...new Set(wanted)] : null,
    label: release.label,
    catalogueNumber: release.catalogueNumber,
    isrc: line.isrc,
  };
}

export interface Proposal {
  field: CatalogueField;
  ours: FieldValue;
  theirs: FieldValue;
  /** It would be taken. */ taken: boolean;
  locked: boolean;
}

/** Fields in which track and line differ. What the release does not know changes nothing. */
export function proposals(
  values: TrackValues,
  locked: readonly string[],
  release: Release,
  line: CatalogueTrack,
  policies: Policies,
): Proposal[] {
  const theirs = valuesOf(release, line, policies);
  return CATALOGUE_FIELDS.flatMap((field) => {
    const ours = values[field] ?? null,
      theirValue = theirs[field];
    if (isEmpty(theirValue) || sameValue(ours, theirValue)) return [];
    const isLocked = locked.includes(field);
    return [
      {
        field,
        ours,
        theirs: theirValue,
        locked: isLocked,
        taken: !isLocked && goesIn(ours, policies.fields[field]),
      },
    ];
  });
}
