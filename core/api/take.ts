/** Looking through another collection, and taking tracks and lists of it. */
import type { PutNames } from '../files/put.ts';
import type { FieldValue } from '../fields/values.ts';
import type { TakeOver } from '../take/taken.ts';

/** What can be looked through: "destination:3", "pool", "list:/media/stick/early.m3u8". */
export type SourceKey = string;

export interface SourceLine {
  key: SourceKey;
  name: string;
  what: string;
  /** Why it cannot be read now. */
  trouble: string | null;
}

export const TAKE_STATES = ['new', 'here', 'not found'] as const;
/** A track is not here, in the library already, or not here and its file cannot be found. */
export type TakeState = (typeof TAKE_STATES)[number];

export interface TakeRow {
  id: string;
  values: Record<string, FieldValue>;
  /** Where its file lies on this machine; null where none does yet. */
  path: string | null;
  state: TakeState;
  /** The track of the library that it is. */
  here: { trackId: number; name: string } | null;
}

export interface TakeList {
  id: string;
  name: string;
  place: string[];
  tracks: number;
  /** Tracks of it that are not here. */
  fresh: number;
}

export interface TakeQuestion {
  source: SourceKey;
  /** Null: all of its tracks. */
  list: string | null;
  find: string;
  /** Null: any. */
  state: TakeState | null;
  sort: { field: string; descending: boolean } | null;
  /** What has been chosen so far: it is counted. */
  basket: { tracks: string[]; lists: string[] };
}

export interface TakeLook {
  source: SourceKey;
  name: string;
  what: string;
  /** Its files lie on this machine, and can be taken in where they are. */
  onThisMachine: boolean;
  /** What its lists become here. */
  listKind: 'crate' | 'playlist';
  lists: TakeList[];
  /** Tracks of all of it, by what they are. */
  counts: Record<TakeState, number>;
  /** As many as are asked for, at most so many. */
  rows: TakeRow[];
  /** So many more are not shown. */
  more: number;
  problems: { where: string; reason: string }[];
  /** Tracks in the basket, each once, and how many of them are not here. */
  basket: { tracks: number; fresh: number };
  /** Tracks in whose comments energy or moods are found. */
  inComments: number;
}

export interface TakeWish {
  source: SourceKey;
  tracks: string[];
  /** Lists that come over, with their tracks. */
  lists: string[];
  /** Null: files are taken in where they lie. */
  copy: { rootId: number; into: string; names: PutNames } | null;
  over: TakeOver;
  fromComments: boolean;
  /** New tracks are cleaned by it. */
  presetId: number | null;
  /** A crate that they are put into, made where there is none of that name. */
  crate: string | null;
}

/** What a run that takes tracks reports. */
export interface TakeReport {
  /** New tracks. */
  taken: number;
  /** Such that were here already. */
  linked: number;
  /** Of these, such that were recognised by their sound alone. */
  bySound: number;
  failed: number;
  /** The first of those that were not taken, with the reason. */
  told: { path: string; reason: string }[];
  lists: number;
  /** What came over as a change that can be undone. */
  changeSetId: number | null;
  cleaned: { preset: string; tracks: number; changeSetId: number | null; asked: number; left: string[] } | null;
}
