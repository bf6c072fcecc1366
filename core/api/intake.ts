/** What the page is told of archives. */

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
