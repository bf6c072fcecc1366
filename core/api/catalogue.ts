/** What goes over the wire about look-ups in the catalogue. */
import type { ReleaseMatch } from '../catalogue/match.ts';
import type { CatalogueField, Policies } from '../catalogue/proposals.ts';
import type { Release } from '../catalogue/releases.ts';
import type { CleanTrack } from '../clean/workingTrack.ts';
import type { ChosenPolicy } from '../fields/merge.ts';
import type { FieldValue } from '../fields/values.ts';
import type { Selection } from './types.ts';

export interface LookupWish {
  selection: Selection;
  /** By what tags and names say, or by how it sounds. */
  how: 'fields' | 'sound';
  /** Takes every track as a single, albums too. */
  tearApart: boolean;
  /** For the filler: only these fields; null for all. */
  fill: { fields: CatalogueField[]; clear: boolean } | null;
}

export type GroupState = 'waiting' | 'found' | 'unsure' | 'none' | 'failed' | 'skipped' | 'applied';

export interface LookupGroup {
  id: number;
  kind: 'album' | 'single';
  name: string;
  folder: string;
  tracks: number;
  state: GroupState;
  /** Of the match in hand. */
  score: number | null;
  reason: string | null;
}

export interface Lookup {
  id: number;
  title: string;
  runId: number | null;
  running: boolean;
  how: LookupWish['how'];
  fill: LookupWish['fill'];
  madeAt: string;
  /** What is the matter with the catalogue just now. */
  trouble: string | null;
  groups: LookupGroup[];
}

export interface Candidate {
  release: Release;
  match: ReleaseMatch;
}
export interface GroupTrack extends CleanTrack {
  seconds: number | null;
  artHash: string | null;
}
export interface GroupDetails extends LookupGroup {
  query: { artist: string; album: string; title: string };
  trackList: GroupTrack[];
  candidates: Candidate[];
  /** The release in hand. */
  chosen: string | null;
}

/** What is taken: fields by policy, and the picture. */
export interface TakePolicies extends Policies {
  picture: ChosenPolicy;
}

/** What taking groups would change. */
export interface TakeDraft {
  groups: number;
  tracks: number;
  fields: number;
  lines: { trackId: number; path: string; fields: { field: string; before: FieldValue; after: FieldValue }[] }[];
}

export interface CatalogueState {
  /** Is there one to ask? */ there: boolean;
  latest: number | null;
}
/** What a look-up ends with. */
export interface LookupReport {
  found: number;
  unsure: number;
  none: number;
  failed: number;
  seconds: number;
  /** Tracks that a filler would fill. */ filled: number;
  notFilled: number;
}
