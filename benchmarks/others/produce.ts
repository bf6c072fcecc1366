/** Makes one piece of the material of others: arranged, played, worn, encoded. Runs in a worker thread. */
import { rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { encode } from '../../demo/encode.ts';
import { seeded, type Random } from '../../demo/synth/random.ts';
import type { Stereo } from '../../demo/synth/render.ts';
import { applyEffect } from '../pieces/effects.ts';
import { atSpeed, playMidi, RATE } from '../pieces/play.ts';
import { keyTruth, type PieceTruth } from '../pieces/produce.ts';
import { accompany } from './accompany.ts';
import type { Arrangement } from './arrangement.ts';
import { drumSong } from './drumSongs.ts';
import { addMelody } from './melody.ts';
import { channelOf, DRUM_CHANNEL, writeMidi, type Message } from '../pieces/midiFile.ts';
import { KIT_CHANNEL, type OthersPlan } from './plan.ts';
import { chanceSheet, type Mode } from './sheets.ts';
import { chanceTune } from './tunes.ts';

export interface MakeOther {
  plan: OthersPlan;
  folder: string;
  /** Seconds by which each sound font comes late. */
  late: Record<string, number>;
}

interface Arranged {
  arrangement: Arrangement;
  key: { tonic: number; mode: Mode } | null;
  clear: boolean;
  style: string;
  family: string;
}

/** Makes a piece in a folder and returns the truth about it. */
export default async function produce({ plan, folder, late }: MakeOther): Promise<PieceTruth> {
  const random = seeded(plan.seed);
  const { arrangement, key, clear, style, family } = arranged(plan, folder, random);
  const { quartersPerBeat, beatsPerBar } = arrangement;
  const onDrums = arrangement.messages.filter((m) => channelOf(m) === DRUM_CHANNEL);
  const drumsOnly = plan.drumsOnly && onDrums.length > 0;
  if (drumsOnly) arrangement.messages = onDrums;
  if (plan.withoutDrums) arrangement.messages = arrangement.messages.filter((m) => channelOf(m) !== DRUM_CHANNEL);
  const timeOf = timing(plan, arrangement, random);
  const messages = arrangement.messages.map(({ at, bytes }) => ({ seconds: timeOf(at), bytes }));
  const length = timeOf(arrangement.quarters) + 1.5;
  const sound = played(plan, messages, length, folder);
  if (plan.effect) applyEffect(sound, plan.effect, seeded(plan.seed ^ 0xeff));
  const file = join(folder, `${plan.name}.${plan.encoding.startsWith('mp3') ? 'mp3' : plan.encoding}`);
  await encode(atSpeed(sound, plan.speed), plan.encoding, file, join(folder, `.${plan.name}`), {});
  const beats: number[] = [];
  for (let at = 0; at < arrangement.quarters; at += quartersPerBeat)
    beats.push((timeOf(at) + late[plan.kit ?? plan.font]!) / plan.speed);
  const truth = key === null || drumsOnly ? null : keyTruth({ ...key, cents: 1200 * Math.log2(plan.speed) });
  return {
    name: plan.name,
    file,
    source: plan.made.by,
    style,
    family,
    bpm: plan.bpm * plan.speed,
    steady: plan.drift === 0 && plan.tempoChange === null,
    beatsPerBar,
    compound: quartersPerBeat % 1.5 === 0,
    beats,
    sections: [],
    fades: false,
    key: truth?.key ?? null,
    clear: clear && !drumsOnly,
    tuningCents: truth?.tuningCents ?? 0,
    changes: [
      plan.withoutDrums ? 'without drums' : '',
      drumsOnly ? 'drums only' : '',
      plan.drift > 0 ? 'wanders' : '',
      plan.tempoChange ? 'tempo change' : '',
      arrangement.pickup > 0 ? 'pick-up' : '',
      plan.speed === 1 ? '' : 'other speed',
      plan.effect ?? '',
      plan.encoding,
      plan.font.replace(/.*\/|\.sf.$/g, ''),
      plan.kit === null ? '' : 'sampled kit',
    ].filter(Boolean),
  };
}

function arranged(
  { made, name, bpm, seconds, tonic, mode, melody }: OthersPlan,
  folder: string,
  random: Random,
): Arranged {
  if (made.by === 'drum songs') {
    const arrangement = drumSong(made.song, Math.ceil((seconds * bpm) / 240), random);
    return { arrangement, key: null, clear: false, style: made.song.replace('.h2song', ''), family: 'drums only' };
  }
  if (made.by === 'tunes') {
    const tune = chanceTune(made.form, { seconds, bpm, name, folder, random });
    const family = made.form.quartersPerBeat === 1.5 ? 'six-eight' : made.form.beatsPerBar === 3 ? 'waltz' : 'tunes';
    return { arrangement: tune.arrangement, key: tune, clear: true, style: made.form.style, family };
  }
  const { groove } = made;
  const sheet = chanceSheet(random, mode, Math.ceil((seconds * bpm) / 60 / groove.beatsPerBar), groove.style);
  const arrangement = accompany(groove, { tonic, sheet, name, folder, random });
  if (melody) addMelody(arrangement, { tonic, mode, random });
  const key = made.by === 'drum patterns' ? null : { tonic, mode };
  return { arrangement, key, clear: key !== null && sheet.clear, style: groove.style, family: groove.family };
}

/** From quarters to seconds: steady, wandering about its tempo, or another one from the middle on. */
function timing(
  { bpm, drift, tempoChange, leadIn }: OthersPlan,
  { quarters, quartersPerBeat, pickup }: Arrangement,
  random: Random,
): (at: number) => number {
  const beat = 60 / bpm,
    start = leadIn + (pickup / quartersPerBeat) * beat;
  const count = Math.ceil(quarters / quartersPerBeat) + 8;
  const half = Math.floor(count / 8) * 4;
  const times = [start];
  let off = 0;
  for (let k = 0; k < count; k++) {
    off = 0.9 * off + drift * gauss(random);
    times.push(times[k]! + (beat * (1 + off)) / (tempoChange !== null && k >= half ? tempoChange : 1));
  }
  return (at) => {
    const k = at / quartersPerBeat;
    if (k < 0) return Math.max(0, start + k * beat);
    const low = Math.min(count - 1, Math.floor(k));
    return times[low]! + (k - low) * (times[low + 1]! - times[low]!);
  };
}

const gauss = (random: Random): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());

function played(
  plan: OthersPlan,
  messages: { seconds: number; bytes: number[] }[],
  length: number,
  folder: string,
): Stereo {
  const midi = join(folder, `.${plan.name}.mid`);
  const play = (which: typeof messages, font: string): Stereo => {
    writeFileSync(midi, writeMidi(which, length));
    const sound = playMidi(midi, font, Math.ceil(length * RATE));
    rmSync(midi);
    return sound;
  };
  const isDrum = (m: { bytes: number[] }): boolean => channelOf(m as Message) === DRUM_CHANNEL;
  if (plan.kit === null || !messages.some(isDrum)) return play(messages, plan.font);
  const drums = play(
    messages
      .filter(isDrum)
      .map((m) => ({ ...m, bytes: [m.bytes[0]! - DRUM_CHANNEL + KIT_CHANNEL, ...m.bytes.slice(1)] })),
    plan.kit,
  );
  const rest = messages.filter((m) => !isDrum(m));
  if (rest.length === 0) return drums;
  const sound = play(rest, plan.font);
  for (const side of ['left', 'right'] as const)
    for (let i = 0; i < Math.min(sound[side].length, drums[side].length); i++) sound[side][i]! += drums[side][i]!;
  return sound;
}
