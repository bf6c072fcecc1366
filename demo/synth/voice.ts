/**
 * Sounds for what is spoken: syllables of a buzzing voice through two formants, with the pauses of a sentence, and no
 * words. The resonators are those of Klatt (1980); formants of vowels after Peterson and Barney (1952), rounded.
 */
import { SAMPLE_RATE } from './drums.ts';
import { pick, type Random } from './random.ts';
import type { Stereo } from './render.ts';

/** First and second formant of some vowels, in Hz. */
const VOWELS = [
  [270, 2290],
  [390, 1990],
  [530, 1840],
  [660, 1720],
  [730, 1090],
  [570, 840],
  [440, 1020],
  [300, 870],
] as const;

/** One formant: a resonance of a bandwidth, both in Hz. */
function resonator(frequency: number, bandwidth: number): (x: number) => number {
  const c = -Math.exp((-2 * Math.PI * bandwidth) / SAMPLE_RATE),
    b = 2 * Math.exp((-Math.PI * bandwidth) / SAMPLE_RATE) * Math.cos((2 * Math.PI * frequency) / SAMPLE_RATE),
    a = 1 - b - c;
  let before = 0,
    twoBefore = 0;
  return (x) => {
    const y = a * x + b * before + c * twoBefore;
    twoBefore = before;
    before = y;
    return y;
  };
}

/** Adds a syllable. @returns the time behind it, in seconds */
function syllable(into: Float32Array, at: number, pitch: number, random: Random): number {
  const seconds = 0.13 + random() * 0.13,
    breath = random() < 0.6 ? 0.02 + random() * 0.05 : 0;
  const [low, high] = pick(random, VOWELS);
  const first = resonator(low, 80),
    second = resonator(high, 110),
    hiss = resonator(4200, 1800);
  const start = Math.round(at * SAMPLE_RATE),
    length = Math.round((seconds + breath) * SAMPLE_RATE),
    consonant = Math.round(breath * SAMPLE_RATE);
  let phase = 0;
  for (let i = 0; i < length && start + i < into.length; i++) {
    if (i < consonant) {
      into[start + i]! += hiss(random() * 2 - 1) * 0.9 * Math.sin((Math.PI * i) / consonant);
      continue;
    }
    const along = (i - consonant) / (length - consonant);
    phase = (phase + (pitch * (1.04 - 0.1 * along)) / SAMPLE_RATE) % 1;
    const voice = 1 - 2 * phase,
      loud = Math.sin(Math.PI * Math.min(1, along * 1.15)) ** 0.7;
    into[start + i]! += (first(voice) + second(voice) * 0.6) * loud;
  }
  return at + seconds + breath;
}

/** Sentences until it is over: the pitch falls along each, and a breath is taken behind it. */
export function speak(seconds: number, random: Random): Stereo {
  const sound = new Float32Array(Math.round(seconds * SAMPLE_RATE));
  let at = 0.15;
  while (at < seconds - 1.2) {
    const words = 3 + Math.floor(random() * 6);
    for (let word = 0; word < words && at < seconds - 0.8; word++) {
      const syllables = 1 + Math.floor(random() * 3);
      for (let i = 0; i < syllables && at < seconds - 0.4; i++)
        at = syllable(sound, at, 128 * (1.18 - (0.3 * word) / words) * (0.96 + random() * 0.08), random);
      at += random() * 0.07;
    }
    at += 0.28 + random() * 0.4;
  }
  return levelled(sound, 0.62);
}

/** Bells that rise, and ring out. */
export function chime(seconds: number, random: Random): Stereo {
  const sound = new Float32Array(Math.round(seconds * SAMPLE_RATE));
  const root = 392 * 2 ** (Math.floor(random() * 5) / 12);
  const notes = [0, 7, 4, 12, 16].map((step, i) => ({ hz: root * 2 ** (step / 12), at: (i * seconds) / 13 }));
  for (const { hz, at } of notes)
    for (let i = Math.round(at * SAMPLE_RATE); i < sound.length; i++) {
      const t = i / SAMPLE_RATE - at;
      const ring = Math.exp((-3.2 * t) / (seconds / 6)) * Math.min(1, t * 400);
      sound[i]! +=
        ring * (Math.sin(2 * Math.PI * hz * t) + 0.4 * Math.sin(2 * Math.PI * hz * 2.76 * t) * Math.exp(-6 * t));
    }
  return levelled(sound, 0.7);
}

/** Its loudest sample at a height of 0 … 1, ends taken down, on both sides. */
function levelled(sound: Float32Array, height: number): Stereo {
  let top = 0;
  for (const x of sound) top = Math.max(top, Math.abs(x));
  const fade = Math.round(0.02 * SAMPLE_RATE);
  const left = sound.map(
    (x, i) => (x / Math.max(top, 1e-9)) * height * Math.min(1, i / fade, (sound.length - 1 - i) / fade),
  );
  return { left, right: left.slice() };
}
