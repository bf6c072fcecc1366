/** Rows of the sheet and lines of the tree of lists, for tests of the page. */
import type { ListContents, ListEntryRow, ListLine, RootLine, SheetRow } from '@early-set/core/api/types';
import type { ListInfo } from '@early-set/core/changes/snapshot';

/** A track as the sheet gets it; what is not said is empty. */
export const sheetRow = (id: number, values: SheetRow['values'] = {}, more: Partial<SheetRow> = {}): SheetRow => ({
  id,
  rootId: 1,
  artHash: null,
  analysisReason: null,
  fit: null,
  values,
  ...more,
});

/** What a list says of itself where nothing else is said. */
const PLAIN: ListInfo = {
  kind: 'crate',
  name: '',
  parentId: null,
  position: 1,
  removed: false,
  startsAt: null,
  shape: null,
  rule: null,
  colour: null,
  note: null,
  wishedSeconds: null,
  reserveId: null,
  mirror: null,
  mirrorOf: null,
  clock: null,
  onAirAt: null,
};

/** A list as the tree gets it: an empty crate at the top, where nothing else is said. */
export const listLine = (id: string, more: Partial<ListLine> = {}): ListLine => ({
  ...PLAIN,
  id,
  name: id,
  tracks: 0,
  durationSeconds: 0,
  updatedAt: '',
  ...more,
});

/** A playlist with its entries. */
export const listContentsOf = (id: string, entries: ListEntryRow[], info: Partial<ListInfo> = {}): ListContents => ({
  id,
  total: entries.length,
  info: { ...PLAIN, kind: 'playlist', name: 'Late shift', startsAt: '20:00', ...info },
  entries,
});

/** A library folder. */
export const rootLine = (id: number, more: Partial<RootLine> = {}): RootLine => ({
  id,
  path: `/music/${id}`,
  label: `Shelf ${id}`,
  purpose: 'library',
  awaySince: null,
  drive: null,
  measure: true,
  watch: false,
  watchTrouble: null,
  presetId: null,
  putByRules: false,
  scannedAt: '2026-03-01T10:00:00Z',
  tracks: 12,
  missing: 0,
  notTaken: 0,
  ...more,
});
