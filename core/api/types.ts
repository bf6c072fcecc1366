/** What goes over the wire between page and server: one shape for both sides. */
import type { AnalysisResult } from '../analysis/engine.ts';
import type { ChangeItem } from '../changes/items.ts';
import type { DateInfo, EntryData, EntryKind, ListInfo, ListKind, Origins } from '../changes/snapshot.ts';
import type { Step } from '../clean/steps.ts';
import type { CleanTrack } from '../clean/workingTrack.ts';
import type { Condition } from '../conditions/condition.ts';
import type { GapRules } from '../conditions/needs.ts';
import type { FieldValue } from '../fields/values.ts';
import type { ListedEntry, ListFormatId, ListProblem } from '../exchange/listFile.ts';
import type { FileRef } from '../files/fileRef.ts';
import type { FolderCount } from '../files/folderTree.ts';

/** A track as a row of a sheet. */
export interface SheetRow {
  id: number;
  rootId: number;
  artHash: string | null;
  analysisReason: string | null;
  fit: number | null;
  values: Record<string, FieldValue>;
}

export type CheckWhat = 'tempo' | 'key';
/** Results to listen to again, least certain first; `total` counts also those beyond the rows. */
export interface CheckList {
  what: CheckWhat;
  below: number;
  total: number;
  rows: SheetRow[];
}

/** What stands where along a sheet: of its rows that have a value, every so many, as they are sorted. */
export interface SheetAlong {
  every: number;
  /** How many rows have a value; behind them are those that have none. */
  valued: number;
  /** Sort texts, figures, moments; in the order of arrival when they came in. */
  values: (string | number | boolean | null)[];
}

export interface SheetPage {
  total: number;
  rows: SheetRow[];
}

/** Columns of a sheet that are worked out and no field: fit to a reference, and distance from the loudness aimed at. */
export const WORKED_OUT = ['fit', 'toTarget'] as const;

/** Chosen tracks: ids, or everything that matches but a few. */
export type Selection = { ids: number[] } | { where: Condition; except: number[] };

export type HistogramName = 'tempo' | 'energy' | 'year' | 'length';
export interface HistogramCounts {
  low: number;
  high: number;
  step: number;
  counts: number[];
  none: number;
}

/** Fields whose values are counted one by one; of the last two only whether they are filled ("yes"). */
export type FacetList = 'genre' | 'artist' | 'format' | 'rating' | 'moods' | 'freeTags' | 'hearLater' | 'comment';

export interface Facets {
  histograms: Record<HistogramName, HistogramCounts>;
  /** Counts by key, "" for none. */
  keys: Record<string, number>;
  lists: Record<FacetList, { value: string; count: number }[]>;
  none: Record<FacetList, number>;
  folders: FolderCount[];
  needs: Record<string, number>;
}

export type { DateInfo, Origins } from '../changes/snapshot.ts';

export interface TrackDetails extends SheetRow {
  origins: Origins;
  rootPath: string;
  /** The album it belongs to as one programme; null without one. */
  album: { tracks: number; lufs: number; truePeakDbtp: number | null } | null;
  /** What the file says in fields where it says something else; empty where nobody has looked. */
  inFile: Record<string, FieldValue>;
  analysis: { engine: number; analysedAt: string; result: Omit<AnalysisResult, 'waveform'> } | null;
  lists: { id: string; name: string; kind: ListKind; times: number }[];
  past: { changeSetId: number; title: string; madeAt: string; items: ChangeItem[] }[];
}

export interface StageLevel {
  count: number;
  /** 0 … 1; null where a level would mean nothing. */ level: number | null;
}

/** The same with how ready its tracks are. */
export interface DateLine extends DateInfo {
  id: number;
  lists: { id: string; name: string; kind: ListKind }[];
  /** Its lists and all crates below them. */
  within: string[];
  tracks: number;
  seconds: number;
  measured: number;
  /** Without gaps by its rule. */
  filled: number;
  here: number;
  /** Files that say what the library says. */
  written: number;
  /** All of it. */
  ready: number;
}

export interface Overview {
  tracks: number;
  measured: number;
  totalSeconds: number;
  /** Tracks whose files do not say yet what the library says. */
  unwritten: number;
  /** Tracks that lack something by a rule. */
  notReady: { floor: number; playout: number };
  /** Tracks by what there is to look at on the Disk stage. */
  onDisk: { missing: number; place: number; duplicate: number };
  stages: Record<'today' | 'intake' | 'tracks' | 'clean' | 'arrange' | 'disk' | 'handover' | 'changes', StageLevel>;
}

export type RunKind =
  | 'intake'
  | 'analysis'
  | 'writing'
  | 'lookup'
  | 'duplicates'
  | 'unpacking'
  | 'copying'
  | 'taking'
  | 'backup'
  | 'bundle'
  | 'musicCopy';
export interface RunProgress {
  id: number;
  kind: RunKind;
  title: string;
  state: 'running' | 'done' | 'cancelled' | 'failed';
  reason: string | null;
  rootId: number | null;
  /** The stick, or playout system, that it writes to just now. */
  stickId: number | null;
  total: number;
  done: number;
  failed: number;
  current: string | null;
  report: unknown;
  startedAt: string;
  finishedAt: string | null;
  /** Items a second since the start; null before the first. */
  rate: number | null;
  secondsLeft: number | null;
  /** It has ended, something failed or was called off, and nobody has tried again since. */
  canRetry: boolean;
}

/** What a run that copies files says while it does. */
export interface CopyProgress {
  /** Bytes so far, and in all. */
  copied: number;
  toCopy: number;
}

/** What a run that works on files ends with. */
export interface FilesRunReport {
  written: number;
  left: number;
  cancelled: number;
  seconds: number;
  reasons: { reason: string; files: number }[];
}

/** What would be written into files. */
export interface WritingDraft {
  tracks: number;
  fields: number;
  lines: {
    trackId: number;
    name: string;
    path: string;
    fields: { field: string; before: string[] | null; after: string[] }[];
  }[];
}

export interface RunFailure {
  trackId: number;
  path: string;
  reason: string | null;
}

export interface Place {
  path: string;
  label: string;
}
export interface Browsed {
  path: string;
  parent: string | null;
  folders: { name: string; path: string }[];
  /** Files that may be lists of tracks. */
  lists: { name: string; path: string }[];
  audioFiles: number;
  otherFiles: number;
}
/** The drive that a folder lies on. */
export interface Drive {
  /** What it is known again by: the name of its file system, or what the system calls it. */
  device: string;
  mountPoint: string | null;
  fileSystem: string | null;
  label: string | null;
  bytes: number;
}
export interface RootLine {
  id: number;
  path: string;
  label: string;
  purpose: 'library' | 'destination';
  /** Since when its drive is not there; null when it is. */
  awaySince: string | null;
  drive: Drive | null;
  measure: boolean;
  /** What comes there is scanned by itself; and why that cannot be. */
  watch: boolean;
  watchTrouble: string | null;
  /** By which what comes there is cleaned. */
  presetId: number | null;
  /** What comes there is moved to where the naming rules want it. */
  putByRules: boolean;
  scannedAt: string | null;
  tracks: number;
  missing: number;
  notTaken: number;
}
export interface NotTaken {
  path: string;
  code: string;
  reason: string;
  fileSize: number;
}

export interface ListLine extends ListInfo {
  id: string;
  tracks: number;
  durationSeconds: number;
  updatedAt: string;
}
/** An entry of a list with its track; of one that is no track, with an empty row. */
export interface ListEntryRow extends SheetRow {
  entryId: string;
  kind: EntryKind;
  data: EntryData;
}
export interface ListContents {
  id: string;
  info: ListInfo;
  /** Of a self-filling crate only the first. */
  entries: ListEntryRow[];
  /** How many there are. */
  total: number;
}

/** A list by others, with the tracks that its entries could mean. */
export interface MatchedList {
  name: string | null;
  problems: ListProblem[];
  lines: {
    entry: ListedEntry;
    /** The likeliest first, with likeness from 0 to 1. */
    candidates: { id: number; name: string; score: number }[];
    /** The first needs no look. */
    sure: boolean;
  }[];
}
/** A playlist to be made of tracks and open slots. */
export interface FilledList {
  name: string;
  entries: ({ trackId: number } | { text: string; seconds: number | null })[];
}

export interface Applied {
  changeSetId: number;
  title: string;
  done: number;
  conflicts: { item: ChangeItem; reason: string }[];
  /** Files that were written, and those that a run still writes. */
  files?: { written: number; waiting: number; runId: number | null };
}
export interface ChangeSetLine {
  id: number;
  title: string;
  madeAt: string;
  done: number;
  conflicts: number;
  undoOf: number | null;
  undoneBy: number | null;
  /** Files still to be written. */ waiting: number;
  /** Files it wrote. */ files: number;
  runId: number | null;
}
export type ChangeState = 'done' | 'conflict' | 'waiting' | 'failed' | 'cancelled';
export interface ChangeLine {
  seq: number;
  item: ChangeItem;
  state: ChangeState;
  reason: string | null;
  name: string | null;
  undone: boolean;
}
export interface ChangeSetDetails extends ChangeSetLine {
  /** Files left because they have other names: asked whether they may be parted from them. */
  otherNames: number;
  lines: ChangeLine[];
}

export interface ExportWish {
  format: ListFormatId;
  paths: 'absolute' | 'relative';
  line: string;
  rootId: number | null;
}
export interface ExportedList {
  fileName: string;
  text: string;
  tracks: number;
  missing: string[];
  folder: string;
}

/** What chosen tracks have in a field: the same value, or several different ones (an empty one counts). */
export interface SharedValue {
  same: boolean;
  value: FieldValue;
  different: number;
}

export interface CompletenessWish {
  selection: Selection;
  by: 'none' | 'folder' | 'album' | 'list';
}
/** Of tracks, how many are filled per field, and how many are ready. */
export interface CompletenessGroup {
  name: string;
  /** Finds just these tracks; null where it cannot be said. */ condition: Condition | null;
  listId?: string;
  tracks: number;
  floor: number;
  playout: number;
  filled: Record<string, number>;
}
export interface Completeness {
  all: CompletenessGroup;
  groups: CompletenessGroup[];
  rules: GapRules;
}

/** Tracks as the steps work on them; `total` counts also those beyond the most that are given. */
export interface CleanTracks {
  total: number;
  tracks: CleanTrack[];
}
/** Names in the library with how many tracks say them. */
export type NameCounts = [string, number][];
export interface SavedPreset {
  id: number;
  name: string;
  steps: Step[];
  updatedAt: string;
}
/** A folder of a root (an empty path: the root itself), with the tracks in and below it. */
export interface FolderLine {
  ref: FileRef;
  /** What the root is called. */
  root: string;
  tracks: number;
}

/** What the server tells all pages. */
export type ServerEvent =
  | { kind: 'tracks' }
  | { kind: 'roots' }
  | { kind: 'lists'; listIds: string[] }
  | { kind: 'changes' }
  | { kind: 'settings' }
  | { kind: 'presets' }
  | { kind: 'dates' }
  | { kind: 'destinations' }
  | { kind: 'catalogue' }
  | { kind: 'run'; runId: number }
  | { kind: 'workers' }
  | { kind: 'cancel'; runId: number };

export interface ErrorAnswer {
  error: { code: string; message: string };
}

interface Reach {
  from: number;
  to: number;
}
/** Several tracks together. */
export interface TracksSummary {
  tracks: number;
  totalSeconds: number;
  bpm: Reach | null;
  lufs: Reach | null;
  energy: Reach | null;
  /** The three most frequent keys, and how many there are. */
  keys: string[];
  keyCount: number;
}
