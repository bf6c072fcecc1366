/** A composed piece as a Standard MIDI File, for a General MIDI sound font. */
import type { Piece } from '../../demo/synth/compose.ts';
import type { Drum } from '../../demo/synth/drums.ts';
import type { Instrument } from '../../demo/synth/instruments.ts';
import { pick, type Random } from '../../demo/synth/random.ts';

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
const TICKS_PER_SECOND = 2000;

export interface MidiOptions {
  tuningCents: number;
  played: boolean;
  random: Random;
}

/** Writes a piece as a MIDI file of format 0. */
export function toMidi(piece: Piece, { tuningCents, played, random }: MidiOptions): Uint8Array {
  const programs = new Map<string, number>();
  const channels = new Map<string, number>();
  const events: { tick: number; order: number; bytes: number[] }[] = [];
  const add = (seconds: number, bytes: number[], order = 1): void => {
    events.push({ tick: Math.max(0, Math.round(seconds * TICKS_PER_SECOND)), order, bytes });
  };
  add(0, [0xff, 0x51, 3, 0x07, 0xa1, 0x20], 0); // half a second a quarter
  add(0, [0xc9, pick(random, played ? KITS.played : KITS.electronic)], 0);
  for (const note of piece.notes) {
    const part = `${note.part} ${note.instrument}`;
    if (!channels.has(part)) {
      const channel = channels.size < 9 ? channels.size : channels.size + 1;
      channels.set(part, channel);
      programs.set(part, pick(random, PROGRAMS[note.instrument]));
      add(0, [0xc0 | channel, programs.get(part)!], 0);
      const fine = Math.max(0, Math.min(16383, 8192 + Math.round((tuningCents / 100) * 8192)));
      for (const [controller, value] of [
        [101, 0],
        [100, 1],
        [6, fine >> 7],
        [38, fine & 127],
        [91, 20 + Math.floor(random() * 60)],
        [10, 40 + Math.floor(random() * 48)],
      ] as const)
        add(0, [0xb0 | channel, controller, value], 0);
    }
    const channel = channels.get(part)!;
    const velocity = Math.max(20, Math.min(120, Math.round(40 + 80 * note.gain)));
    add(note.time, [0x90 | channel, note.midi, velocity], 2);
    add(note.time + note.seconds, [0x80 | channel, note.midi, 0], 1);
  }
  const keys = Object.fromEntries(
    Object.entries(DRUM_KEYS).map(([drum, choice]) => [drum, pick(random, choice)]),
  ) as Record<Drum, number>;
  for (const hit of piece.hits) {
    const velocity = Math.max(15, Math.min(127, Math.round(30 + 97 * hit.gain ** 0.7)));
    add(hit.time, [0x99, keys[hit.drum], velocity], 2);
    add(hit.time + 0.1, [0x89, keys[hit.drum], 0], 1);
  }
  add(piece.lengthSeconds, [0xff, 0x2f, 0], 9);
  events.sort((a, b) => a.tick - b.tick || a.order - b.order);
  const track: number[] = [];
  let now = 0;
  for (const { tick, bytes } of events) {
    track.push(...variableLength(tick - now), ...bytes);
    now = tick;
  }
  const word = (n: number): number[] => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
  return Uint8Array.from([
    ...ascii('MThd'),
    ...word(6),
    0,
    0,
    0,
    1,
    (TICKS_PER_SECOND / 2) >> 8,
    (TICKS_PER_SECOND / 2) & 255,
    ...ascii('MTrk'),
    ...word(track.length),
    ...track,
  ]);
}

const ascii = (text: string): number[] => [...text].map((c) => c.charCodeAt(0));

function variableLength(value: number): number[] {
  const out = [value & 127];
  for (let rest = value >> 7; rest > 0; rest >>= 7) out.unshift((rest & 127) | 128);
  return out;
}
