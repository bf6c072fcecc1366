/** What the page is told of scans and of archives. */
import type { ScanPart } from '../conditions/condition.ts';
import type { TrackValues } from '../fields/values.ts';

/** A file in an archive. */
export interface ArchiveEntry {
  /** As the archive names it. */
  name: string;
  /** Bytes when unpacked. */
  size: number;
  /** Why it is left in the archive; null when it is unpacked. */
  why: string | null;
}
export interface ArchiveListing {
  entries: ArchiveEntry[];
  /** What is unpacked. */
  files: number;
  bytes: number;
  /** Folder below the library folder into which it is unpacked. */
  into: string;
  /** Why nothing can be unpacked; null when something can. */
  trouble: string | null;
}
/** What a run that unpacked an archive reports. */
export interface UnpackReport {
  unpacked: number;
  left: number;
  /** Folder below the library folder; null when nothing was unpacked. */
  into: string | null;
}

/** What was done to the tracks that a scan took in. */
export interface NewFilesReport {
  cleaned?: {
    preset: string;
    tracks: number;
    changeSetId: number | null;
    /** Tracks about which the steps ask: they are as they were. */
    asked: number;
    /** Why steps did nothing. */
    left: string[];
  };
  put?: { files: number; changeSetId: number };
  newFilesTrouble?: string;
}

/** What a scan came to, and what has become of its tracks since. */
export interface ScanFigures {
  id: number;
  title: string;
  /** The library folder; null when it is none any more. */
  root: string | null;
  startedAt: string;
  /** How long it took; null while it runs. */
  seconds: number | null;
  /** Files that were looked at; null when it did not come so far. */
  found: number | null;
  /** Tracks that it found so, and how many of them are in the library still. */
  parts: Partial<Record<ScanPart, { tracks: number; here: number }>>;
  /** Of those that were taken in and are here still: how far measuring is, and how many are duplicates. */
  since: { measured: number; waiting: number; failed: number; duplicates: number };
  /** Files that were not taken; those of which the scan before had not said so, and the first of them. */
  notTaken: number;
  newlyRefused: number;
  newFiles: NewFilesReport;
  refused: { path: string; reason: string }[];
}

/** A file of a folder that is looked through before anything of it is taken. */
export interface LookLine {
  /** Below the folder. */
  path: string;
  size: number;
  /** What its tags say, and how it is made. */
  values: TrackValues;
  /** Fields that are empty, by their names. */
  lacks: string[];
  /** Where the library holds the same bytes. */
  here: string | null;
  /** Why it cannot be taken. */
  trouble: string | null;
}
export interface FolderLook {
  /** The folder as it is resolved. */
  path: string;
  lines: LookLine[];
  /** What is not music, with the reason. */
  others: { path: string; reason: string }[];
  /** Music files that were not looked at, since there are so many. */
  more: number;
}
/** What copying from outside came to. */
export interface CopyReport {
  copied: number;
  /** Such that lay there already, with the same bytes. */
  here: number;
  /** Such that no rule names: they keep their names. */
  unnamed: number;
  failed: number;
  /** The first of those that were not copied, with the reason. */
  told: { path: string; reason: string }[];
}
