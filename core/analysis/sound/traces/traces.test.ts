import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { EXCERPT, LEVELS, MARGIN, meanLevels } from './blocks.ts';
import { planLappedBlocks } from './lapped.ts';
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

test('the lapped transform is that of its definition', () => {
  const x = Float32Array.from({ length: EXCERPT }, (_, i) => Math.sin(i * 0.37) * 0.3 + Math.cos(i * i * 0.0001) * 0.2);
  const blocks = planLappedBlocks(),
    got = new Float64Array((blocks.period + 2 * MARGIN) * LEVELS);
  blocks.sweep(x, got);
  const window = Float64Array.from({ length: 2048 }, (_, i) =>
    Math.sin((Math.PI / 2) * Math.sin((Math.PI / 2048) * (i + 0.5)) ** 2),
  );
  for (const at of [0, 500, 1047]) {
    const lines = Float64Array.from({ length: 744 }, (_, k) => {
      let sum = 0;
      for (let i = 0; k >= 96 && i < 2048; i++)
        sum += x[at + i]! * window[i]! * Math.cos((Math.PI / 1024) * (i + 0.5 + 512) * (k + 0.5));
      return sum;
    });
    const want = new Float64Array(LEVELS);
    meanLevels(lines, 96, 744, want, 0);
    for (let g = 0; g < LEVELS; g++) expect(got[at * LEVELS + g]).toBeCloseTo(want[g]!, 2);
  }
});
