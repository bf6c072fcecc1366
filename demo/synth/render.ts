/** Mixes a piece to stereo: panned parts, pumping, a room, and a level in LUFS. */
import { createLoudnessMeter } from '@early-set/core/analysis/loudness/loudness';
import type { Piece } from './compose.ts';
import { makeKit, SAMPLE_RATE, type Drum } from './drums.ts';
import { createInstrument, type Instrument } from './instruments.ts';
import type { Random } from './random.ts';
import type { Style } from './styles.ts';

export interface Stereo {
  left: Float32Array;
  right: Float32Array;
}

const PAN: Partial<Record<Drum, number>> = {
  hat: 0.25,
  openHat: -0.2,
  shaker: -0.45,
  conga: 0.4,
  rim: -0.3,
  tom: 0.3,
  crash: 0.35,
};

function mix(target: Stereo, sound: Float32Array, time: number, gain: number, pan: number): void {
  const start = Math.round(time * SAMPLE_RATE);
  const end = Math.min(sound.length, target.left.length - start);
  const gl = gain * Math.SQRT1_2 * Math.sqrt(1 - pan) * Math.SQRT2;
  const gr = gain * Math.SQRT1_2 * Math.sqrt(1 + pan) * Math.SQRT2;
  const { left, right } = target;
  for (let i = 0; i < end; i++) {
    left[start + i]! += sound[i]! * gl;
    right[start + i]! += sound[i]! * gr;
  }
}

const silence = (length: number): Stereo => ({ left: new Float32Array(length), right: new Float32Array(length) });

/** A small room after Schroeder (1962): four combs on the sum, then two all-passes of its own for each side. */
function addRoom(bus: Stereo, amount: number): void {
  const length = bus.left.length;
  const wet = new Float32Array(length);
  for (const delay of [1557, 1617, 1491, 1422]) {
    const line = new Float32Array(delay);
    let damped = 0;
    for (let i = 0, at = 0; i < length; i++) {
      const out = line[at]!;
      damped = out * 0.72 + damped * 0.28;
      line[at] = (bus.left[i]! + bus.right[i]!) * 0.5 + damped * 0.8;
      if (++at === delay) at = 0;
      wet[i] = wet[i]! + out * 0.25;
    }
  }
  for (const [channel, delays] of [
    [bus.left, [556, 341]],
    [bus.right, [579, 364]],
  ] as const) {
    const first = new Float32Array(delays[0]),
      second = new Float32Array(delays[1]);
    for (let i = 0, a = 0, b = 0; i < length; i++) {
      const outA = first[a]!;
      first[a] = wet[i]! + outA * 0.5;
      const x = outA - wet[i]! * 0.5;
      if (++a === first.length) a = 0;
      const outB = second[b]!;
      second[b] = x + outB * 0.5;
      channel[i] = channel[i]! + (outB - x * 0.5) * amount;
      if (++b === second.length) b = 0;
    }
  }
}

/** Turns the music down after each kick and lets it come back. */
function duck(bus: Stereo, kicks: number[], depth: number): void {
  const length = Math.round(0.22 * SAMPLE_RATE);
  for (const time of kicks) {
    const start = Math.round(time * SAMPLE_RATE);
    for (let i = 0; i < length && start + i < bus.left.length; i++) {
      const gain = 1 - depth * (1 - i / length) ** 2;
      bus.left[start + i]! *= gain;
      bus.right[start + i]! *= gain;
    }
  }
}

/** Brings the mix to a loudness, rounding off what goes over full scale; two passes settle it within 0.5 LU. */
function level(bus: Stereo, lufs: number): void {
  const { left, right } = bus;
  for (let pass = 0; pass < 2; pass++) {
    const meter = createLoudnessMeter(SAMPLE_RATE, 2);
    meter.push([left, right], left.length);
    const gain = 10 ** ((lufs - (meter.finish().integratedLufs ?? lufs)) / 20);
    for (const channel of [left, right]) {
      for (let i = 0; i < channel.length; i++) channel[i] = limit(channel[i]! * gain);
    }
  }
}

/** Straight up to 0.7, then bending towards 0.97. */
function limit(x: number): number {
  const a = Math.abs(x);
  return a <= 0.7 ? x : Math.sign(x) * (0.7 + 0.27 * Math.tanh((a - 0.7) / 0.27));
}

/** Renders a piece in a style. */
export function render(piece: Piece, style: Style, lufs: number, random: Random): Stereo {
  const length = Math.ceil(piece.lengthSeconds * SAMPLE_RATE);
  const drums = silence(length);
  const music = silence(length);
  const kit = makeKit(random);
  for (const hit of piece.hits) mix(drums, kit[hit.drum], hit.time, hit.gain, PAN[hit.drum] ?? 0);
  const players = new Map<Instrument, ReturnType<typeof createInstrument>>();
  piece.notes.forEach((note, i) => {
    const player = players.get(note.instrument) ?? createInstrument(note.instrument);
    players.set(note.instrument, player);
    const pan = note.part === 'bass' ? 0 : note.part === 'melody' ? 0.15 : ((i % 3) - 1) * 0.45;
    mix(music, player(note.midi, note.seconds), note.time, note.gain * 0.5, pan);
  });
  if (style.duck > 0)
    duck(
      music,
      piece.hits.filter((h) => h.drum === 'kick').map((h) => h.time),
      style.duck,
    );
  addRoom(music, style.room);
  for (let i = 0; i < length; i++) {
    music.left[i]! += drums.left[i]! * 0.8;
    music.right[i]! += drums.right[i]! * 0.8;
  }
  const fade = Math.round(0.6 * SAMPLE_RATE);
  for (let i = 0; i < fade; i++) {
    music.left[length - 1 - i]! *= i / fade;
    music.right[length - 1 - i]! *= i / fade;
  }
  level(music, lufs);
  return music;
}
