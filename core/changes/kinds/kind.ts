/**
 * What a kind of change has to say of itself. Adding one is a module here, one on the server, and a line in each
 * registry.
 */
import type { FieldValue } from '../../fields/values.ts';
import type { Snapshot } from '../snapshot.ts';

/** Where a change is looked for under Changes. */
export const AREAS = ['fields', 'files', 'lists', 'dates'] as const;
export type Area = (typeof AREAS)[number];

export interface BaseItem {
  kind: string;
}

/** What one item is about; the first of each is the one it is listed under. */
export interface Touches {
  tracks?: readonly number[];
  lists?: readonly string[];
  dates?: readonly number[];
}

/** An item in words: a sentence, or before and after of a field or a text. */
export type Words =
  | { show: 'field'; field: string; before: FieldValue; after: FieldValue; lock: 'locked' | 'unlocked' | null }
  | { show: 'texts'; label: string; before: string; after: string }
  | { show: 'sentence'; text: string };

/** Why some fields of a draft were left out, by "track field". */
export type LeftOut = ReadonlyMap<string, string>;
export const leftKey = (trackId: number, field: string): string => `${trackId} ${field}`;

export interface ChangeKind<I extends BaseItem> {
  kind: I['kind'];
  area: Area;
  /** Made file by file, behind the library's part and outside of its transaction. */
  inFiles: boolean;
  touches(item: I): Touches;
  /** Why it cannot be made on what is there, as a sentence; null when it can. */
  conflict(item: I, snapshot: Snapshot): string | null;
  /** Makes it in memory; there is no conflict. */
  apply(item: I, snapshot: Snapshot): void;
  /** The item that takes this one back. */
  inverse(item: I): I;
  words(item: I): Words;
  /** What finds it under Changes besides the name of its track or list. */
  searched(item: I): string;
  /** What the item is without fields that the library did not take; a sentence when nothing is left of it. */
  without?(item: I, left: LeftOut): I | string;
}

/** Types are kept by the compiler only: a registry holds kinds of all items. */
export const defineKind = <I extends BaseItem>(kind: ChangeKind<I>): ChangeKind<I> => kind;

export const GONE_TRACK = 'The track is no longer in the library';
