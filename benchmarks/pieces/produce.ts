/** Makes one piece of the benchmark: composed, played by either source, worn, encoded. Runs in a worker thread. */
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { encode } from '../../demo/encode.ts';
import { compose, type Piece } from '../../demo/synth/compose.ts';
import { seeded } from '../../demo/synth/random.ts';
import { render, type Stereo } from '../../demo/synth/render.ts';
import type { Style } from '../../demo/synth/styles.ts';
import { keyOf } from '@early-set/core/fields/keys';
import { applyEffect, changeTempo, fadeOut, modulate, scatterDrums } from './effects.ts';
import { toMidi } from './midi.ts';
import { atSpeed, playMidi, RATE } from './play.ts';
import type { PiecePlan } from './plan.ts';
import { BENCH_STYLES, familyOf } from './styles.ts';

export interface PieceTruth {
  name: string;
  file: string;
  source: string;
  style: string;
  /** Styles of one family are left out together. */
  family: string;
  /** null without a pulse. */
  bpm: number | null;
  steady: boolean;
  beatsPerBar: number;
  /** Each beat has three parts, as in 6/8. */
  compound: boolean;
  beats: number[];
  /** null where nothing is pitched. */
  key: string | null;
  /** Does it name one tonic clearly? */
  clear: boolean;
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

/** Makes a piece in a folder and returns the truth about it. */
export default async function produce({ plan, folder, soundFont }: MakePiece): Promise<PieceTruth> {
  const own = plan.style === 'chance' ? plan.chance! : BENCH_STYLES[plan.style];
  const style: Style = { ...own, ...(plan.drift === null ? {} : { drift: plan.drift }) };
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
  // The composer counts eighths in 6/8, its hearers two beats of three.
  const eighths = plan.chance?.eighths ?? (plan.style === 'sixEight' ? 3 : 1);
  const ending = plan.encoding.startsWith('mp3') ? 'mp3' : plan.encoding;
  const file = join(folder, `${plan.name}.${ending}`);
  await encode(atSpeed(sound, plan.speed), plan.encoding, file, join(folder, `.${plan.name}`), {});
  return {
    name: plan.name,
    file,
    source: plan.source,
    style: plan.chance?.family ?? plan.style,
    family: plan.style === 'chance' ? plan.chance!.family : familyOf(plan.style),
    bpm: plan.style === 'ambient' ? null : (plan.bpm * plan.speed) / eighths,
    steady: style.drift === 0 && plan.tempoChange === null,
    beatsPerBar: plan.chance?.heardBeats ?? (eighths === 3 ? 2 : style.beatsPerBar),
    compound: eighths === 3 && plan.chance?.heardBeats !== 4,
    beats: piece.beats.filter((b, i) => i % eighths === 0 && b < end - 2).map((b) => b / plan.speed),
    sections: piece.sections
      .map((part) => ({ name: part.name, start: piece.beats[part.firstBar * style.beatsPerBar]! / plan.speed }))
      .filter((part) => part.start < end / plan.speed),
    fades: plan.fades,
    ...keyTruth({
      ...plan,
      cents: (plan.source === 'sound font' ? plan.tuningCents : 0) + 1200 * Math.log2(plan.speed),
    }),
    clear: plan.harmonyName === 'cadence',
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
export function keyTruth({ tonic, mode, cents }: { tonic: number; mode: 'major' | 'minor'; cents: number }): {
  key: string;
  tuningCents: number;
} {
  const semitones = Math.round(cents / 100);
  return { key: keyOf((((tonic + semitones) % 12) + 12) % 12, mode), tuningCents: cents - 100 * semitones };
}

/** Plays a piece with a General MIDI sound font through fluidsynth. */
function playFont(piece: Piece, plan: PiecePlan, style: Style, folder: string, soundFont: string): Stereo {
  const midi = join(folder, `.${plan.name}.mid`);
  writeFileSync(
    midi,
    toMidi(piece, { tuningCents: plan.tuningCents, played: style.loose > 0, random: seeded(plan.seed ^ 0xf0) }),
  );
  const frames = Math.ceil(piece.lengthSeconds * RATE);
  const sound = playMidi(midi, soundFont, frames);
  rmSync(midi);
  return sound;
}
