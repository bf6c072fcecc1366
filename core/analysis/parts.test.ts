import { describe, expect, test } from '@jest/globals';
import { FIELDS } from '../fields/table.ts';
import { createAnalysis } from './engine.ts';
import { fieldsOfParts, measuredValues } from './measuredFields.ts';
import { PARTS, withParts } from './parts.ts';

const measured = (hz: number) => {
  const analysis = createAnalysis({ sampleRate: 22050, channels: 1 });
  analysis.push(Float32Array.from({ length: 22050 * 5 }, (_, i) => 0.4 * Math.sin((2 * Math.PI * hz * i) / 22050)));
  const { waveform, ...rest } = analysis.finish();
  expect(waveform.length).toBeGreaterThan(0);
  return rest;
};

describe('measuring parts', () => {
  test('every measured field belongs to exactly one part', () => {
    const all = fieldsOfParts(PARTS);
    expect(all.sort()).toEqual(
      FIELDS.filter((f) => f.kind === 'measured')
        .map((f) => f.id)
        .sort(),
    );
  });

  test('silence has no beat, no key, and says nothing of either', () => {
    const analysis = createAnalysis({ sampleRate: 22050, channels: 1 });
    analysis.push(new Float32Array(22050 * 3));
    const values = measuredValues(analysis.finish(), PARTS);
    expect(Object.keys(values).sort()).toEqual(fieldsOfParts(PARTS).sort());
    expect(values).toMatchObject({ bpm: null, tempoConfidence: null, tempoSteady: null, beatsPerBar: null });
    expect(values).toMatchObject({ key: null, keyConfidence: null });
    expect(Object.keys(measuredValues(measured(220), ['key']))).toEqual(['key', 'keyConfidence']);
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
