/** Fingerprints through ffmpeg, on a small piece of music in several encodings. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compareFingerprints, fingerprintWords, sameRecording } from '@early-set/core/analysis/fingerprint';
import { compose } from '../../demo/synth/compose.ts';
import { seeded } from '../../demo/synth/random.ts';
import { render } from '../../demo/synth/render.ts';
import { STYLES } from '../../demo/synth/styles.ts';
import { wavHeader } from './audition.ts';
import { decode, probe } from './decode.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-fingerprint-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A piece as a WAV file. */
function made(name: string, style: keyof typeof STYLES, seed: number): string {
  const piece = compose(
    { style: STYLES[style], bpm: 122, tonic: 2, mode: 'minor', seconds: 40, leadIn: 0 },
    seeded(seed),
  );
  const { left, right } = render(piece, STYLES[style], -12, seeded(seed + 1));
  const data = Buffer.alloc(left.length * 4);
  left.forEach((v, i) => {
    data.writeInt16LE(Math.round(Math.max(-1, Math.min(1, v)) * 32767), i * 4);
    data.writeInt16LE(Math.round(Math.max(-1, Math.min(1, right[i]!)) * 32767), i * 4 + 2);
  });
  const path = join(folder, `${name}.wav`);
  writeFileSync(path, Buffer.concat([wavHeader(data.length), data]));
  return path;
}

function ffmpeg(from: string, name: string, ...args: string[]): string {
  const to = join(folder, name);
  const done = spawnSync('ffmpeg', ['-v', 'error', '-y', '-i', from, ...args, to], { encoding: 'utf8' });
  if (done.status !== 0) throw new Error(done.stderr);
  return to;
}

async function fingerprint(path: string): Promise<Uint32Array> {
  const { fingerprint: bytes } = await decode(path, await probe(path), () => undefined, { fingerprint: true });
  return fingerprintWords(bytes!);
}

let original: string;
beforeAll(() => {
  original = made('original', 'house', 11);
});

describe('one recording', () => {
  test.each([
    ['as MP3 at 64 kbit/s', () => ffmpeg(original, 'a.mp3', '-b:a', '64k'), 0],
    [
      'as Vorbis, 12 dB quieter',
      () => ffmpeg(original, 'b.ogg', '-c:a', 'libvorbis', '-q:a', '2', '-af', 'volume=-12dB'),
      0,
    ],
    ['beginning 7.3 s later, as AAC', () => ffmpeg(original, 'c.m4a', '-ss', '7.3', '-b:a', '96k'), 7.3],
    [
      'with 4 s of silence before, at 32 kHz',
      () => ffmpeg(original, 'd.flac', '-af', 'adelay=4000:all=1', '-ar', '32000'),
      -4,
    ],
  ])('%s is found, with its offset', async (_name, make, offset) => {
    const [a, b] = [await fingerprint(original), await fingerprint(make())];
    expect(sameRecording(a, b)).toBe(true);
    expect(Math.abs(compareFingerprints(a, b)!.offsetSeconds - offset)).toBeLessThan(0.3);
  });
});

test('another mix at the same tempo and in the same key is not the same recording', async () => {
  expect(sameRecording(await fingerprint(original), await fingerprint(made('mix', 'deepHouse', 12)))).toBe(false);
});

test('too short a sound has no fingerprint, and is decoded all the same', async () => {
  const short = ffmpeg(original, 'short.wav', '-t', '0.3');
  const done = await decode(short, await probe(short), () => undefined, { fingerprint: true });
  expect(fingerprintWords(done.fingerprint ?? Buffer.alloc(0)).length).toBe(0);
});
