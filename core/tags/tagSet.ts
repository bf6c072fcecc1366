/** What every kind of tag and every container offers to those who change fields. */
import type { TagNames } from '../fields/table.ts';
import type { Splice } from './bytes.ts';

export interface Picture {
  mime: string;
  data: Uint8Array;
}

/** One set of tags in a file. Names are those of its family; how they are spelled in the file is kept. */
export interface TagSet {
  readonly family: keyof TagNames;
  /** As said to people: "ID3v2.3". */
  readonly label: string;
  /** Texts under a name; null when it holds none that can be read. */
  get(name: string): string[] | null;
  /** Puts texts where the name stands, or behind everything; no texts take it away. */
  set(name: string, texts: readonly string[]): void;
  /** Which of a field's names a new item gets; null when this kind of tag has no place for it. */
  place(names: readonly string[]): string | null;
  /** Front cover; null when there is none, undefined when this kind of tag holds none. */
  picture?(): Picture | null;
  setPicture?(picture: Picture | null): void;
}

/** A file taken apart. */
export interface Container {
  /** As said to people: "MP3". */
  readonly label: string;
  /** Sets of tags, the one that counts first; it is made when something is put into it. */
  readonly sets: readonly TagSet[];
  /** Where the sound lies, which no splice touches. */
  readonly audio: readonly { from: number; to: number }[];
  /** What has to change in the file for all that was set. */
  splices(): Splice[];
}
