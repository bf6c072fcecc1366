/**
 * What a destination keeps and can keep, in the desk's words. An adapter reads its data into a `Collection` and writes
 * `OtherChanges` into it; all that a destination cannot store, and every limit, comes from its `Description` alone.
 */
import type { FieldValue } from '../fields/values.ts';

/** What a destination can store of one field. */
export interface FieldLimits {
  /** Characters at most. */
  maxLength?: number;
  /** Of numbers. */
  decimals?: number;
  /** Stars are kept as a number from 0 to this. */
  scale?: number;
  /** It has no place of its own for it: it stands in front of the comment. */
  inComment?: true;
  /** Counted by the destination while it plays: counts are added up, dates go to the later one. */
  counted?: true;
  /** Found out by the destination itself, so that what stands there is nobody's word. */
  measured?: true;
}

export interface Description {
  kind: string;
  name: string;
  what: string;
  /** Nothing is ever written there. */
  readOnly?: true;
  /** Fields that it has a place for; others stay here. */
  fields: Readonly<Record<string, FieldLimits>>;
  /** How it spells the 24 keys; others are read where they are spelt in any common way. */
  keys: KeyTable;
  /** How many cues a track has, and what each carries. */
  cues: { max: number; names: boolean; colours: Readonly<Record<string, string>> | null } | null;
  /** How many loops. */
  loops: { max: number } | null;
  /** It keeps first bar and beats a bar. */
  grid: boolean;
  lists: {
    /** What its lists are here. */
    kind: 'crate' | 'playlist';
    /** How deep they nest, themselves included; null: without end. */
    depth: number | null;
    maxName: number;
    /** A track may stand in a list more than once. */
    repeats: boolean;
    /** What they lie in are folders of the drive, named as such. */
    folders: boolean;
  };
  /** How it says where a file lies. */
  paths: string;
  /** It says when each value was changed. */
  keepsTimes: boolean;
  /** By so much later than here (seconds) the same place of a file lies there, by format. */
  decoderOffset: Readonly<Record<string, number>>;
  mustBeClosed: boolean;
  /** It keeps pictures of its own, as PNG, of at most so many pixels a side; null: it shows those in the files. */
  covers: { maxPixels: number } | null;
  /** It wants files of its own, apart from the library's. */
  ownCopies: boolean;
}

/** A track as a destination keeps it. */
export interface OtherTrack {
  id: string;
  /** Whole path, with forward slashes. */
  path: string;
  /** The desk's fields; times in seconds as they are there. */
  values: Record<string, FieldValue>;
  /** When each was changed, where it says so. */
  times: Record<string, string>;
  /** Another one as soon as anything of it is written otherwise; without it, a track is compared in full each time. */
  print?: string;
  /** A hash of its sound, as the library keeps it, where it says so. */
  sound?: string;
}

export interface OtherList {
  id: string;
  name: string;
  /** Names of what it lies in, the topmost first. */
  place: string[];
  trackIds: string[];
  /** What it is here, where that is not the same for all. */
  kind?: 'crate' | 'playlist';
}

export interface Collection {
  tracks: OtherTrack[];
  lists: OtherList[];
  /** What could not be read, and where. */
  problems: { where: string; reason: string }[];
}

/** What is to be written there. */
export interface OtherChanges {
  tracks: { id: string; path?: string; values: Record<string, FieldValue> }[];
  newTracks: OtherTrack[];
  lists: { id: string; name?: string; place?: string[]; trackIds?: string[] }[];
  newLists: OtherList[];
  removedLists: string[];
}

export const NO_CHANGES: OtherChanges = { tracks: [], newTracks: [], lists: [], newLists: [], removedLists: [] };

/** How each of the 24 keys is spelt, by the key as the desk writes it. */
export type KeyTable = Readonly<Record<string, string>>;

/** The data of a destination: names of files within its data folder, with forward slashes, and what stands in them. */
export type DataFiles = ReadonlyMap<string, string>;

/** How one destination's data are read and written. Pure: files come in as texts and go out as texts. */
export interface Format {
  describe: Description;
  /**
   * @param folder whole path of the data folder: some paths are relative to it
   * @param keys how keys are spelt there, where that is not as described
   */
  read(files: DataFiles, folder: string, keys?: KeyTable): Collection;
  /**
   * The files that change with their new text; null: the file goes. What nobody has changed stays as it is written.
   * @throws RangeError where something in a file that has to be rewritten cannot be read, and would be lost
   */
  write(
    files: DataFiles,
    changes: OtherChanges,
    folder: string,
    at: string,
    keys?: KeyTable,
  ): Map<string, string | null>;
  /** An id for what is new there. */
  newTrackId(path: string, taken: ReadonlySet<string>, folder: string): string;
  /** The id of a track whose file lies elsewhere by now, where ids follow from places. */
  movedId?(path: string, folder: string): string;
  newListId(taken: ReadonlySet<string>): string;
}
