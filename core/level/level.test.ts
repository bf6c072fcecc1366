import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { amplitudeOf, level, type Levelled, type LevelSetting, type LevelWish, type Measured } from './level.ts';
import { createLimiter, type LimiterOptions } from './limiter.ts';
import { createLevelMeter } from './meter.ts';

const RATE = 44100;

/** Through a limiter, in pieces of any lengths. */
function through(
  input: readonly Float32Array[],
  options: Omit<LimiterOptions, 'channels'>,
  piece = 4096,
): Float32Array[] {
  const limiter = createLimiter({ ...options, channels: input.length });
  const frames = input[0]!.length;
  const out = input.map(() => new Float32Array(frames));
  let at = 0;
  const take = (made: readonly Float32Array[]): void => {
    made.forEach((samples, c) => out[c]!.set(samples.subarray(0, frames - at), at));
    at += made[0]!.length;
  };
  for (let from = 0; from < frames; from += piece)
    take(
      limiter.push(
        input.map((s) => s.subarray(from, from + piece)),
        Math.min(piece, frames - from),
      ),
    );
  take(limiter.finish());
  expect(at).toBe(frames);
  return out;
}

function measure(channels: readonly Float32Array[], sampleRate = RATE): Measured {
  const meter = createLevelMeter(sampleRate, channels.length);
  meter.push(channels);
  return meter.finish();
}

/** Noise at a level with bursts above it, the same for the same numbers. */
function bursts(seconds: number, seed: number, quiet: number, loud: number, rate = RATE): Float32Array {
  let state = seed >>> 0 || 1;
  const random = (): number => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 31 - 1;
  let low = 0;
  return Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => {
    const inBurst = Math.floor((i / rate) * 4 + seed / 7) % 4 === 0 && ((i / rate) * 4) % 1 < 0.1;
    low += 0.3 * (random() - low);
    return low * (inBurst ? loud : quiet) * 2;
  });
}

describe('the limiter', () => {
  test('lets nothing stand above the ceiling, at any rate and in pieces of any length', () => {
    fc.assert(
      fc.property(
        fc.record({
          seed: fc.integer({ min: 1, max: 1 << 20 }),
          gainDb: fc.double({ min: 0, max: 18, noNaN: true }),
          rate: fc.constantFrom(22050, 44100, 48000, 96000),
          piece: fc.integer({ min: 1, max: 9000 }),
        }),
        ({ seed, gainDb, rate, piece }) => {
          const input = [bursts(0.3, seed, 0.1, 0.9, rate), bursts(0.3, seed + 1, 0.05, 0.7, rate)];
          const options = { sampleRate: rate, gain: amplitudeOf(gainDb), ceiling: amplitudeOf(-1) };
          const out = through(input, options, piece);
          expect(measure(out, rate).truePeakDbtp).toBeLessThan(-1 + 0.03);
          expect(same(out, through(input, options, frames(input)))).toBe(true);
        },
      ),
      { numRuns: 25 },
    );
  });

  test('also between samples: tones whose tops no sample meets', () => {
    for (const degrees of [0, 30, 45]) {
      const tone = Float32Array.from({ length: RATE / 2 }, (_, i) => {
        const fade = Math.min(1, i / 4000, (RATE / 2 - i) / 4000);
        return 0.9 * fade * Math.sin((Math.PI * i) / 2 + (degrees * Math.PI) / 180);
      });
      const out = through([tone], { sampleRate: RATE, gain: 2, ceiling: amplitudeOf(-1) });
      expect(measure(out).truePeakDbtp).toBeLessThan(-1 + 0.03);
    }
  });

  test('what stands under the ceiling passes with the plain gain, as do places far from a peak', () => {
    const quiet = bursts(0.5, 3, 0.1, 0.1);
    expect(same(through([quiet], { sampleRate: RATE, gain: 1.5, ceiling: 0.9 }), [quiet.map((v) => v * 1.5)])).toBe(
      true,
    );
    const click = quiet.slice();
    click[RATE / 4] = 0.95;
    const [out] = through([click], { sampleRate: RATE, gain: 1.5, ceiling: 0.9, release: 0.005 });
    for (const [i, v] of click.entries()) if (i < RATE / 4 - 300) expect(out![i]).toBe(Math.fround(v * 1.5));
    expect(Math.abs(out![RATE / 4]!)).toBeLessThanOrEqual(0.9);
    expect(Math.abs(out!.at(-1)! - click.at(-1)! * 1.5)).toBeLessThan(1e-6);
  });
});

const same = (a: readonly Float32Array[], b: readonly Float32Array[]): boolean =>
  a.every((samples, c) => samples.every((v, i) => v === b[c]![i]));
const frames = (input: readonly Float32Array[]): number => input[0]!.length;

describe('levelling', () => {
  const levelled = async (
    input: Float32Array[],
    wish: LevelWish,
  ): Promise<{ made: Levelled; out: Float32Array[]; settings: LevelSetting[] }> => {
    let out: Float32Array[] = [];
    const settings: LevelSetting[] = [];
    const made = await level(measure(input), wish, (setting) => {
      settings.push(setting);
      out = through(input, {
        sampleRate: RATE,
        gain: amplitudeOf(setting.gainDb),
        ceiling: setting.ceilingDbtp === null ? null : amplitudeOf(setting.ceilingDbtp),
      });
      return Promise.resolve(measure(out));
    });
    return { made, out, settings };
  };
  const peaky = [bursts(2, 5, 0.06, 0.9)];

  test('is plain gain where nothing comes near the ceiling', async () => {
    const { made, out } = await levelled(peaky, { lufs: -40, ceilingDbtp: -1 });
    expect(made).toMatchObject({ reached: true, passes: 1, setting: { ceilingDbtp: null } });
    const gain = amplitudeOf(made.setting.gainDb);
    expect(same(out, [peaky[0]!.map((v) => v * gain)])).toBe(true);
  });

  test('limits where it has to: within a tenth of a LU, and under the ceiling', async () => {
    for (const lufs of [-20, -14]) {
      const { made } = await levelled(peaky, { lufs, ceilingDbtp: -1 });
      expect(made.reached).toBe(true);
      expect(Math.abs(made.measured.integratedLufs! - lufs)).toBeLessThanOrEqual(0.1);
      expect(made.measured.truePeakDbtp).toBeLessThanOrEqual(-1);
      expect(made.setting.ceilingDbtp).not.toBeNull();
    }
  });

  test('says so where it cannot be reached, and stays under the ceiling; silence stays silence', async () => {
    const { made } = await levelled(peaky, { lufs: 6, ceilingDbtp: -1 });
    expect(made.reached).toBe(false);
    expect(made.measured.truePeakDbtp).toBeLessThanOrEqual(-1);
    const silent = await levelled([new Float32Array(RATE)], { lufs: -23, ceilingDbtp: -1 });
    expect(silent.made).toMatchObject({ reached: false, passes: 1, setting: { gainDb: 0 } });
  });
});
