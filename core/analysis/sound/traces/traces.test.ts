import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createKernels } from '../../../signal/kernels/kernels.ts';
import { EXCERPT, LEVELS, MARGIN } from './blocks.ts';
import { planLappedBlocks } from './lapped.ts';
import { planPolyphaseBlocks, synthesisWindow } from './polyphase.ts';
import { EXCERPT_STEP, findTrace, type Excerpt } from './traces.ts';

const RATE = 44_100,
  SECONDS = 16;

/** Plucked notes with many overtones over a hiss, different on both sides. */
function music(): Float32Array {
  const out = new Float32Array(RATE * SECONDS * 2);
  let state = 1;
  const chance = (): number => {
    state = (state * 1_103_515_245 + 12_345) % 2_147_483_648;
    return state / 2_147_483_648;
  };
  for (let note = 0; note < SECONDS * 6; note++) {
    const from = Math.floor((note / 6) * RATE),
      hz = 110 * 2 ** (Math.floor(chance() * 36) / 12),
      pan = chance();
    for (let i = 0; i < RATE / 2 && from + i < RATE * SECONDS; i++) {
      // A row of pulses, each a short knock: overtones up to the top.
      const phase = ((i * hz) / RATE) % 1;
      const v = 0.3 * Math.exp(-phase * 20) * Math.exp((-4 * i) / RATE) * Math.min(1, i / 200);
      out[2 * (from + i)]! += v * pan;
      out[2 * (from + i) + 1]! += v * (1 - pan);
    }
  }
  return out.map((v) => Math.round((v + (chance() - 0.5) * 0.004) * 32_767) / 32_768);
}

const excerptsOf = (x: Float32Array): Excerpt[] => {
  const out: Excerpt[] = [];
  for (let at = 0; 2 * (at + EXCERPT) <= x.length; at += 3 * EXCERPT_STEP) {
    out.push(
      [0, 1].map((c) => Float32Array.from({ length: EXCERPT }, (_, i) => x[2 * (at + i) + c]!)) as unknown as Excerpt,
    );
  }
  return out;
};

describe('traces of encoders', () => {
  const folder = mkdtempSync(join(tmpdir(), 'early-set-traces-'));
  const own = music();
  beforeAll(() => {
    ffmpeg(['-f', 'f32le', '-ar', `${RATE}`, '-ac', '2', '-i', '-', join(folder, 'own.wav')], own);
  });
  afterAll(() => rmSync(folder, { recursive: true, force: true }));

  function ffmpeg(args: string[], input?: Float32Array): Float32Array {
    const done = spawnSync('ffmpeg', ['-v', 'error', '-y', ...args], {
      maxBuffer: 1 << 28,
      ...(input && { input: Buffer.from(input.buffer, input.byteOffset, input.byteLength) }),
    });
    expect(done.stderr.toString()).toBe('');
    return new Float32Array(
      done.stdout.buffer.slice(done.stdout.byteOffset, done.stdout.byteOffset + done.stdout.length),
    );
  }
  /** Through an encoder and back to 16 bits, from `skip` samples on. */
  const through = (name: string, args: string[], skip = 0): Float32Array => {
    const lossy = join(folder, name),
      back = join(folder, 'back.wav');
    ffmpeg(['-i', join(folder, 'own.wav'), ...args, lossy]);
    ffmpeg(['-i', lossy, '-c:a', 'pcm_s16le', back]);
    return ffmpeg(['-i', back, '-f', 'f32le', '-']).subarray(2 * skip);
  };

  test('none in what was never encoded', () => {
    expect(findTrace(excerptsOf(own))).toBeNull();
  });

  test('MP3 at a high rate, wherever the file was cut', () => {
    const whole = findTrace(excerptsOf(through('a.mp3', ['-b:a', '256k'])));
    expect(whole).toMatchObject({ transform: 'layer III' });
    const cut = findTrace(excerptsOf(through('a.mp3', ['-b:a', '256k'], 100)));
    expect(cut).toMatchObject({ transform: 'layer III', offset: (whole!.offset - 100 + 576) % 576 });
  });

  test.each<[string, string, string[]]>([
    ['AAC', 'a.m4a', ['-b:a', '192k']],
    ['Vorbis', 'a.ogg', ['-c:a', 'libvorbis', '-q:a', '5']],
  ])('%s', (_kind, name, args) => {
    expect(findTrace(excerptsOf(through(name, args)))).not.toBeNull();
  });

  test('one side alone will do, and too little is not judged', () => {
    const mono = through('m.mp3', ['-ac', '1', '-b:a', '96k']);
    const both = Float32Array.from({ length: mono.length * 2 }, (_, i) => mono[i >> 1]!);
    expect(findTrace(excerptsOf(both))).toMatchObject({ transform: 'layer III' });
    expect(findTrace(excerptsOf(both).slice(0, 5))).toBeNull();
  });
});

/** Mean binary logarithms of powers, in three groups. */
function meanLevels(lines: readonly number[]): number[] {
  const width = lines.length / LEVELS;
  const power = (v: number): number => Math.log2((v * 32_768) ** 2 + 1e-3);
  return [0, 1, 2].map((g) => lines.slice(g * width, (g + 1) * width).reduce((sum, v) => sum + power(v), 0) / width);
}
/** In steps of 16 bits, as all that is looked at: what is below these is noise. */
const sound = Float32Array.from(
  { length: EXCERPT },
  (_, i) => Math.round((Math.sin(i * 0.37) * 0.3 + Math.cos(i * i * 0.0001) * 0.2) * 32_768) / 32_768,
);

/** Beside loud tones, numbers of 32 bits leave this open of lines that are next to nothing. */
const CLOSE = 0.05;

test('the lapped transform is that of its definition', () => {
  const { sweep } = planLappedBlocks(createKernels());
  const got = sweep(sound);
  const window = Float64Array.from({ length: 2048 }, (_, i) =>
    Math.sin((Math.PI / 2) * Math.sin((Math.PI / 2048) * (i + 0.5)) ** 2),
  );
  for (const at of [0, 501, 1047]) {
    const lines = Array.from({ length: 648 }, (_, j) => {
      let sum = 0;
      for (let i = 0; i < 2048; i++)
        sum += sound[at + i]! * window[i]! * Math.cos((Math.PI / 1024) * (i + 0.5 + 512) * (j + 96 + 0.5));
      return sum;
    });
    meanLevels(lines).forEach((want, g) => expect(Math.abs(got[at * LEVELS + g]! - want)).toBeLessThan(CLOSE));
  }
});

test('the filter bank of layer III is that of its definition', () => {
  const { sweep, period } = planPolyphaseBlocks(createKernels());
  const got = sweep(sound);
  expect(got).toHaveLength((period + 2 * MARGIN) * LEVELS);
  const sines = Array.from({ length: 36 }, (_, i) => Math.sin((Math.PI / 36) * (i + 0.5)));
  const aliasing = [-0.6, -0.535, -0.33, -0.185, -0.095, -0.041, -0.0142, -0.0037];
  for (const at of [0, 300, 599]) {
    const bands = Array.from({ length: 20 }, (_, b) => {
      const samples = Array.from({ length: 36 }, (_, s) => {
        let sum = 0;
        for (let n = 0; n < 512; n++)
          sum +=
            synthesisWindow(n) *
            sound[at + s * 32 + 511 - n]! *
            Math.cos(((2 * (b + 3) + 1) * (n - 16) * Math.PI) / 64);
        return (b + 3) & s & 1 ? -sum : sum;
      });
      return Array.from({ length: 18 }, (_, m) =>
        samples.reduce((sum, v, i) => sum + v * sines[i]! * Math.cos((Math.PI / 72) * (2 * i + 19) * (2 * m + 1)), 0),
      );
    });
    for (let b = 0; b < 19; b++)
      aliasing.forEach((c, i) => {
        const [u, d] = [bands[b]![17 - i]!, bands[b + 1]![i]!];
        const scale = 1 / Math.sqrt(1 + c * c);
        bands[b]![17 - i] = (u + d * c) * scale;
        bands[b + 1]![i] = (d - u * c) * scale;
      });
    meanLevels(bands.flat()).forEach((want, g) => expect(Math.abs(got[at * LEVELS + g]! - want)).toBeLessThan(CLOSE));
  }
});
