/** Destinations, and what a comparison with one says. */
import type { KeyTable } from '../exchange/collection.ts';
import type { PathMap } from '../relink/pathMap.ts';
import type { Choices, Line, LossGroup } from '../sync/compareTracks.ts';
import type { Policies } from '../sync/policies.ts';

export interface DestinationSettings {
  policies: Policies;
  /** Ids of lists that go there, with what lies in them; null: all crates and playlists. */
  lists: string[] | null;
  /** How paths there become paths here. */
  maps: PathMap[];
  /** How keys are spelt there; null: as it does by itself. */
  keys: KeyTable | null;
  /** Losses that somebody has seen and accepted, by their ids. */
  accepted: string[];
}

/** What was found when it was last looked at. */
export interface Waiting {
  /** Changes for there, for here, and such as both have made. */
  out: number;
  in: number;
  clash: number;
  /** Lists that have changes for there, or whose tracks have: how many, by id. */
  lists?: Record<string, number>;
  /** When; ISO 8601. */
  at: string;
}

export interface DestinationLine {
  id: number;
  kind: string;
  name: string;
  what: string;
  folder: string;
  /** Nothing is ever written there. */
  readOnly: boolean;
  settings: DestinationSettings;
  syncedAt: string | null;
  waiting: Waiting | null;
  /** Why it cannot be read now. */
  trouble: string | null;
}

export const LINE_GROUPS = ['clash', 'out', 'in', 'left'] as const;
export type LineGroup = (typeof LINE_GROUPS)[number];

export interface ComparisonAnswer {
  destinationId: number;
  /** Says which state of both sides was compared: applying asks for it. */
  token: string;
  counts: { here: number; there: number; tied: number; notHere: number; lists: number };
  groups: Record<LineGroup, number>;
  /** Lines that would be made, by side; clashes that nobody has chosen for are none. */
  made: { lines: number; out: number; in: number; undecided: number };
  /** Of what has to be chosen, by field. */
  undecided: { field: string; lines: number; both: boolean }[];
  /** Of each group at most the first so many. */
  lines: Line[];
  losses: (LossGroup & { accepted: boolean })[];
  /** Some of what only the destination has. */
  notHere: { id: string; path: string; name: string }[];
  /** What could not be read there, and where. */
  problems: { where: string; reason: string }[];
  checks: {
    /** Who has it open; null: it is closed. */
    openedBy: string | null;
    /** Files of tracks there that are not where it looks for them. */
    notFound: number;
    /** Bytes of its data, which are kept before writing. */
    bytes: number;
  };
}

/** How far a comparison is, or the making of both sides alike. */
export interface SyncStep {
  what: 'reading' | 'comparing' | 'writing covers' | 'writing' | 'reading back';
  done: number;
  /** null where nobody knows. */
  total: number | null;
}

export interface SyncWish {
  token: string;
  choices: Choices;
}
