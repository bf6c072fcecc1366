/** A melody over chords: some begin before the bar, some come between the beats. */
import { pick, type Random } from '../../demo/synth/random.ts';
import type { Arrangement } from './arrangement.ts';
import { channelOf, DRUM_CHANNEL, type Message } from '../pieces/midiFile.ts';

/** General MIDI programs, from 0, that carry a melody. */
const VOICES = [0, 4, 11, 21, 22, 24, 26, 40, 42, 52, 56, 60, 64, 65, 66, 68, 71, 73, 74, 75, 80, 81, 105, 110];
/** Rhythms of a bar in eighths, by beats a bar. */
const RHYTHMS: Record<number, readonly (readonly number[])[]> = {
  2: [[0, 3], [0, 1, 2, 3, 4, 5], [0, 2, 3, 5], [0], [0, 3, 5], [1, 2, 3]],
  3: [[0, 2, 4], [0, 4], [0, 3, 4], [0], [0, 1, 2, 4], [2, 4, 5]],
  4: [[0, 2, 4, 6], [0, 3, 6], [0, 4], [2, 3, 4, 6], [0, 1, 3, 4, 6, 7], [1, 3, 5, 6], [0], [3, 5, 7], [0, 6]],
  5: [
    [0, 2, 4, 6, 8],
    [0, 3, 6],
    [0, 6],
  ],
};
/** An eighth, in quarters. */
const EIGHTH = 0.5;
const SCALES = { major: [0, 2, 4, 5, 7, 9, 11], minor: [0, 2, 3, 5, 7, 8, 10] };

/** Adds one on a free channel; where it begins with a pick-up, that lies before 0. Nothing without chords. */
export function addMelody(
  arrangement: Arrangement,
  { tonic, mode, random }: { tonic: number; mode: 'major' | 'minor'; random: Random },
): void {
  const used = new Set(arrangement.messages.map(channelOf));
  const channel = [...Array(16).keys()].find((c) => c !== DRUM_CHANNEL && !used.has(c));
  if (arrangement.chords.length === 0 || channel === undefined) return;
  const { quartersPerBeat, beatsPerBar } = arrangement;
  const bar = beatsPerBar * quartersPerBeat;
  const scale = SCALES[mode].map((s) => (s + tonic) % 12);
  const rhythms = RHYTHMS[beatsPerBar] ?? RHYTHMS[4]!;
  const phrase = Array.from({ length: 4 }, () => pick(random, rhythms));
  const out: Message[] = [{ at: -bar, bytes: [0xc0 | channel, pick(random, VOICES)] }];
  const level = 60 + Math.floor(random() * 50),
    rests = 0.1 + 0.3 * random();
  let pitch = 67 + Math.floor(random() * 8);
  const play = (at: number, quarters: number): void => {
    const velocity = Math.min(127, level + Math.floor(random() * 16));
    out.push(
      { at, bytes: [0x90 | channel, pitch, velocity] },
      { at: at + quarters * 0.92, bytes: [0x80 | channel, pitch, 0] },
    );
  };
  const towards = (classes: readonly number[]): void => {
    const wanted = pitch + Math.round((random() - 0.5) * 9 + (70 - pitch) * 0.15);
    let best = pitch;
    for (let p = 55; p < 88; p++)
      if (classes.includes(p % 12) && (Math.abs(p - wanted) < Math.abs(best - wanted) || !classes.includes(best % 12)))
        best = p;
    pitch = best;
  };
  if (random() < 0.4) {
    const notes = 1 + Math.floor(random() * 3);
    for (let n = notes; n > 0; n--) {
      towards(scale);
      play(-n * EIGHTH, EIGHTH);
    }
    arrangement.pickup = Math.max(arrangement.pickup, notes * EIGHTH);
  }
  arrangement.chords.forEach(({ at, tones }, b) => {
    if (random() < rests) return;
    const starts = phrase[b % 4]!.map((s) => s * EIGHTH).filter((s) => s < bar);
    starts.forEach((s, k) => {
      towards(s % quartersPerBeat === 0 && random() < 0.8 ? tones : scale);
      play(at + s, (starts[k + 1] ?? bar) - s);
    });
  });
  arrangement.messages.push(...out);
  arrangement.messages.sort((x, y) => x.at - y.at);
}
