/** What drafts are compared with: tracks, lists, dates, files and roots as they are, in memory. */
import type { Held, TrackValues } from '../fields/values.ts';
import type { FileRef } from '../files/fileRef.ts';

/** Field id to where its value comes from. */
export type Origins = Record<string, Omit<Held, 'value' | 'locked'> & { locked?: boolean }>;

export interface TrackState {
  values: TrackValues;
  origins: Origins;
  /** Hash of the front cover, null for none. */
  artHash: string | null;
}

export interface ListInfo {
  kind: ListKind;
  name: string;
  parentId: string | null;
  /** Order among its siblings. */
  position: number;
  /** Put away; can be restored. */
  removed: boolean;
  /** Time of day at which a playlist starts, "20:00". */
  startsAt: string | null;
  /** The wished shape of a playlist (core/arrange/shape). */
  shape: string | null;
  /** By which a crate fills itself (core/conditions/rule); null for lists that are filled by hand. */
  rule: string | null;
  /** A colour by which it is known again, one of MARK_COLOURS. */
  colour: string | null;
  note: string | null;
  /** How long a playlist is wished to be, in seconds. */
  wishedSeconds: number | null;
  /** The crate that is kept at hand beside a playlist, for requests. */
  reserveId: string | null;
  /** Of the topmost crate of a folder mirror: how it follows the folders (core/arrange/mirror). */
  mirror: string | null;
  /** The topmost crate of the mirror to which a crate belongs; its own id for that one. */
  mirrorOf: string | null;
  /** The format clock that a clock is, or by which an hour was made: an hour keeps its own (core/hours/kept). */
  clock: string | null;
  /** When an hour begins, in seconds since 1970. */
  onAirAt: number | null;
}
export const LIST_KINDS = ['crate', 'playlist', 'hour', 'clock'] as const;
/** A clock is a format clock, the template of hours. */
export type ListKind = (typeof LIST_KINDS)[number];

/** What stands in a list: a track, or something between tracks. */
export const ENTRY_KINDS = ['track', 'pause', 'open slot', 'link', 'note', 'jingle', 'spoken'] as const;
export type EntryKind = (typeof ENTRY_KINDS)[number];

/** What an entry carries besides its track; everything may be left out. Times in seconds. */
export interface EntryData {
  /** What a link, note or slot says. */
  text?: string;
  /** Length of a pause, link or slot; of a track where it is not its own. */
  seconds?: number;
  /** Stays where it is when others are put in order. */
  pinned?: boolean;
  /** Own start and end inside the track. */
  from?: number;
  to?: number;
  /** So long it plays over the next; in bars where that is said. */
  overlap?: number;
  overlapBars?: number;
  /**
   * Played at the tempo of the one before; or from that to its own, over so many bars. Its own where it is left out.
   */
  tempo?: 'former' | 'ramp';
  rampBars?: number;
  /** Time of day at which it is to begin, "22:30". */
  at?: string;
  remark?: string;
  /** In an hour: begins so many seconds after it; then or later, where `notBefore` is said, else exactly then. */
  fixedAt?: number;
  notBefore?: boolean;
  /** So many of its last seconds lie over the intro of the track that follows. */
  overIntro?: number;
  /** What lies under it. */
  bed?: string;
  /** Which item of the hour's clock it stands for, from 0. */
  slot?: number;
  /** Why a slot stayed open. */
  reason?: string;
  /** Last words of what is spoken. */
  out?: string;
}

export interface Entry {
  id: string;
  kind: EntryKind;
  /** Null where the entry is no track. */
  trackId: number | null;
  data: EntryData;
}
export interface ListState {
  info: ListInfo;
  entries: Entry[];
}

/** A date to prepare for, as it is kept. */
export interface DateInfo {
  name: string;
  kind: 'gig' | 'show';
  /** "2026-11-27", where the desk stands. */
  day: string;
  /** "22:00"; null while it is not known. */
  startsAt: string | null;
  /** The rule by which its tracks are ready. */
  asks: 'floor' | 'playout';
  listIds: string[];
}

export const FILE_STATES = ['here', 'missing', 'away', 'retired'] as const;
/** Here, not found, its drive not there, or in quarantine. */
export type FileState = (typeof FILE_STATES)[number];
export const FILE_ROLES = ['main', 'copy', 'companion'] as const;
export type FileRole = (typeof FILE_ROLES)[number];

export interface TrackFile {
  id: string;
  trackId: number;
  ref: FileRef;
  role: FileRole;
  state: FileState;
  /** Bytes. */
  size: number;
  /** Milliseconds since 1970. */
  modifiedMs: number;
}

export interface RootState {
  path: string;
  label: string;
  purpose: 'library' | 'destination';
  /** Its drive cannot be reached. */
  away: boolean;
  /** As the system names it. */
  fileSystem: string | null;
  /** A number that tells drives apart; null while it is not known. */
  device: string | null;
}

export interface Snapshot {
  tracks: Map<number, TrackState>;
  lists: Map<string, ListState>;
  dates: Map<number, DateInfo>;
  files: Map<string, TrackFile>;
  /** Which file is known at a place (see refKey). */
  places: Map<string, string>;
  roots: Map<number, RootState>;
}

export const emptySnapshot = (): Snapshot => ({
  tracks: new Map(),
  lists: new Map(),
  dates: new Map(),
  files: new Map(),
  places: new Map(),
  roots: new Map(),
});

/** Value and origin of a field together: null when it was never filled, undefined when there is no such track. */
export function heldIn(snapshot: Snapshot, trackId: number, field: string): Held | null | undefined {
  const track = snapshot.tracks.get(trackId);
  if (!track) return undefined;
  const known = track.origins[field];
  return known
    ? { value: track.values[field] ?? null, origin: known.origin, at: known.at, locked: known.locked ?? false }
    : null;
}
