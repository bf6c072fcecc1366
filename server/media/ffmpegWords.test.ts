import { describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import fc from 'fast-check';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { asMetadata, synthesize } from '../testing/ffmpeg.ts';
import { decodeAsItIs, probe } from './decode.ts';
import { createWords, pipedFrames, readPipedHead } from './ffmpegWords.ts';

const SAID = `[info] Input #0, mov,mp4,m4a,3gp,3g2,mj2, from 'file:/music/a.m4a':
[info]   Metadata:
[info]     title           : [error] not one
[info]                     :   Stream #0:0: Audio: lie, 1 Hz
[info]   Duration: 01:02:03.50, start: 0.000000, bitrate: 251 kb/s
[info]   Stream #0:0[0x1](und): Video: mjpeg, yuvj420p
[info]   Stream #0:1[0x2](und): Audio: aac (LC) (mp4a / 0x6134706D), 44100 Hz, stereo, fltp, 249 kb/s (default)
[aac @ 0x55d0] [error] channel element 3.15 is not allocated
[info] Output #0, wav, to 'pipe:1':
[info]   Stream #0:0: Audio: pcm_f32le, 44100 Hz, stereo, flt, 2822 kb/s
[fatal] Conversion`;

describe('what ffmpeg says', () => {
  test('how the sound is held, and troubles without their levels; however it comes in pieces', () => {
    for (const size of [1, 7, 4096]) {
      const words = createWords();
      for (let at = 0; at < SAID.length; at += size) words.push(SAID.slice(at, at + size));
      expect(words.sound()).toEqual({
        container: 'mov,mp4,m4a,3gp,3g2,mj2',
        codec: 'aac',
        bitrate: 249_000,
        durationSeconds: 3723.5,
      });
      expect(words.troubles()).toBe('[aac @ 0x55d0] channel element 3.15 is not allocated\nConversion');
    }
  });

  test('what it does not know is not made up', () => {
    const words = createWords();
    words.push("[info] Input #0, flac, from 'file:a':\n[info]   Duration: N/A, bitrate: N/A\n");
    expect([words.container(), words.sound(), words.troubles()]).toEqual(['flac', null, '']);
    words.push('[info]   Stream #0:0: Audio: flac, 44100 Hz, stereo, s16\n');
    expect(words.sound()).toEqual({ container: 'flac', codec: 'flac', bitrate: null, durationSeconds: null });
  });

  test('it says the same as the prober does', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'early-set-'));
    try {
      for (const [name, args] of [
        ['a.mp3', ['-b:a', '192k']],
        ['a.flac', []],
        ['a.m4a', ['-c:a', 'aac', '-ar', '48000']],
        ['a.opus', ['-c:a', 'libopus', '-ac', '1']],
        ['a.wav', ['-c:a', 'pcm_s24le', '-ac', '6']],
        ['a.ogg', ['-c:a', 'libvorbis']],
      ] as const) {
        const path = join(folder, name);
        synthesize(path, 'sine=frequency=330:duration=2', ...args, ...asMetadata({ title: "Input #0, it's" }));
        const frames: number[] = [];
        const { probed } = await decodeAsItIs(
          path,
          ({ channels }) =>
            (samples) =>
              frames.push(samples.length / channels),
        );
        const { bitrate, durationSeconds, ...rest } = await probe(path);
        expect(probed).toMatchObject(rest);
        expect(probed.durationSeconds).toBeCloseTo(durationSeconds!, 1);
        expect(Math.abs(probed.bitrate! - bitrate!)).toBeLessThan(1001);
        const seconds = frames.reduce((sum, n) => sum + n, 0) / probed.sampleRate;
        expect(Math.abs(seconds - 2)).toBeLessThan(0.1);
      }
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  });
});

test('the head of a piped WAV is read once it is whole', () => {
  const args = ['-v', 'error', '-f', 'lavfi', '-i', 'anoisesrc=duration=0.1:sample_rate=48000', '-ac', '3'];
  const { stdout } = spawnSync('ffmpeg', [...args, '-c:a', 'pcm_f32le', '-f', 'wav', 'pipe:1']);
  const head = readPipedHead(stdout)!;
  expect(head).toMatchObject({ sampleRate: 48_000, channels: 3 });
  expect(stdout.length - head.bytes).toBe(4800 * 3 * 4);
  for (const cut of [0, 11, 19, head.bytes - 1]) expect(readPipedHead(stdout.subarray(0, cut))).toBeNull();
  expect(readPipedHead(stdout.subarray(0, head.bytes))).toEqual(head);
});

test('in however many pieces it comes, also in a single one, every sample is handed on once', () => {
  const args = ['-v', 'error', '-f', 'lavfi', '-i', 'anoisesrc=duration=0.02:sample_rate=48000', '-ac', '2'];
  const { stdout } = spawnSync('ffmpeg', [...args, '-c:a', 'pcm_f32le', '-bitexact', '-f', 'wav', 'pipe:1']);
  const { bytes } = readPipedHead(stdout)!;
  const samples = new Float32Array(Uint8Array.from(stdout.subarray(bytes)).buffer);
  const lengths = fc.array(fc.integer({ min: 1, max: 3000 }), { minLength: 1, maxLength: 40 });
  fc.assert(
    fc.property(fc.oneof(fc.constant([stdout.length]), lengths), (cuts) => {
      const got: number[] = [];
      const frames = pipedFrames(({ channels, sampleRate }) => {
        expect([channels, sampleRate]).toEqual([2, 48_000]);
        return (piece) => got.push(...piece);
      });
      // As an outlet does it: what was not used comes again with what follows.
      let left = new Uint8Array();
      for (let at = 0, c = 0; at < stdout.length; c++) {
        const next = stdout.subarray(at, at + cuts[c % cuts.length]!);
        at += next.length;
        const piece = Uint8Array.from([...left, ...next]);
        left = piece.slice(frames.take(piece));
      }
      expect(left).toHaveLength(0);
      expect(frames.bytes()).toBe(stdout.length - bytes);
      expect(got).toEqual([...samples]);
    }),
    { numRuns: 60 },
  );
});
