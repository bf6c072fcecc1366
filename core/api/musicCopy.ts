/** A copy of the music on another drive, as it goes over the wire. */

export interface MusicCopySettings {
  /** Where it lies; null: there is none. */
  folder: string | null;
  /** Brought up to date with the daily backup. */
  daily: boolean;
  /** Library folders that are not copied. */
  leftOut: number[];
}

/** What the last run came to, for one library folder. */
export interface CopiedRoot {
  rootId: number;
  label: string;
  /** As they were. */
  same: number;
  copied: number;
  /** Changed here, and replaced there. */
  replaced: number;
  renamed: number;
  /** Changed here in sound: what lay there is set aside. */
  setAside: number;
  failed: number;
  /** Why it was passed over as a whole. */
  trouble: string | null;
}

export interface MusicCopyReport {
  roots: CopiedRoot[];
  bytes: number;
  /** Of those that failed, as many as are told. */
  told: { path: string; reason: string }[];
}

export interface MusicRootLine {
  rootId: number;
  label: string;
  path: string;
  left: boolean;
  /** On the copy. */
  files: number;
  bytes: number;
}

/** A file on the copy that is not what the folder has. */
export interface CopyExtra {
  id: string;
  rootId: number;
  root: string;
  path: string;
  size: number;
  /** Gone here; or set aside there, to be deleted. */
  state: 'gone' | 'aside';
  since: string;
}

export interface MusicCopyHere {
  settings: MusicCopySettings;
  /** Null when it can be written to. */
  trouble: string | null;
  sameDrive: boolean;
  freeBytes: number | null;
  roots: MusicRootLine[];
  extras: CopyExtra[];
  /** There are more than are listed. */
  more: boolean;
}
