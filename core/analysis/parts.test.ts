import { describe, expect, test } from '@jest/globals';
import { FIELDS } from '../fields/table.ts';
import { createAnalysis } from './engine.ts';
import { fieldsOfParts, PARTS, withParts } from './parts.ts';

const measured = (hz: number) => {
  const analysis = createAnalysis({ sampleRate: 22050, channels: 1 });
  analysis.push(Float32Array.from({ length: 22050 * 5 }, (_, i) => 0.4 * Math.sin((2 * Math.PI * hz * i) / 22050)));
  const { waveform, ...rest } = analysis.finish();
  expect(waveform.length).toBeGreaterThan(0);
  return rest;
};

describe('measuring parts', () => {
  test('every measured field belongs to exactly one part', () => {
    const all = PARTS.flatMap((p) => [...fieldsOfParts([p])]);
    expect(all.sort()).toEqual(
      FIELDS.filter((f) => f.kind === 'measured')
        .map((f) => f.id)
        .sort(),
    );
  });

  test('only what was asked for is replaced', () => {
    const before = measured(220),
      now = measured(330);
    const mixed = withParts(before, now, ['key', 'edges']);
    expect(mixed.key).toBe(now.key);
    expect(mixed.sections).toBe(now.sections);
    expect(mixed.loudness).toBe(before.loudness);
    expect(withParts(null, now, ['key'])).toBe(now);
    expect(withParts(before, now, PARTS)).toBe(now);
  });
});
