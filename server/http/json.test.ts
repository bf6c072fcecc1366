import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { depthOf } from './json.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const depth = (value: unknown): number =>
  typeof value === 'object' && value !== null ? 1 + Math.max(0, ...Object.values(value).map(depth)) : 0;

describe('the depth of JSON', () => {
  test('is counted as reading it would find, whatever its texts hold', () => {
    fc.assert(fc.property(fc.jsonValue(), (value) => expect(depthOf(bytes(JSON.stringify(value)))).toBe(depth(value))));
  });
  test('brackets and quotes in texts do not count', () => {
    expect(depthOf(bytes(String.raw`{"a":"[[[\\\"{{"}`))).toBe(1);
  });
  test('of a million brackets is known at once', () => {
    expect(depthOf(bytes('['.repeat(1_000_000)))).toBe(1_000_000);
  });
});
