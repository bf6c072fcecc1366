/** One-shot drum sounds, mono, at SAMPLE_RATE. */
import type { Random } from './random.ts';

export const SAMPLE_RATE = 44100;
export type Drum =
  'kick' | 'softKick' | 'snare' | 'brush' | 'clap' | 'rim' | 'hat' | 'openHat' | 'shaker' | 'tom' | 'crash' | 'conga';

const TAU = 2 * Math.PI;

function shape(seconds: number, at: (t: number, i: number) => number): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * SAMPLE_RATE) }, (_, i) => at(i / SAMPLE_RATE, i));
}

/** White noise through one-pole high- and low-passes. */
function noise(
  random: Random,
  seconds: number,
  highPassHz: number,
  lowPassHz: number,
  envelope: (t: number) => number,
): Float32Array {
  const hp = Math.exp((-TAU * highPassHz) / SAMPLE_RATE);
  const lp = 1 - Math.exp((-TAU * lowPassHz) / SAMPLE_RATE);
  let low = 0,
    smooth = 0;
  return shape(seconds, (t) => {
    const white = random() * 2 - 1;
    low = low * hp + white * (1 - hp);
    smooth += lp * (white - low - smooth);
    return smooth * envelope(t);
  });
}

function add(target: Float32Array, source: Float32Array, gain: number, offset = 0): Float32Array {
  for (let i = 0; i < source.length && i + offset < target.length; i++) target[i + offset]! += source[i]! * gain;
  return target;
}

function kick(seconds: number, topHz: number, baseHz: number, click: number, random: Random): Float32Array {
  let phase = 0;
  const body = shape(seconds, (t) => {
    phase += (TAU * (baseHz + (topHz - baseHz) * Math.exp(-t * 38))) / SAMPLE_RATE;
    return Math.sin(phase) * Math.min(1, t * 3000) * Math.exp(-t * (3.2 / seconds)) * Math.min(1, (seconds - t) * 60);
  });
  return add(
    body,
    noise(random, 0.012, 1500, 9000, (t) => Math.exp(-t * 400)),
    click,
  );
}

/** A kit whose sounds differ a little from seed to seed. */
export function makeKit(random: Random): Record<Drum, Float32Array> {
  const tune = 0.9 + random() * 0.25;
  const snareTone = shape(
    0.2,
    (t) => (Math.sin(TAU * 186 * tune * t) + 0.6 * Math.sin(TAU * 331 * tune * t)) * Math.exp(-t * 26),
  );
  const snare = add(
    shape(0.28, () => 0),
    snareTone,
    0.45,
  );
  add(
    snare,
    noise(random, 0.28, 900, 8500, (t) => Math.exp(-t * 17)),
    0.9,
  );
  const clap = shape(0.3, () => 0);
  for (const [offset, gain] of [
    [0, 0.7],
    [0.011, 0.6],
    [0.021, 0.9],
  ] as const) {
    add(
      clap,
      noise(random, 0.22, 900, 5200, (t) => Math.exp(-t * (gain === 0.9 ? 20 : 140))),
      gain,
      Math.round(offset * SAMPLE_RATE),
    );
  }
  const metal = (seconds: number, decay: number): Float32Array => {
    const tones = [4023, 5411, 6218, 7345, 8467].map((hz) => hz * tune);
    const ring = shape(
      seconds,
      (t) => tones.reduce((sum, hz) => sum + Math.sign(Math.sin(TAU * hz * t)), 0) * 0.06 * Math.exp(-t * decay),
    );
    return add(
      ring,
      noise(random, seconds, 6500, 15000, (t) => Math.exp(-t * decay)),
      0.8,
    );
  };
  return {
    kick: kick(0.34, 210 * tune, 49 * tune, 0.5, random),
    softKick: kick(0.26, 130 * tune, 56 * tune, 0.12, random),
    snare,
    brush: noise(random, 0.24, 1200, 6000, (t) => Math.min(1, t * 120) * Math.exp(-t * 16)),
    clap,
    rim: add(
      shape(0.08, (t) => Math.sin(TAU * 1720 * t) * Math.exp(-t * 90)),
      noise(random, 0.02, 2000, 9000, (t) => Math.exp(-t * 200)),
      0.6,
    ),
    hat: metal(0.09, 62),
    openHat: metal(0.36, 11),
    shaker: noise(random, 0.1, 5000, 12000, (t) => Math.min(1, t * 60) * Math.exp(-t * 40)),
    tom: kick(0.4, 190 * tune, 96 * tune, 0.15, random),
    crash: metal(1.9, 2.4),
    conga: kick(0.22, 330 * tune, 228 * tune, 0.3, random),
  };
}
