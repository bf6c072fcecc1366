/** Rows of the sheet for tests of the page. */
import type { SheetRow } from '@early-set/core/api/types';

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
