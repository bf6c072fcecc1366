/** A list sorted by a field, once, as an order that is kept from then on. */
import { sortText } from '../fields/fold.ts';
import { keyParts, signatureOf } from '../fields/keys.ts';
import { isEmpty, type FieldValue, type TrackValues } from '../fields/values.ts';

export interface Sortable {
  entryId: string;
  values: TrackValues;
  /** It keeps its place: it is pinned, or no track. */
  stays: boolean;
}

/** What stands for a value when it is compared. Keys go along the circle of fifths, minor before its major. */
function comparable(field: string, value: FieldValue | undefined): number | string | null {
  if (isEmpty(value)) return null;
  if (field === 'key' && typeof value === 'string') {
    const signature = signatureOf(value);
    return signature === null ? null : signature * 2 + (keyParts(value)?.mode === 'major' ? 1 : 0);
  }
  if (typeof value === 'number') return value;
  return sortText(Array.isArray(value) ? value.join('; ') : String(value)) || null;
}

/** Entry ids in their new order; what has no value comes last, what stays keeps its place, equal ones their order. */
export function sortedOrder(entries: readonly Sortable[], field: string): string[] {
  const moving = entries.filter((e) => !e.stays).map((e) => ({ e, by: comparable(field, e.values[field]) }));
  moving.sort((a, b) => {
    if (a.by === null || b.by === null) return Number(a.by === null) - Number(b.by === null);
    return a.by < b.by ? -1 : a.by > b.by ? 1 : 0;
  });
  const next = moving.map((m) => m.e.entryId)[Symbol.iterator]();
  return entries.map((e) => (e.stays ? e.entryId : (next.next().value as string)));
}

/** The other way round, what stays excepted. */
export function reversedOrder(entries: readonly Sortable[]): string[] {
  const moving = entries.filter((e) => !e.stays).map((e) => e.entryId);
  return entries.map((e) => (e.stays ? e.entryId : moving.pop()!));
}
