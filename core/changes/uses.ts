/** Drafts for what was used: when a track was last, and how often. */
import { keptDate, type Held } from '../fields/values.ts';
import { setField, type SetField } from './kinds/setField.ts';

/**
 * Uses of a track. A later use that is known stays; what is locked too.
 * @param held what is known of the fields now
 * @param at when it was used last
 * @param now when that is written down
 * @param count how often it was used
 */
export function usesOf(
  trackId: number,
  held: (field: 'lastUsed' | 'timesUsed') => Held | null | undefined,
  at: Date,
  now: string,
  count = 1,
): SetField[] {
  const last = held('lastUsed') ?? null,
    times = held('timesUsed') ?? null;
  const use = (value: Held['value']): Held => ({ value, origin: 'use', at: now, locked: false });
  const isLater = typeof last?.value !== 'string' || new Date(last.value) < at;
  return [
    ...(isLater && !last?.locked ? [setField(trackId, 'lastUsed', last, use(keptDate(at)))] : []),
    ...(times?.locked
      ? []
      : [setField(trackId, 'timesUsed', times, use((typeof times?.value === 'number' ? times.value : 0) + count))]),
  ];
}
