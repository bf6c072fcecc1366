import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { albumLoudness, playoutGain } from './playout.ts';

const level = fc.double({ min: -40, max: -4, noNaN: true });

describe('gain for playout', () => {
  test('a quiet track is lifted to the target, one with high peaks only as far as they allow', () => {
    expect(playoutGain(-20, -6, { lufs: -18, ceilingDbtp: -1 })).toEqual({
      gainDb: 2,
      peakDbtp: -4,
      clips: false,
      safeGainDb: 2,
    });
    expect(playoutGain(-20, -0.5, { lufs: -14, ceilingDbtp: -1 })).toEqual({
      gainDb: 6,
      peakDbtp: 5.5,
      clips: true,
      safeGainDb: -0.5,
    });
  });

  test('the safe gain never breaks the ceiling and never goes past the target', () => {
    fc.assert(
      fc.property(level, fc.option(fc.double({ min: -30, max: 3, noNaN: true })), level, (lufs, peak, target) => {
        const g = playoutGain(lufs, peak, { lufs: target, ceilingDbtp: -1 });
        expect(g.safeGainDb).toBeLessThanOrEqual(g.gainDb + 1e-9);
        if (peak !== null) expect(peak + g.safeGainDb).toBeLessThanOrEqual(Math.max(-1, peak + g.gainDb) + 1e-9);
        if (peak !== null && g.clips) expect(peak + g.safeGainDb).toBeCloseTo(-1, 9);
      }),
    );
  });
});

describe('an album', () => {
  test('of equal tracks is as loud as each, whatever their lengths', () => {
    fc.assert(
      fc.property(
        level,
        fc.array(fc.integer({ min: 10, max: 900 }), { minLength: 1, maxLength: 12 }),
        (lufs, lengths) => {
          expect(albumLoudness(lengths.map((seconds) => ({ lufs, seconds, truePeakDbtp: null })))!.lufs).toBeCloseTo(
            lufs,
            6,
          );
        },
      ),
    );
  });

  test('lies between its quietest and loudest, nearer to the loud and long; its peak is the highest', () => {
    const album = albumLoudness([
      { lufs: -20, seconds: 100, truePeakDbtp: -3 },
      { lufs: -10, seconds: 300, truePeakDbtp: -0.2 },
    ])!;
    expect(album.lufs).toBeGreaterThan(-12);
    expect(album.lufs).toBeLessThan(-10);
    expect(album.truePeakDbtp).toBe(-0.2);
    expect(albumLoudness([])).toBeNull();
  });
});
