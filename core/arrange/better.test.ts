import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { TrackValues } from '../fields/values.ts';
import { bestOf, whyBetter } from './better.ts';

const file = (values: TrackValues = {}): TrackValues => ({
  format: 'MP3',
  codec: 'MP3',
  bitrate: 192,
  fileState: 'here',
  bandwidthHz: 19_000,
  ...values,
});
const flac = file({ format: 'FLAC', codec: 'FLAC', bitrate: 800, bandwidthHz: 21_000 });

describe('the better file', () => {
  test('is lossless, of a clearly higher rate, or there at all', () => {
    expect(whyBetter(file(), flac)).toBe('lossless');
    expect(whyBetter(file(), file({ bitrate: 320 }))).toBe('320 instead of 192 kbit/s');
    expect(whyBetter(file({ fileState: 'missing' }), file({ bitrate: 96 }))).toBe('its file is there');
    for (const other of [file(), file({ bitrate: 200 }), file({ bitrate: 320, fileState: 'missing' })])
      expect(whyBetter(file(), other)).toBeNull();
    expect(whyBetter(flac, file({ bitrate: 320 }))).toBeNull();
    // In M4A it is the codec that tells.
    expect(whyBetter(file(), file({ format: 'M4A', codec: 'alac' }))).toBe('lossless');
  });
  test('is not one that was encoded more tightly before', () => {
    expect(whyBetter(file(), { ...flac, bandwidthHz: 16_000 })).toBeNull();
    expect(whyBetter(file(), file({ bitrate: 320, bandwidthHz: 16_000 }))).toBeNull();
  });
  test('none is better than the best of several, which is said to be better than the one in hand', () => {
    const any = fc.record({
      format: fc.constantFrom('MP3', 'FLAC', 'WAV'),
      bitrate: fc.constantFrom(96, 128, 192, 320, null),
      fileState: fc.constantFrom('here', 'missing'),
    });
    fc.assert(
      fc.property(any, fc.array(any, { maxLength: 6 }), (of, others) => {
        const tracks = others.map((values) => ({ values }));
        const best = bestOf(of, tracks);
        if (!best) for (const { values } of tracks) expect(whyBetter(of, values)).toBeNull();
        else {
          expect(best.why).toBe(whyBetter(of, best.track.values));
          for (const { values } of tracks) expect(whyBetter(best.track.values, values)).toBeNull();
        }
      }),
    );
  });
});
