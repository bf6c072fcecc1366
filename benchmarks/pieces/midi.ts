/** A composed piece as a Standard MIDI File, for a General MIDI sound font. */
import type { Piece } from '../../demo/synth/compose.ts';
import type { Drum } from '../../demo/synth/drums.ts';
import type { Instrument } from '../../demo/synth/instruments.ts';
import { pick, type Random } from '../../demo/synth/random.ts';
import { writeMidi } from './midiFile.ts';

/** Percussion keys of General MIDI, channel 10. */
const DRUM_KEYS: Record<Drum, number[]> = {
  kick: [36, 35],
  softKick: [35],
  snare: [38, 40],
  brush: [38],
  clap: [39],
  rim: [37],
  hat: [42],
  openHat: [46],
  shaker: [82, 70, 69],
  tom: [45, 47],
  crash: [49],
  conga: [63, 62, 61],
};
/** Programs (from 0) that can play each part of the synthesiser's. */
const PROGRAMS: Record<Instrument, number[]> = {
  bass: [33, 34, 36, 38, 39],
  roundBass: [32, 33, 35, 39],
  reese: [38, 39, 87],
  pad: [88, 89, 90, 91, 94, 95],
  strings: [48, 49, 50, 51, 44],
  keys: [4, 5, 7, 16, 17],
  piano: [0, 1, 2, 3],
  pluck: [24, 25, 27, 45, 11, 12, 46],
  lead: [80, 81, 65, 66, 56, 26],
  flute: [73, 75, 71, 68, 79],
  stab: [61, 62, 63, 55, 16, 18, 28],
};
const KITS = { electronic: [24, 25, 0, 16], played: [0, 8, 16, 32, 40] };

export interface MidiOptions {
  tuningCents: number;
  played: boolean;
  random: Random;
}

/** Writes a piece as a MIDI file of format 0. */
export function toMidi(piece: Piece, { tuningCents, played, random }: MidiOptions): Uint8Array {
  const programs = new Map<string, number>();
  const channels = new Map<string, number>();
  const messages: { seconds: number; bytes: number[] }[] = [];
  const add = (seconds: number, bytes: number[]): void => {
    messages.push({ seconds, bytes });
  };
  add(0, [0xc9, pick(random, played ? KITS.played : KITS.electronic)]);
  for (const note of piece.notes) {
    const part = `${note.part} ${note.instrument}`;
    if (!channels.has(part)) {
      const channel = channels.size < 9 ? channels.size : channels.size + 1;
      channels.set(part, channel);
      programs.set(part, pick(random, PROGRAMS[note.instrument]));
      add(0, [0xc0 | channel, programs.get(part)!]);
      const fine = Math.max(0, Math.min(16383, 8192 + Math.round((tuningCents / 100) * 8192)));
      for (const [controller, value] of [
        [101, 0],
        [100, 1],
        [6, fine >> 7],
        [38, fine & 127],
        [91, 20 + Math.floor(random() * 60)],
        [10, 40 + Math.floor(random() * 48)],
      ] as const)
        add(0, [0xb0 | channel, controller, value]);
    }
    const channel = channels.get(part)!;
    const velocity = Math.max(20, Math.min(120, Math.round(40 + 80 * note.gain)));
    add(note.time, [0x90 | channel, note.midi, velocity]);
    add(note.time + note.seconds, [0x80 | channel, note.midi, 0]);
  }
  const keys = Object.fromEntries(
    Object.entries(DRUM_KEYS).map(([drum, choice]) => [drum, pick(random, choice)]),
  ) as Record<Drum, number>;
  for (const hit of piece.hits) {
    const velocity = Math.max(15, Math.min(127, Math.round(30 + 97 * hit.gain ** 0.7)));
    add(hit.time, [0x99, keys[hit.drum], velocity]);
    add(hit.time + 0.1, [0x89, keys[hit.drum], 0]);
  }
  return writeMidi(messages, piece.lengthSeconds);
}
