/** Sticks and folders that files are written to for a player, and what writing one would do. */
import type { StickState } from '../stick/compare.ts';
import type { Refused } from '../stick/plan.ts';
import type { ConvertWish } from '../stick/recipe.ts';
import type { LayoutWish } from '../stick/layout.ts';
import { DEFAULT_LINE } from '../exchange/line.ts';

export interface StickSettings {
  /** Ids of lists that go there, with what lies in them. */
  lists: string[];
  /** Ids of dates whose lists go there. */
  dates: number[];
  /** Tracks that were chosen by hand, as a list of their own. */
  tracks: number[];
  /** Folders of music that go there, each as a list of its tracks by name. */
  folders: { rootId: number; path: string }[];
  /** Liquid: folders and name, with slashes between, without the ending. */
  names: string;
  accents: LayoutWish['accents'];
  convert: ConvertWish;
  /** In dBTP, for what is levelled. */
  ceilingDbtp: number;
  /** Are lists written as M3U8? */
  m3u8: boolean;
  /** Liquid: the text of a line in them. */
  line: string;
}

export const DEFAULT_STICK: StickSettings = {
  lists: [],
  dates: [],
  tracks: [],
  folders: [],
  names: '{{ list }}/{{ counter | pad: 2 }} {{ title }}',
  accents: 'keep',
  convert: { when: 'needed', format: 'aac', kbps: 256, lufs: null },
  ceilingDbtp: -1,
  m3u8: true,
  line: DEFAULT_LINE,
};

/** How the last writing ended. */
export interface StickReport {
  at: string;
  written: number;
  removed: number;
  bytes: number;
  /** Files that were to be written. */
  total: number;
  seconds: number;
  failed: { path: string; reason: string }[];
  /** Why it ended before its end. */
  stopped: 'cancelled' | 'full' | 'gone' | null;
  /** Every copy was read back: from the medium itself, or where that could not be had from the computer's memory. */
  readBack: 'medium' | 'memory' | null;
}

export interface StickLine {
  id: number;
  player: string;
  playerName: string;
  /** It is a playout system. */
  isPlayout: boolean;
  name: string;
  folder: string;
  settings: StickSettings;
  writtenAt: string | null;
  report: StickReport | null;
  /** What was found when it was last looked at: files that would come or go. */
  waiting: number | null;
  /** Why it cannot be written now. */
  trouble: string | null;
  /** There is a former state that can be written again where the last writing broke off. */
  brokenOff: boolean;
}

/** A line of the table: a file as it is to be. */
export interface StickFileLine {
  path: string;
  trackId: number;
  title: string;
  artist: string;
  state: StickState;
  /** Bytes that will be written; 0 for what is there already. */
  bytes: number;
  /** What it is made from and to, in words: "FLAC to AAC 256". */
  how: string;
  converted: boolean;
  levelled: boolean;
  cut: boolean;
}

export interface StickListLine {
  id: string;
  name: string;
  place: readonly string[];
  files: number;
  seconds: number;
  /** Of these, such as are new or changed. */
  changes: number;
  /** Tracks of it that do not go there. */
  refused: number;
}

export interface StickAnswer {
  stickId: number;
  /** Says which state of the library and of the stick was looked at: writing asks for it. */
  token: string;
  fileSystem: string | null;
  room: { free: number | null; total: number | null };
  bytes: { comes: number; stays: number; goes: number };
  counts: {
    files: number;
    write: number;
    converted: number;
    levelled: number;
    same: number;
    cut: number;
    changed: number;
  };
  /** Files that go off the stick. */
  removed: string[];
  /** Files that were written from here and changed by somebody else since: they stay. */
  left: string[];
  /** Files that were never written from here. */
  foreign: number;
  /** At most the first so many have a name. */
  refused: (Refused & { name: string; playoutId: number | null })[];
  /** Of a playout system: days that were on air, and how many of them have grown since they were read; else null. */
  played: { days: number; fresh: number } | null;
  /** How long writing takes, about. */
  seconds: number;
  lists: StickListLine[];
  /** The list whose files are told. */
  listId: string | null;
  /** At most the first so many. */
  files: StickFileLine[];
  /** How its file begins: M3U8, or an hour's log, or the catalogue of items; null: there is none. */
  preview: { path: string; text: string } | null;
}

/** What verifying a stick has found. */
export interface StickVerified {
  checked: number;
  wrong: { path: string; reason: string }[];
  readBack: 'medium' | 'memory';
}

/** How far it is. */
export interface StickStep {
  done: number;
  total: number;
}

/** What was on air, read from a playout system. */
export interface PlayedRead {
  /** Days that were read: of each how often something was on air, and how much of that was known before. */
  days: { day: string; read: number; known: number; matched: number }[];
  /** What was on air, and is no track here. */
  unmatched: string[];
  failed: { day: string; reason: string }[];
}

/** What writing playout points into files would do. */
export interface PointsDraft {
  /** WAV files that get them. */
  files: number;
  /** Files that are no WAV, or not there. */
  others: number;
  /** WAV files of tracks that lack a point. */
  lacking: number;
  reasons: { reason: string; tracks: number }[];
}
