/** An hour as it is shown and printed. Moments are seconds since 1970, all other times seconds. */
import type { ListInfo } from '../changes/snapshot.ts';
import type { FixedTime } from './clock.ts';

/** How a track ends on air: at its segue point, earlier, or later. */
export type EndsBy = 'segue' | 'fade' | 'heard out';

export interface HourLine {
  entryId: string;
  kind: 'spoken' | 'link' | 'jingle' | 'track' | 'open' | 'note';
  /** Of a track its title; of an open slot what it is for. */
  name: string;
  artist: string;
  /** The track, or that of the file from which the item is played. */
  trackId: number | null;
  /** What that file is called; null of a track, and where there is none. */
  file: string | null;
  /** When it is on air. */
  at: number;
  seconds: number;
  fixed: FixedTime | null;
  /** By how much its fixed time is missed; late above 0. */
  off: number | null;
  /** By how much the next fixed time behind it is missed, the end of the hour being the last. */
  toNext: number;
  /** Of a track: until somebody sings, null where that is not known. */
  intro: number | null;
  /** Where in the file a track ends. */
  ends: { at: number; by: EndsBy } | null;
  overIntro: number | null;
  bed: string | null;
  /** Last words of what is spoken. */
  out: string | null;
  /** Why a slot is open, or why the track should not be on air then. */
  reason: string | null;
  /** Rules that are broken there, in words. */
  broken: string[];
  pinned: boolean;
  remark: string | null;
  /** The track's file cannot be found. */
  missing: boolean;
}

export interface HourRuleState {
  text: string;
  hard: boolean;
  state: 'kept' | 'broken' | 'open';
  /** At how many places it is broken. */
  times: number;
}

export interface HourContents {
  id: string;
  info: ListInfo;
  seconds: number;
  lines: HourLine[];
  /** By how much the end is missed; late above 0. */
  off: number;
  rules: HourRuleState[];
}
