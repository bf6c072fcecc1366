/** Rows of the sheet and lines of the tree of lists, for tests of the page. */
import type { ListLine, SheetRow } from '@early-set/core/api/types';

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

/** A list as the tree gets it: an empty crate at the top, where nothing else is said. */
export const listLine = (id: string, more: Partial<ListLine> = {}): ListLine => ({
  id,
  kind: 'crate',
  name: id,
  parentId: null,
  position: 1,
  removed: false,
  startsAt: null,
  shape: null,
  rule: null,
  colour: null,
  note: null,
  tracks: 0,
  durationSeconds: 0,
  updatedAt: '',
  ...more,
});
