import { describe, expect, test } from '@jest/globals';
import { createFeatureExtractor } from '../features.ts';
import type { SoundMeasures } from './soundMeter.ts';
import { judgeSound, meanSpectrum, steepestEdge } from './soundQuality.ts';

/** Spectra of 40 frames: a gentle slope from −40 dB, cut at an edge to a floor. */
function spectra(
  edgeHz: number | null,
  { floor = -121, slope = 2.2 }: { floor?: number; slope?: number } = {},
): Float32Array[] {
  return Array.from({ length: 40 }, (_, f) =>
    Float32Array.from({ length: 220 }, (__, b) => {
      const wobble = ((b * 7 + f * 13) % 5) * 0.4;
      return edgeHz !== null && b * 100 > edgeHz ? floor + wobble : Math.max(floor, -40 - (slope * b) / 10) + wobble;
    }),
  );
}
const measures = (over: Partial<SoundMeasures> = {}): SoundMeasures => ({
  spectra: spectra(null),
  flatTops: 0,
  longestFlatTop: 0,
  dcOffset: [0, 0],
  phaseCorrelation: 0.6,
  sideBelowMidDb: 8,
  excerpts: [],
  ...over,
});
const flac = { codec: 'flac', bitrate: null };

describe('sounds re-encoded', () => {
  test.each([16_000, 17_200, 19_300, 20_000])('a lossless file cut at %i Hz', (hz) => {
    const judged = judgeSound(measures({ spectra: spectra(hz) }), flac);
    expect(judged.soundsReencoded).toBe(true);
    expect(Math.abs(judged.bandwidthHz! - hz)).toBeLessThanOrEqual(300);
    expect(judged.remarks[0]).toMatch(/re-encoded: nothing above/);
  });

  test('a slope that goes down by itself is no cut, nor is the filter of a resampler, nor a dark sound', () => {
    expect(judgeSound(measures(), flac).soundsReencoded).toBe(false);
    expect(judgeSound(measures({ spectra: spectra(20_900) }), flac).soundsReencoded).toBe(false);
    expect(judgeSound(measures({ spectra: spectra(null, { slope: 9 }) }), flac)).toMatchObject({
      soundsReencoded: false,
      remarks: [],
    });
  });

  test('an MP3 is cut where its rate cuts; only well below that another encoder was there', () => {
    expect(judgeSound(measures({ spectra: spectra(16_200) }), { codec: 'mp3', bitrate: 128_000 }).soundsReencoded).toBe(
      false,
    );
    expect(judgeSound(measures({ spectra: spectra(16_200) }), { codec: 'mp3', bitrate: 320_000 }).soundsReencoded).toBe(
      true,
    );
  });

  test('too little sound to tell says so', () => {
    expect(judgeSound(measures({ spectra: spectra(16_000).slice(0, 3) }), flac)).toMatchObject({
      soundsReencoded: null,
      bandwidthHz: null,
    });
    expect(meanSpectrum([])).toBeNull();
    expect(steepestEdge(meanSpectrum(spectra(17_000))!)!.fall).toBeGreaterThan(20);
  });
});

describe('measured from sound', () => {
  const sound = (make: (i: number) => [number, number], seconds = 4): SoundMeasures => {
    const extractor = createFeatureExtractor({ sampleRate: 44100, channels: 2 });
    const x = new Float32Array(44100 * seconds * 2);
    for (let i = 0; i < 44100 * seconds; i++) x.set(make(i), i * 2);
    extractor.push(x);
    return extractor.finish().sound;
  };
  const wave = (i: number): number => 0.5 * Math.sin(i * 0.031) + 0.3 * Math.sin(i * 0.0877);

  test('clipping is counted, the round tops of low notes are not', () => {
    const clipped = sound((i) => {
      const v = Math.max(-0.9, Math.min(0.9, wave(i) * 2.5));
      return [v, v];
    });
    expect(clipped.flatTops).toBeGreaterThan(500);
    expect(
      sound((i) => {
        const v = 0.9 * Math.sin(i * 0.004);
        return [v, v];
      }).flatTops,
    ).toBe(0);
  });

  test('mono, reversed sides and an offset are told apart', () => {
    expect(sound((i) => [wave(i), wave(i)])).toMatchObject({
      sideBelowMidDb: Infinity,
      phaseCorrelation: expect.closeTo(1, 5) as unknown,
    });
    expect(sound((i) => [wave(i), -wave(i)]).phaseCorrelation).toBeCloseTo(-1, 5);
    const offset = sound((i) => [wave(i) + 0.02, wave(i) + 0.02]);
    expect(offset.dcOffset[0]).toBeCloseTo(0.02, 2);
    expect(judgeSound(offset, flac).remarks.join()).toMatch(/DC offset/);
  });
});
