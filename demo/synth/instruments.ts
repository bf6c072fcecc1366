/** Pitched sounds: one note each, mono, at SAMPLE_RATE. */
import { SAMPLE_RATE } from './drums.ts';

export type Instrument =
  'bass' | 'roundBass' | 'reese' | 'pad' | 'strings' | 'keys' | 'piano' | 'pluck' | 'lead' | 'flute' | 'stab';

const TAU = 2 * Math.PI;
const hzOf = (midi: number): number => 440 * 2 ** ((midi - 69) / 12);

/** Correction of a sawtooth's step so that it does not alias (polynomial band-limited step). */
function blep(phase: number, step: number): number {
  if (phase < step) {
    const t = phase / step;
    return t + t - t * t - 1;
  }
  if (phase > 1 - step) {
    const t = (phase - 1) / step;
    return t * t + t + t + 1;
  }
  return 0;
}

interface SawVoice {
  detuneCents: number[];
  cutoffHz: (t: number) => number;
  attack: number;
  release: number;
  decay?: number;
  vibrato?: number;
  square?: boolean;
}

function sawNote(midi: number, seconds: number, voice: SawVoice): Float32Array {
  const length = Math.round((seconds + voice.release) * SAMPLE_RATE);
  const out = new Float32Array(length);
  const steps = voice.detuneCents.map((cents) => hzOf(midi + cents / 100) / SAMPLE_RATE);
  const phases = steps.map((_, i) => (i * 0.37) % 1);
  let low1 = 0,
    low2 = 0,
    cut = 0.1;
  for (let i = 0; i < length; i++) {
    const t = i / SAMPLE_RATE;
    if ((i & 31) === 0) cut = 1 - Math.exp((-TAU * Math.min(16000, voice.cutoffHz(t))) / SAMPLE_RATE);
    const bend = voice.vibrato ? 1 + voice.vibrato * Math.sin(TAU * 5.2 * t) * Math.min(1, t * 2) : 1;
    let x = 0;
    for (let v = 0; v < steps.length; v++) {
      const step = steps[v]! * bend;
      let p = phases[v]! + step;
      if (p >= 1) p -= 1;
      phases[v] = p;
      if (voice.square) {
        const q = p < 0.5 ? p + 0.5 : p - 0.5;
        x += (p < 0.5 ? 1 : -1) + blep(p, step) - blep(q, step);
      } else x += 2 * p - 1 - blep(p, step);
    }
    x /= steps.length;
    low1 += cut * (x - low1);
    low2 += cut * (low1 - low2);
    out[i] = low2 * envelope(t, seconds, voice);
  }
  return out;
}

function envelope(t: number, seconds: number, voice: { attack: number; release: number; decay?: number }): number {
  const rise = Math.min(1, t / voice.attack);
  const fall = t > seconds ? Math.max(0, 1 - (t - seconds) / voice.release) : 1;
  return rise * fall * fall * (voice.decay ? Math.exp(-t * voice.decay) : 1);
}

/** Decaying partials with slight inharmonicity. */
function struck(
  midi: number,
  seconds: number,
  partials: number[],
  decay: number,
  inharmonic: number,
  release = 0.25,
): Float32Array {
  const length = Math.round((seconds + release) * SAMPLE_RATE);
  const out = new Float32Array(length);
  const hz = hzOf(midi);
  partials.forEach((gain, n) => {
    const partialHz = hz * (n + 1) * Math.sqrt(1 + inharmonic * (n + 1) ** 2);
    if (partialHz > 15000) return;
    // A rotating phasor with a built-in decay: two multiplications a sample instead of a sine.
    const angle = (TAU * partialHz) / SAMPLE_RATE;
    const loss = Math.exp((-decay * (1 + n * 0.45)) / SAMPLE_RATE);
    const cos = Math.cos(angle) * loss,
      sin = Math.sin(angle) * loss;
    let re = gain,
      im = 0;
    for (let i = 0; i < length; i++) {
      out[i]! += im;
      const next = re * cos - im * sin;
      im = re * sin + im * cos;
      re = next;
    }
  });
  for (let i = 0; i < length; i++) {
    const t = i / SAMPLE_RATE;
    out[i]! *= Math.min(1, t * 400) * (t > seconds ? Math.max(0, 1 - (t - seconds) / release) : 1);
  }
  return out;
}

const MAKERS: Record<Instrument, (midi: number, seconds: number) => Float32Array> = {
  bass: (m, s) =>
    sawNote(m, s, { detuneCents: [0], cutoffHz: (t) => 240 + 900 * Math.exp(-t * 14), attack: 0.004, release: 0.04 }),
  roundBass: (m, s) => struck(m, s, [1, 0.45, 0.18, 0.06], 1.6, 0, 0.06),
  reese: (m, s) => sawNote(m, s, { detuneCents: [-14, 0, 13], cutoffHz: () => 620, attack: 0.008, release: 0.05 }),
  pad: (m, s) =>
    sawNote(m, s, { detuneCents: [-8, 7], cutoffHz: (t) => 900 + 500 * Math.min(1, t), attack: 0.25, release: 0.5 }),
  strings: (m, s) =>
    sawNote(m, s, { detuneCents: [-5, 4], cutoffHz: () => 2300, attack: 0.12, release: 0.35, vibrato: 0.003 }),
  keys: (m, s) => struck(m, s, [1, 0.32, 0.05, 0.14, 0.02, 0.03], 1.7, 0, 0.2),
  piano: (m, s) => struck(m, s, [1, 0.6, 0.38, 0.26, 0.16, 0.1, 0.06, 0.04], 1.3, 0.0004, 0.3),
  pluck: (m, s) =>
    sawNote(m, s, {
      detuneCents: [0, 5],
      cutoffHz: (t) => 400 + 3800 * Math.exp(-t * 16),
      attack: 0.002,
      release: 0.08,
      decay: 5,
    }),
  lead: (m, s) =>
    sawNote(m, s, {
      detuneCents: [0, 9],
      cutoffHz: () => 2600,
      attack: 0.012,
      release: 0.1,
      vibrato: 0.004,
      square: true,
    }),
  flute: (m, s) =>
    sawNote(m, s, {
      detuneCents: [0],
      cutoffHz: () => 1100,
      attack: 0.06,
      release: 0.12,
      vibrato: 0.005,
      square: true,
    }),
  stab: (m, s) =>
    sawNote(m, s, {
      detuneCents: [-6, 6],
      cutoffHz: (t) => 700 + 2600 * Math.exp(-t * 9),
      attack: 0.003,
      release: 0.06,
      decay: 3,
    }),
};

/** Plays notes, each made once per pitch and length. */
export function createInstrument(name: Instrument): (midi: number, seconds: number) => Float32Array {
  const made = new Map<string, Float32Array>();
  return (midi, seconds) => {
    const length = Math.round(seconds * 200) / 200;
    const id = `${midi}:${length}`;
    const known = made.get(id);
    if (known) return known;
    const note = MAKERS[name](midi, length);
    made.set(id, note);
    return note;
  };
}
