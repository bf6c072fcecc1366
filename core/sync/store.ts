/** What a destination can hold of a track: its values as they would stand there, and what would be lost. */
import { cut } from '../fields/cut.ts';
import { marksOf, marksValue, type Mark } from '../fields/marks.ts';
import { isEmpty, splitList, type FieldValue, type TrackValues } from '../fields/values.ts';
import type { Description } from '../exchange/collection.ts';
import { BUNDLED_FIELDS, GRID_FIELDS, saysNothing } from '../exchange/exchangedFields.ts';

export interface Loss {
  field: string;
  /** What of it stays here, as a sentence without a subject. */
  reason: string;
}

export interface Storable {
  values: Record<string, FieldValue>;
  losses: Loss[];
}

/** Values that stay here where there is no place: told as a loss. Measured ones, which everybody has, are not. */
const TOLD = new Set(['cover', ...BUNDLED_FIELDS]);
const NOT_TOLD = new Set<string>([
  ...['timesUsed', 'lastUsed', 'cover', ...GRID_FIELDS],
  ...['albumArtist', 'composer', 'catalogueNumber', 'isrc', 'hearLater'],
]);
/** All fields that have to be known of a track to be compared, besides its cover, which is none. */
export const COMPARED_FIELDS = [...TOLD, 'format', 'durationSeconds'].filter((field) => field !== 'cover');

/** Does it keep such a field? */
export function hasPlace(field: string, about: Description): boolean {
  if (field === 'cues') return about.cues !== null || about.loops !== null;
  if ((GRID_FIELDS as readonly string[]).includes(field)) return about.grid;
  if (field === 'cover') return about.covers !== null;
  return field in about.fields;
}

const placed = new WeakMap<Description, readonly string[]>();
/** The fields that it has a place for, and 'cover', the hash of a picture, where it keeps pictures. */
export function placedFields(about: Description): readonly string[] {
  const known = placed.get(about);
  if (known) return known;
  const fields = [...BUNDLED_FIELDS, 'cover'].filter((field) => hasPlace(field, about));
  placed.set(about, fields);
  return fields;
}

/**
 * The values that a destination would hold for a track, and what of it stays here.
 * @param first cues that stand there, or stood there: they have the first claim to its room
 */
export function storable(values: TrackValues, about: Description, first: readonly FieldValue[] = []): Storable {
  const kept: Record<string, FieldValue> = {};
  const losses: Loss[] = [];
  for (const field of TOLD) {
    const value = values[field] ?? null;
    if (!hasPlace(field, about)) {
      if (!isEmpty(value) && !NOT_TOLD.has(field)) losses.push({ field, reason: 'no place for it' });
      continue;
    }
    if (field === 'cues' && value !== null) {
      const { marks, lost } = storableMarks(marksOf(value), about, first.flatMap(marksOf));
      kept.cues = marksValue(marks);
      losses.push(...lost.map((reason) => ({ field, reason })));
      continue;
    }
    const stored = storableValue(value, about, field);
    kept[field] = stored;
    if (typeof value === 'string' && typeof stored === 'string' && stored.length < value.length)
      losses.push({ field, reason: `only its first ${about.fields[field]!.maxLength} characters` });
  }
  return { values: kept, losses };
}

function storableValue(value: FieldValue, { fields }: Description, field: string): FieldValue {
  const { maxLength, decimals } = fields[field] ?? {};
  if (saysNothing(field, value)) return null;
  // Names are told apart by semicolons there, each once.
  if (Array.isArray(value)) return splitList(value.join('; '));
  if (typeof value === 'number' && decimals !== undefined) return Number(value.toFixed(decimals));
  if (typeof value === 'string' && maxLength !== undefined) return cut(value, maxLength).trimEnd() || null;
  return value;
}

const count = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

/** Is it the same place, so that it is the same cue? */
const near = (a: Mark, b: Mark): boolean =>
  Math.abs(a.at - b.at) <= 0.003 && (a.end === undefined) === (b.end === undefined);

/**
 * So many cues and loops as it has room for, with what they carry there: the earliest, but those that stand there
 * already before all others.
 */
function storableMarks(
  marks: readonly Mark[],
  about: Description,
  before: readonly Mark[],
): { marks: Mark[]; lost: string[] } {
  const claim = (mark: Mark): number => {
    const at = before.findIndex((other) => near(mark, other));
    return at < 0 ? before.length : at;
  };
  const lost: string[] = [];
  const points = marks.filter((m) => m.end === undefined),
    loops = marks.filter((m) => m.end !== undefined);
  const first = (of: readonly Mark[], place: { max: number } | null, one: string): readonly Mark[] => {
    if (of.length > 0 && !place) lost.push(`no place for ${one}s`);
    if (!place || of.length <= place.max) return place ? of : [];
    lost.push(`only ${count(place.max, one)}`);
    return [...of].sort((a, b) => claim(a) - claim(b)).slice(0, place.max);
  };
  const kept = [...first(points, about.cues, 'cue'), ...first(loops, about.loops, 'loop')];
  const plain = kept.map(({ at, end, name, colour }): Mark => {
    const mark: Mark = { at };
    if (end !== undefined) mark.end = end;
    if (name !== undefined && about.cues?.names) mark.name = name;
    if (colour !== undefined && about.cues?.colours && colour in about.cues.colours) mark.colour = colour;
    return mark;
  });
  return { marks: plain.sort((a, b) => a.at - b.at || (a.end ?? 0) - (b.end ?? 0)), lost };
}

/**
 * Marks here after those of the destination were changed: what it has no place for (further cues, loops, colours,
 * names) stays as it is.
 * @param stored those of here that it has room for
 */
export function takenMarks(
  here: FieldValue,
  stored: readonly Mark[],
  there: FieldValue,
  about: Description,
): FieldValue {
  const own = marksOf(here),
    others = marksOf(there);
  const beyond = own.filter((m) => !stored.some((s) => near(s, m)));
  const richer = others.map((m) => {
    const { name, colour, ...rest } = own.find((o) => near(o, m)) ?? m;
    return {
      ...rest,
      // No name where it could have one: none was wanted there.
      ...(name === undefined || about.cues?.names ? {} : { name }),
      ...(colour === undefined || (about.cues?.colours && colour in about.cues.colours) ? {} : { colour }),
      ...m,
    };
  });
  return marksValue([...beyond, ...richer].sort((a, b) => a.at - b.at || (a.end ?? 0) - (b.end ?? 0)));
}
