/** Uses of tracks: counted up, the latest day kept, locked values left. */
import { expect, test } from '@jest/globals';
import type { Held } from '../fields/values.ts';
import { usesOf } from './uses.ts';

const AT = new Date('2026-11-20T22:00:00Z'),
  NOW = '2026-11-21T00:00:01Z';
const held = (value: Held['value'], locked = false): Held => ({ value, origin: 'use', at: NOW, locked });
const after = (last: Held | null, times: Held | null): unknown[] =>
  usesOf(7, (field) => (field === 'lastUsed' ? last : times), AT, NOW).map((i) => [i.field, i.after?.value]);

test('the first use', () => {
  expect(after(null, null)).toEqual([
    ['lastUsed', '2026-11-20T22:00:00Z'],
    ['timesUsed', 1],
  ]);
});
test('one more; a later day that is known stays', () => {
  expect(after(held('2026-11-13T22:00:00Z'), held(4))).toEqual([
    ['lastUsed', '2026-11-20T22:00:00Z'],
    ['timesUsed', 5],
  ]);
  expect(after(held('2026-11-25T22:00:00Z'), held(4))).toEqual([['timesUsed', 5]]);
});
test('what is locked is left', () => {
  expect(after(held(null, true), held(4, true))).toEqual([]);
});
