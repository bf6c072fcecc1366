/** What happens to recordings on their way: old records, hot masters, other speeds, section changes. */
import type { Piece } from '../../demo/synth/compose.ts';
import type { Random } from '../../demo/synth/random.ts';
import type { Stereo } from '../../demo/synth/render.ts';

export type Effect = 'record' | 'limited' | 'clipped' | 'quiet';

const RATE = 44100;

/** Applies an effect in place. */
export function applyEffect(sound: Stereo, effect: Effect, random: Random): void {
  const sides = [sound.left, sound.right];
  const peak = Math.max(...sides.map((x) => x.reduce((top, v) => Math.max(top, Math.abs(v)), 0))) || 1;
  if (effect === 'record') addRecordNoise(sound, peak, random);
  if (effect === 'quiet') for (const x of sides) for (let i = 0; i < x.length; i++) x[i]! *= 0.06 / peak;
  if (effect === 'clipped')
    for (const x of sides)
      for (let i = 0; i < x.length; i++) x[i] = Math.max(-0.99, Math.min(0.99, (x[i]! / peak) * 2.2));
  if (effect === 'limited') limitHard(sound, peak);
}

/** Rumble of the platter, surface noise, and a few crackles a second. */
function addRecordNoise({ left, right }: Stereo, peak: number, random: Random): void {
  let rumble = 0,
    hiss = 0;
  for (let i = 0; i < left.length; i++) {
    rumble += 0.004 * (random() - 0.5) - rumble * 0.004;
    hiss = 0.6 * hiss + 0.4 * (random() - 0.5);
    const noise = peak * (0.5 * rumble + 0.02 * hiss);
    left[i]! += noise;
    right[i]! += noise * 0.8;
  }
  for (let at = 0; at < left.length; at += Math.floor(RATE * 0.5 * random()) + 400) {
    const height = peak * (0.08 + 0.35 * random() ** 3) * (random() < 0.5 ? -1 : 1);
    for (let k = 0; k < 40 && at + k < left.length; k++) {
      const value = height * Math.exp(-k / 6) * Math.cos(k * 1.1);
      left[at + k]! += value;
      right[at + k]! += value * random();
    }
  }
}

/** A fast limiter with a lot of gain: peaks follow one another at full scale. */
function limitHard({ left, right }: Stereo, peak: number): void {
  let gain = 1;
  for (let i = 0; i < left.length; i++) {
    const l = (left[i]! / peak) * 3,
      r = (right[i]! / peak) * 3;
    const top = Math.max(Math.abs(l), Math.abs(r)) * gain;
    gain = top > 0.97 ? (gain * 0.97) / top : Math.min(1, gain * 1.00006);
    left[i] = l * gain;
    right[i] = r * gain;
  }
}

/** Plays everything after `at` seconds `ratio` times as fast: a change of tempo midway. */
export function changeTempo(piece: Piece, at: number, ratio: number): void {
  const warp = (t: number): number => (t <= at ? t : at + (t - at) / ratio);
  for (const hit of piece.hits) hit.time = warp(hit.time);
  for (const note of piece.notes) {
    const end = warp(note.time + note.seconds);
    note.time = warp(note.time);
    note.seconds = end - note.time;
  }
  piece.beats = piece.beats.map(warp);
  piece.lengthSeconds = warp(piece.lengthSeconds);
}

/** Lifts everything after `at` seconds by some semitones: a modulation. */
export function modulate(piece: Piece, at: number, semitones: number): void {
  for (const note of piece.notes) if (note.time >= at) note.midi += semitones;
}

/** Leaves drum strokes out and puts others a sixteenth beside: no two bars are the same. */
export function scatterDrums(piece: Piece, share: number, sixteenth: number, random: Random): void {
  piece.hits = piece.hits.flatMap((hit) => {
    if (random() < share) return [];
    return random() < share / 2
      ? [hit, { ...hit, time: Math.max(0, hit.time + (random() < 0.5 ? -sixteenth : sixteenth)), gain: hit.gain * 0.6 }]
      : [hit];
  });
}

/** Fades out over `seconds` up to `end` and stops there. */
export function fadeOut({ left, right }: Stereo, end: number, seconds: number): Stereo {
  const last = Math.min(left.length, Math.round(end * RATE)),
    length = Math.round(seconds * RATE);
  for (let i = Math.max(0, last - length); i < last; i++) {
    const gain = ((last - i) / length) ** 1.5;
    left[i]! *= gain;
    right[i]! *= gain;
  }
  return { left: left.slice(0, last), right: right.slice(0, last) };
}
