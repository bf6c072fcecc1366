/** What is known of a file: of one that cannot be found, from when it was there, and of one that could be it. */
export interface FileFacts {
  /** Where it lies or lay, with forward slashes. */
  path: string;
  /** Bytes. */
  size: number | null;
  /** SHA-256 of the audio packets, which tags are no part of. */
  audioHash: string | null;
  durationSeconds: number | null;
  artist: string;
  title: string;
  version: string;
  /** As `core/analysis/fingerprint` compares them. */
  fingerprint: Uint32Array | null;
}

/** By what a file was found again. */
export type FoundBy = 'same sound, byte for byte' | 'name and size' | 'sound' | 'name and length' | 'tags and length';

/** A file that could be the one that is looked for. */
export interface Candidate {
  /** Its place among the candidates. */
  at: number;
  by: FoundBy;
  /** 0 … 1. */
  sure: number;
  /** Seconds by which the recording begins later in the file than it did (negative: earlier). */
  offsetSeconds: number;
}

/** A file of the same name or tags that is another recording, or another version of it. */
export interface Other {
  at: number;
  why: 'another recording' | 'another length';
}

export interface FoundAgain {
  /** What is proposed; null where nothing is sure enough. */
  found: Candidate | null;
  /** What else could be it, the likeliest first. */
  candidates: Candidate[];
  /** What looks like it and is not. */
  others: Other[];
}
