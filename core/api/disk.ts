/** What the page is told of files and folders. */
import type { Section } from '../analysis/structure/sections.ts';
import type { DuplicateGroup } from '../duplicates/groups.ts';
import type { SpaceNode } from '../space/space.ts';
import type { FoundBy, Other } from '../relink/facts.ts';

/** A track whose file cannot be found. */
export interface NotFoundLine {
  trackId: number;
  title: string;
  artist: string;
  version: string;
  rootId: number;
  /** The name of its root. */
  root: string;
  /** Where it lay below it. */
  path: string;
  /** Since when it is not found, as a moment. */
  since: string;
  size: number;
  /** Names of lists that hold it. */
  lists: string[];
  /** The next date that plays it: its name and day. */
  date: { name: string; day: string } | null;
}
export interface NotFound {
  lines: NotFoundLine[];
  /** Roots whose drive is not there: nothing in them counts as not found. */
  away: { rootId: number; root: string; path: string; since: string }[];
}

/** A file that a track that is not found could be. */
export interface FoundFile {
  /** The track that it is in the library now. */
  trackId: number;
  rootId: number;
  root: string;
  path: string;
  by: FoundBy | 'path map';
  /** 0 … 1. */
  sure: number;
  /** Seconds by which its sound begins later than it did. */
  offsetSeconds: number;
}
export interface FoundLine {
  trackId: number;
  found: FoundFile | null;
  /** What else could be it. */
  candidates: FoundFile[];
  /** What looks like it and is not. */
  others: { trackId: number; path: string; why: Other['why'] }[];
}

/** A path map tried out. */
export interface MapTried {
  /** Tracks not found that lay below its beginning. */
  below: number;
  lines: FoundLine[];
}

/** A file of a group of duplicates, with what is compared of it. */
export interface DuplicateFile {
  trackId: number;
  title: string;
  artist: string;
  version: string;
  rootId: number;
  /** The name of its root, and the folder below it. */
  root: string;
  folder: string;
  path: string;
  /** Bytes. */
  size: number;
  format: string;
  codec: string;
  /** kbit/s, Hz, Hz, seconds, LUFS */
  bitrate: number | null;
  sampleRate: number | null;
  bandwidthHz: number | null;
  durationSeconds: number | null;
  lufs: number | null;
  soundsReencoded: boolean;
  /** Names of lists that hold it. */
  lists: string[];
  cues: number;
  /** Names of the fields that are asked for and not filled; how many are filled at all. */
  lacks: string[];
  filled: number;
  addedAt: string;
  /** As they were measured. */
  sections: Section[];
}
export interface DuplicateGroupLine extends DuplicateGroup {
  files: DuplicateFile[];
}
export interface Duplicates {
  groups: DuplicateGroupLine[];
  /** Such of which somebody said that they are no duplicates. */
  parted: DuplicateGroupLine[];
  /** Measured tracks that were not compared yet. */
  waiting: number;
  /** Tracks that an earlier engine measured, too coarsely to be compared. */
  earlier: number;
}
interface PlacedTrack {
  trackId: number;
  title: string;
  artist: string;
  rootId: number;
  /** The name of its root. */
  root: string;
  /** Where it lies below it. */
  path: string;
}
/** A file that does not lie where its naming rule wants it. */
export interface OutOfPlaceLine extends PlacedTrack {
  album: string;
  wanted: string;
  /** The name of the rule. */
  rule: string;
  /** Another has or wants the name too. */
  numbered: boolean;
}
export interface OutOfPlace {
  /** What is out of place; of very many the first, and how many there are. */
  lines: OutOfPlaceLine[];
  elsewhere: number;
  /** What cannot be named or moved, and why; and how many there are. */
  troubles: (PlacedTrack & { why: string })[];
  unnamed: number;
  right: number;
  /** Why the rules cannot be used; null when they can. */
  trouble: string | null;
}

/** What moving or copying files into a folder would do. */
export interface PutLook {
  files: number;
  /** Such whose name is taken there. */
  numbered: number;
  skipped: number;
  /** Such that lie there already. */
  right: number;
  /** Such that no rule names. */
  unnamed: number;
  /** What names them at their present places, as exported playlists, the latest first; of how many files. */
  given: { name: string; files: number }[];
  /** To be written; and how many are free there, where that is known. */
  bytes: number;
  free: number | null;
}
/** Something in a library folder that is no music. */
export interface OtherFile {
  what: 'file' | 'folder';
  rootId: number;
  root: string;
  /** The drive of its root is not there. */
  away: boolean;
  path: string;
  /** What it is, in words. */
  reason: string;
  size: number;
  modifiedMs: number;
}
export interface Others {
  lines: OtherFile[];
  /** There are more than are listed. */
  more: boolean;
}

/** A file that lies in its root's quarantine. */
export interface QuarantinedFile {
  fileId: string;
  /** The track that it belongs to, or that it was made one with; null for what is no music. */
  trackId: number | null;
  title: string;
  artist: string;
  rootId: number;
  root: string;
  /** The drive of its root is not there. */
  away: boolean;
  /** Where it lies now, and where it lay; null where that is no longer known. */
  path: string;
  from: string | null;
  size: number;
  since: string;
  /** Milliseconds since 1970; 0 for files of tracks. */
  modifiedMs: number;
  /** Its track has no other file. */
  main: boolean;
  /** What it is, where it is no music. */
  reason: string | null;
}
export interface Quarantine {
  files: QuarantinedFile[];
  bytes: number;
}
export interface Emptied {
  files: number;
  bytes: number;
  /** What could not be thrown away, and why. */
  left: { path: string; reason: string }[];
}

/** Where the space goes, and the lists that count where it is asked for use. */
export interface Space {
  top: SpaceNode;
  listIds: string[];
}

/** What putting files into quarantine would do. */
export interface RetireLook {
  files: number;
  bytes: number;
  /** Tracks of these that a list holds. */
  listed: number;
}

/** What a run that looked for duplicates reports. */
export interface CompareReport {
  compared: number;
  pairs: number;
  /** Of the tracks compared: such as were here already, and how many of those are better than what was here. */
  here: number;
  better: number;
}
/** A group as it is to be settled. */
export interface SettledGroup {
  keep: number;
  go: number[];
}
