/** MIDI files played by a sound font, and what a platter does to sound. */
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import type { Stereo } from '../../demo/synth/render.ts';

export const RATE = 44100;

/**
 * Plays a MIDI file with a sound font through fluidsynth.
 * @param frames of the sound at the most
 * @throws Error where fluidsynth fails
 */
export function playMidi(midi: string, soundFont: string, frames: number): Stereo {
  const wav = `${midi}.wav`;
  const played = spawnSync(
    'fluidsynth',
    ['-ni', '-q', '-g', '0.5', '-r', String(RATE), '-T', 'wav', '-O', 's16', '-F', wav, soundFont, midi],
    { encoding: 'utf8' },
  );
  if (played.status !== 0) throw new Error(`fluidsynth ended with ${played.status}: ${played.stderr}`);
  const bytes = readFileSync(wav);
  rmSync(wav);
  const data = bytes.indexOf('data') + 8;
  const length = Math.min(frames, Math.floor((bytes.length - data) / 4));
  const left = new Float32Array(length),
    right = new Float32Array(length);
  for (let i = 0, at = data; i < length; i++, at += 4) {
    left[i] = bytes.readInt16LE(at) / 32768;
    right[i] = bytes.readInt16LE(at + 2) / 32768;
  }
  return { left, right };
}

/** Resamples by cubic interpolation, as a platter turning faster or slower would. */
export function atSpeed(sound: Stereo, speed: number): Stereo {
  if (speed === 1) return sound;
  const turn = (x: Float32Array): Float32Array =>
    Float32Array.from({ length: Math.floor((x.length - 3) / speed) }, (_, i) => {
      const at = i * speed,
        k = Math.floor(at),
        f = at - k;
      const a = x[k - 1] ?? 0,
        b = x[k]!,
        c = x[k + 1]!,
        d = x[k + 2]!;
      return b + 0.5 * f * (c - a + f * (2 * a - 5 * b + 4 * c - d + f * (3 * (b - c) + d - a)));
    });
  return { left: turn(sound.left), right: turn(sound.right) };
}
