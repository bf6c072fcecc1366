/** Hours of radio, as the page is told of them. Moments are seconds since 1970, all other times seconds. */
import type { Applied } from './types.ts';
import type { AirplayLine } from '../hours/playoutLog.ts';

export type { EndsBy, HourContents, HourLine, HourRuleState } from '../hours/contents.ts';

/** What could go to a place of an hour. */
export interface InsteadLine {
  trackId: number;
  title: string;
  artist: string;
  /** How long it is on air. */
  seconds: number;
  /** By how much the next fixed time would be missed; late above 0. */
  off: number;
  /** Rules that it would break there, in words. */
  broken: string[];
  hard: boolean;
}
export interface InsteadAnswer {
  /** The place it is about. */
  entryId: string;
  /** What is to come on time: its name, and when. */
  next: { name: string; at: number };
  tracks: InsteadLine[];
}

/** Open slots of an hour as they would be filled. Nothing is changed yet. */
export interface HourFilling {
  places: { entryId: string; trackId: number; title: string; artist: string; to: number | null }[];
  /** Ends of tracks that were there and would be moved. */
  ends: { entryId: string; to: number | null }[];
  /** How many slots would stay open. */
  open: number;
  /** By how much the end would be missed. */
  off: number;
  /** Rules that would be broken, in words. */
  broken: string[];
}

/** How far hours are that are being made. */
export interface HoursProgress {
  done: number;
  total: number;
}

export interface HoursMade extends Applied {
  listIds: string[];
  /** Slots that stayed open. */
  open: number;
  /** Beginnings of hours that were there already, and of such as have no clock. */
  skipped: { at: number; why: 'there already' | 'no clock' }[];
}

/** What reading a playout log came to. */
export interface LogRead {
  /** Of its last line, "2026-12". */
  month: string;
  /** The change that counts the uses; null where there was nothing to count. */
  applied: Applied | null;
  /** Lines that are new, and those that were read before. */
  read: number;
  known: number;
  matched: number;
  /** "artist - title" of lines without a track. */
  unmatched: string[];
  problems: { line: number; reason: string }[];
}

/** What was on air in a month. */
export interface AirplayMonth {
  /** "2026-12". */
  month: string;
  /** The most often aired first; seconds in all. */
  lines: (AirplayLine & { trackId: number | null })[];
  /** Months of which something is known, the latest first. */
  months: string[];
}
