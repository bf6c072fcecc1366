/** Names of files that are built alike, and what their parts mean. */
import type { FileRef } from '../files/fileRef.ts';
import type { KnownNames } from './known.ts';
import type { NamePart, Separators } from './nameParts.ts';

export type Meaning =
  | 'artist'
  | 'title'
  | 'album'
  | 'albumArtist'
  | 'version'
  | 'trackNumber'
  | 'discAndTrack'
  | 'year'
  | 'catalogueNumber'
  | 'label'
  | 'nothing'
  | 'undefined';

export interface NamedFile extends FileRef {
  id: number;
}

export interface NameGroup {
  /** Stays the same while the files do: root, folder and build. */
  key: string;
  rootId: number;
  folder: string;
  pattern: Meaning[];
  /** Parts of each name, in the pattern's order. */
  members: { id: number; stem: string; parts: string[] }[];
  /** 0 … 1. */
  sure: number;
  /** Why, in words. */
  reason: string;
  /** Somebody has said what the parts mean, or split the names. */
  byHand: boolean;
}

/** Less confidence than this is not enough to apply a pattern without asking. */
export const SURE = 0.8;

/** Is a pattern to be looked at before it is applied? */
export const needsLook = ({ sure, pattern }: Pick<NameGroup, 'sure' | 'pattern'>): boolean =>
  sure < SURE || pattern.includes('undefined');

/** Why a pattern is asked about. */
export const doubtOf = ({ sure, reason, pattern }: Pick<NameGroup, 'sure' | 'reason' | 'pattern'>): string =>
  pattern.includes('undefined')
    ? 'A part of its file name is undefined'
    : `How its file name is built is unsure (confidence ${sure.toFixed(2)}: ${reason})`;

export interface NameOptions {
  separators: Separators;
  /** Also take what folder names say: "Artist - Album", "Artist/Album". */
  folders: boolean;
  /** Patterns chosen by hand: group key to meanings. */
  patterns?: Readonly<Record<string, readonly Meaning[]>>;
  /** Names split by hand: track id to parts. */
  splits?: Readonly<Record<number, readonly string[]>>;
  /** Meanings chosen for single names: track id to meanings. */
  rows?: Readonly<Record<number, readonly Meaning[]>>;
}

/** A name taken apart. */
export interface Split {
  id: number;
  stem: string;
  parts: NamePart[];
}

/** Names that the library knows, and what of it was asked before. */
export interface Asked extends KnownNames {
  isArtist: (text: string) => boolean;
  isVersion: (text: string) => boolean;
}

/** What the parts of alike names mean, how sure that is, and why. */
export interface Found {
  pattern: Meaning[];
  sure: number;
  reason: string;
}
