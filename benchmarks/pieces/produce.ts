/** Makes one piece of the benchmark: composed, played by either source, worn, encoded. Runs in a worker thread. */
import { spawnSync } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { encode } from '../../demo/encode.ts';
import { compose, type Piece } from '../../demo/synth/compose.ts';
import { seeded } from '../../demo/synth/random.ts';
import { render, type Stereo } from '../../demo/synth/render.ts';
import type { Style } from '../../demo/synth/styles.ts';
import { keyOf } from '@early-set/core/fields/keys';
import { applyEffect, changeTempo, fadeOut, modulate, scatterDrums } from './effects.ts';
import { toMidi } from './midi.ts';
import type { PiecePlan } from './plan.ts';
import { BEATLESS, BENCH_STYLES, DANCE } from './styles.ts';

export interface PieceTruth {
  name: string;
  file: string;
  source: string;
  style: string;
  dance: boolean;
  heldBack: boolean;
  /** null without a pulse. */
  bpm: number | null;
  steady: boolean;
  beatsPerBar: number;
  beats: number[];
  key: string;
  tuningCents: number;
  /** Where each part of the form begins, in seconds. */
  sections: { name: string; start: number }[];
  fades: boolean;
  changes: string[];
}

export interface MakePiece {
  plan: PiecePlan;
  folder: string;
  soundFont: string;
}

const RATE = 44100;

/** Makes a piece in a folder and returns the truth about it. */
export default async function produce({ plan, folder, soundFont }: MakePiece): Promise<PieceTruth> {
  const style: Style = { ...BENCH_STYLES[plan.style], ...(plan.drift === null ? {} : { drift: plan.drift }) };
  const random = seeded(plan.seed);
  const piece = compose(
    {
      style,
      bpm: plan.bpm,
      tonic: plan.tonic,
      mode: plan.mode,
      seconds: plan.seconds,
      leadIn: plan.leadIn,
      form: plan.form,
      ...(plan.harmony ? { harmony: plan.harmony } : {}),
    },
    random,
  );
  if (plan.lift) modulate(piece, piece.beats[Math.floor((piece.beats.length * 0.75) / 16) * 16] ?? Infinity, plan.lift);
  if (plan.tempoChange)
    changeTempo(
      piece,
      piece.beats[Math.floor(piece.beats.length / 2 / style.beatsPerBar) * style.beatsPerBar]!,
      plan.tempoChange,
    );
  if (plan.scatter) scatterDrums(piece, plan.scatter, 15 / plan.bpm, random);
  const whole =
    plan.source === 'synthesiser'
      ? render(piece, style, -9 - 6 * random(), seeded(plan.seed ^ 0x5eed))
      : playFont(piece, plan, style, folder, soundFont);
  const end = plan.fades ? piece.beats.at(-2 * style.beatsPerBar - 2)! : Infinity;
  const sound = plan.fades ? fadeOut(whole, end, 6) : whole;
  if (plan.effect) applyEffect(sound, plan.effect, seeded(plan.seed ^ 0xeff));
  const ending = plan.encoding.startsWith('mp3') ? 'mp3' : plan.encoding;
  const file = join(folder, `${plan.name}.${ending}`);
  await encode(atSpeed(sound, plan.speed), plan.encoding, file, join(folder, `.${plan.name}`), {});
  return {
    name: plan.name,
    file,
    source: plan.source,
    style: plan.style,
    dance: DANCE.has(plan.style),
    heldBack: plan.heldBack,
    bpm: BEATLESS.has(plan.style) ? null : plan.bpm * plan.speed,
    steady: style.drift === 0 && plan.tempoChange === null,
    beatsPerBar: style.beatsPerBar,
    beats: piece.beats.filter((b) => b < end - 2).map((b) => b / plan.speed),
    sections: piece.sections
      .map((part) => ({ name: part.name, start: piece.beats[part.firstBar * style.beatsPerBar]! / plan.speed }))
      .filter((part) => part.start < end / plan.speed),
    fades: plan.fades,
    ...keyTruth(plan),
    changes: [
      plan.form === 'late drums' ? 'late drums' : '',
      plan.tempoChange ? 'tempo change' : '',
      plan.lift ? 'modulates' : '',
      plan.harmonyName ?? '',
      plan.fades ? 'fades' : '',
      plan.scatter > 0.05 ? 'uneven drums' : '',
      plan.effect ?? '',
      plan.speed === 1 ? '' : 'other speed',
      plan.encoding,
    ].filter(Boolean),
  };
}

/** Speed and tuning move the pitch together; past half a semitone it is another key. */
function keyTruth({ tonic, mode, tuningCents, speed, source }: PiecePlan): { key: string; tuningCents: number } {
  const cents = (source === 'sound font' ? tuningCents : 0) + 1200 * Math.log2(speed);
  const semitones = Math.round(cents / 100);
  return { key: keyOf((((tonic + semitones) % 12) + 12) % 12, mode), tuningCents: cents - 100 * semitones };
}

/** Plays a piece with a General MIDI sound font through fluidsynth. */
function playFont(piece: Piece, plan: PiecePlan, style: Style, folder: string, soundFont: string): Stereo {
  const midi = join(folder, `.${plan.name}.mid`),
    wav = join(folder, `.${plan.name}.wav`);
  writeFileSync(
    midi,
    toMidi(piece, { tuningCents: plan.tuningCents, played: style.loose > 0, random: seeded(plan.seed ^ 0xf0) }),
  );
  const played = spawnSync(
    'fluidsynth',
    ['-ni', '-q', '-g', '0.5', '-r', String(RATE), '-T', 'wav', '-O', 's16', '-F', wav, soundFont, midi],
    { encoding: 'utf8' },
  );
  if (played.status !== 0) throw new Error(`fluidsynth ended with ${played.status}: ${played.stderr}`);
  const bytes = readFileSync(wav);
  const data = bytes.indexOf('data') + 8;
  const frames = Math.min(Math.ceil(piece.lengthSeconds * RATE), Math.floor((bytes.length - data) / 4));
  const left = new Float32Array(frames),
    right = new Float32Array(frames);
  for (let i = 0, at = data; i < frames; i++, at += 4) {
    left[i] = bytes.readInt16LE(at) / 32768;
    right[i] = bytes.readInt16LE(at + 2) / 32768;
  }
  rmSync(midi);
  rmSync(wav);
  return { left, right };
}

/** Resamples by cubic interpolation, as a platter turning faster or slower would. */
function atSpeed(sound: Stereo, speed: number): Stereo {
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
