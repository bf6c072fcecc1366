/** What is made of the material of others: which groove, tune or drum song, in which key, how fast, by which sounds. */
import { pick, seeded, type Random } from '../../demo/synth/random.ts';
import type { Effect } from '../pieces/effects.ts';
import type { Encoding } from '../pieces/plan.ts';
import { drumSongNames } from './drumSongs.ts';
import { grooveFiles, type GrooveFile, type GrooveSource } from './grooves.ts';
import type { Mode } from './sheets.ts';
import { TUNE_FORMS, type TuneForm } from './tunes.ts';

export interface OthersPlan {
  name: string;
  made: { by: GrooveSource; groove: GrooveFile } | { by: 'tunes'; form: TuneForm } | { by: 'drum songs'; song: string };
  /** Beats a minute. */
  bpm: number;
  tonic: number;
  mode: Mode;
  seconds: number;
  font: string;
  /** A sampled drum kit in the place of the font's. */
  kit: string | null;
  leadIn: number;
  withoutDrums: boolean;
  /** Nothing but its drums, where it has some. */
  drumsOnly: boolean;
  melody: boolean;
  /** Standard deviation of a beat's length against the one before it. */
  drift: number;
  /** From half-way on the tempo is this many times as fast. */
  tempoChange: number | null;
  speed: number;
  effect: Effect | null;
  encoding: Encoding;
  seed: number;
}

const SOUNDS = '/usr/share/sounds';
/** General MIDI sound fonts of Debian: fluid-soundfont-gm, fluidr3mono-gm-soundfont, timgm6mb-…, csound-soundfont. */
export const FONTS = ['sf2/FluidR3_GM.sf2', 'sf3/FluidR3Mono_GM.sf3', 'sf2/TimGM6mb.sf2', 'sf2/sf_GMbank.sf2'].map(
  (f) => `${SOUNDS}/${f}`,
);
/** Sampled kits, of one program each that is not meant for the drum channel: avldrums.lv2-soundfont. */
export const KITS = ['Black_Pearl_4_LV2', 'Red_Zeppelin_4_LV2'].map((f) => `${SOUNDS}/sf2/${f}.sf2`);

/** The second is much like the first, and slow to load: it comes seldom. */
const chanceFont = (random: Random): string => FONTS[random() < 0.08 ? 1 : pick(random, [0, 2, 3])]!;

export const KIT_CHANNEL = 0;

const GROOVES_EACH = 6;
const KEYBOARD_STYLES_EACH = 3;
const DRUM_PATTERNS_EACH = 4;
const TUNES_EACH = 16;
const DRUM_SONGS_EACH = 9;

/** Each piece by chances of its own: more of them leave the others as they are. */
export function othersPlan(): OthersPlan[] {
  const plans: OthersPlan[] = [];
  let sources = 0;
  const add = (made: OthersPlan['made'], [low, high]: readonly [number, number], n: number): void => {
    const seed = 77_101 + 1000 * sources + n;
    const random = seeded(seed);
    const bpm = low * (high / low) ** (((n + 7 * sources) * 0.6180339887 + 0.1 * random()) % 1);
    const drums = made.by === 'drum songs' || made.by === 'drum patterns';
    const parts = drums ? 1 : random();
    const style = made.by === 'tunes' ? made.form.style : made.by === 'drum songs' ? made.song : made.groove.style;
    plans.push({
      name: `${made.by.replace(/\W+/g, '-')}-${style.replace(/\W+/g, '-')}-${n}`,
      made,
      bpm: random() < 0.5 ? Math.round(bpm) : Math.round(bpm * 100) / 100,
      tonic: Math.floor(random() * 12),
      mode: random() < 0.5 ? 'minor' : 'major',
      seconds: 50 + Math.floor(random() * 35),
      font: chanceFont(random),
      kit: random() < (drums ? 0.6 : 0.2) ? pick(random, KITS) : null,
      leadIn: random() < 0.4 ? 0 : Math.round(random() * 1200) / 1000,
      withoutDrums: parts < 0.14,
      drumsOnly: !drums && made.by !== 'tunes' && parts > 0.86,
      melody: random() < 0.65 && made.by !== 'drum patterns',
      drift: random() < 0.12 ? 0.006 + 0.008 * random() : 0,
      tempoChange: random() < 0.04 ? pick(random, [0.85, 0.94, 1.08, 1.2]) : null,
      speed: random() < 0.1 ? 1 + (random() - 0.5) * 0.08 : 1,
      effect: random() < 0.22 ? pick(random, ['record', 'limited', 'clipped', 'quiet'] as const) : null,
      encoding: chanceEncoding(random),
      seed: 13 * seed,
    });
  };
  const several = (made: OthersPlan['made'], tempo: readonly [number, number], each: number): void => {
    for (let n = 0; n < each; n++) add(made, tempo, n);
    sources++;
  };
  const grooves = (by: GrooveSource, each: number): void => {
    for (const groove of grooveFiles(by)) several({ by, groove }, groove.tempo, each);
  };
  grooves('grooves', GROOVES_EACH);
  for (const form of TUNE_FORMS) several({ by: 'tunes', form }, form.tempo, TUNES_EACH);
  for (const song of drumSongNames()) several({ by: 'drum songs', song }, [82, 152], DRUM_SONGS_EACH);
  grooves('keyboard styles', KEYBOARD_STYLES_EACH);
  grooves('drum patterns', DRUM_PATTERNS_EACH);
  return plans;
}

const chanceEncoding = (random: Random): Encoding =>
  pick(random, ['mp3', 'mp3-128', 'm4a', 'ogg', 'flac', 'flac'] as const);
