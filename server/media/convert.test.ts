import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { amplitudeOf } from '@early-set/core/level/level';
import { createLevelMeter } from '@early-set/core/level/meter';
import { TARGET_IDS, TARGETS } from '@early-set/core/stick/player';
import { decode, probe } from './decode.ts';
import { synthesize } from '../testing/ffmpeg.ts';
import { convertFile, type ConvertWish } from './convert.ts';

let folder: string, source: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-convert-'));
  source = join(folder, 'source.flac');
  // Bursts above something quiet, so that a limiter has something to do.
  const sound = '0.08*sin(2*PI*220*t)+0.85*sin(2*PI*997*t)*lt(mod(t\\,0.5)\\,0.02)';
  synthesize(source, `aevalsrc=${sound}|${sound}:s=44100:d=4`, '-metadata', 'title=Not this');
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const wish = (more: Partial<ConvertWish>): ConvertWish => {
  const format = more.format ?? 'wav';
  const kbps = TARGETS[format].kbps.at(-1) ?? null;
  return {
    source,
    to: join(folder, `made${TARGETS[format].ending}`),
    format,
    kbps,
    level: null,
    sampleRate: null,
    ...more,
  };
};
async function measured(path: string) {
  const { sampleRate, channels } = await probe(path);
  const meter = createLevelMeter(sampleRate, channels);
  let frames = 0;
  await decode(path, { sampleRate, channels }, (samples) => {
    frames += samples.length / channels;
    meter.push(Array.from({ length: channels }, (_, c) => samples.filter((_s, i) => i % channels === c)));
  });
  return { ...meter.finish(), frames, sampleRate };
}

test.each(TARGET_IDS)('as %s: its codec, its length, no tags', async (format) => {
  const asked = wish({ format });
  expect(await convertFile(asked)).toBeNull();
  const { codec, sampleRate } = await probe(asked.to);
  expect([codec, sampleRate]).toEqual([TARGETS[format].codec, format === 'opus' ? 48000 : 44100]);
  const { frames } = await measured(asked.to);
  expect(Math.abs(frames / sampleRate - 4)).toBeLessThan(0.06);
  expect(readFileSync(asked.to).includes('Not this')).toBe(false);
});

test.each(TARGET_IDS)(
  'as %s a place in it is where it was: what the coder puts in front, decoders take off',
  async (format) => {
    const asked = wish({ format });
    await convertFile(asked);
    const raw = { sampleRate: 48_000, channels: 1 };
    const heard = async (path: string): Promise<Float32Array> => {
      const pieces: Float32Array[] = [];
      await decode(path, raw, (samples) => void pieces.push(samples.slice()));
      return Float32Array.from(pieces.flatMap((piece) => [...piece]));
    };
    const [before, after] = [await heard(source), await heard(asked.to)];
    /** How much both have in common over half a second when the second is heard so many samples later. */
    const common = (late: number): number => {
      let sum = 0;
      for (let i = 48_000; i < 72_000; i++) sum += before[i]! * (after[i + late] ?? 0);
      return sum;
    };
    let [late, most] = [0, common(0)];
    for (let at = -2400; at <= 2400; at++) {
      const sum = common(at);
      if (sum > most) [late, most] = [at, sum];
    }
    expect(Math.abs(late / 48_000)).toBeLessThan(0.0005);
  },
);

test('without a loss every sample stays as it is', async () => {
  const hash = (path: string): string =>
    execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-c:a', 'pcm_s16le', '-f', 'md5', '-']).toString();
  for (const format of ['flac', 'wav', 'aiff'] as const) {
    const asked = wish({ format });
    await convertFile(asked);
    expect(hash(asked.to)).toBe(hash(source));
  }
});

describe('levelled', () => {
  test('to its loudness within a tenth, under the ceiling, and measured again by who reads the file', async () => {
    for (const [format, near] of [
      ['wav', 0.1],
      ['aac', 0.5],
    ] as const) {
      const asked = wish({ format, level: { lufs: -16, ceilingDbtp: -1 } });
      expect(await convertFile(asked)).toMatchObject({ reached: true });
      const { integratedLufs, truePeakDbtp } = await measured(asked.to);
      expect(Math.abs(integratedLufs! + 16)).toBeLessThanOrEqual(near);
      expect(truePeakDbtp).toBeLessThanOrEqual(format === 'wav' ? -0.99 : 0);
    }
  });
  test('by plain gain where that is enough: every sample, to the last bit of what is written', async () => {
    const asked = wish({ level: { lufs: -40, ceilingDbtp: -1 } });
    const { setting } = (await convertFile(asked))!;
    expect(setting.ceilingDbtp).toBeNull();
    const samplesOf = async (path: string): Promise<number[]> => {
      const all: number[] = [];
      await decode(path, { sampleRate: 44100, channels: 2 }, (samples) => all.push(...samples));
      return all;
    };
    const [was, is] = [await samplesOf(source), await samplesOf(asked.to)];
    const gain = amplitudeOf(setting.gainDb);
    expect(is.length).toBe(was.length);
    expect(Math.max(...is.map((v, i) => Math.abs(v - was[i]! * gain)).slice(0, 100_000))).toBeLessThan(1.01 / 32768);
  });
  test('to a rate that the format has', async () => {
    const odd = join(folder, 'odd.wav');
    synthesize(odd, 'sine=frequency=440:sample_rate=37800:duration=1');
    for (const [format, hertz] of [
      ['mp3', 44100],
      ['aac', 44100],
      ['opus', 48000],
      ['flac', 37800],
    ] as const) {
      const asked = wish({ format, source: odd, to: join(folder, `odd${TARGETS[format].ending}`) });
      await convertFile(asked);
      expect((await probe(asked.to)).sampleRate).toBe(hertz);
    }
  });
  test('resampled where it has to be', async () => {
    const asked = wish({ sampleRate: 48000, level: { lufs: -23, ceilingDbtp: -1 } });
    await convertFile(asked);
    const { integratedLufs, sampleRate } = await measured(asked.to);
    expect(sampleRate).toBe(48000);
    expect(Math.abs(integratedLufs! + 23)).toBeLessThanOrEqual(0.1);
  });
});

test('what is no sound is said, what is called off is gone', async () => {
  const broken = join(folder, 'broken.flac');
  writeFileSync(broken, 'no sound at all, whatever its name says');
  const asked = wish({ format: 'mp3', source: broken, to: join(folder, 'not.mp3') });
  await expect(convertFile(asked)).rejects.toThrow(/sound/);
  const off = new AbortController();
  off.abort(new Error('called off'));
  const other = wish({ to: join(folder, 'off.wav'), level: { lufs: -14, ceilingDbtp: -1 } });
  await expect(convertFile(other, off.signal)).rejects.toThrow();
  expect([asked.to, other.to].filter((path) => existsSync(path))).toEqual([]);
  expect(readdirSync(folder).filter((name) => name.startsWith('.level'))).toEqual([]);
});
