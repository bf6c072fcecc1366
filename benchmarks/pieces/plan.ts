/**
 * The benchmark's pieces: styles, tempi, keys, harmonies and what happens to them, from one series of random numbers.
 */
import type { Harmony } from '../../demo/synth/compose.ts';
import { pick, seeded } from '../../demo/synth/random.ts';
import type { Effect } from './effects.ts';
import { chanceStyle, type ChanceStyle } from './chanceStyles.ts';
import { chanceHarmony } from './chanceHarmony.ts';
import type { BenchStyle } from './styles.ts';

export type Encoding = 'mp3' | 'mp3-128' | 'm4a' | 'ogg' | 'flac';

export interface PiecePlan {
  name: string;
  source: 'synthesiser' | 'sound font';
  style: BenchStyle | 'chance';
  /** Where the style is one by chance. */
  chance: ChanceStyle | null;
  bpm: number;
  tonic: number;
  mode: 'major' | 'minor';
  /** null takes one of the usual progressions of the mode. */
  harmony: Harmony | null;
  harmonyName: string | null;
  seconds: number;
  leadIn: number;
  form: 'usual' | 'late drums';
  /** Tempo wander of a live drummer instead of the style's own. */
  drift: number | null;
  /** From half-way on the tempo is this many times as fast. */
  tempoChange: number | null;
  /** Semitones up for the last quarter. */
  lift: number;
  tuningCents: number;
  /** Played faster or slower, pitch and all. */
  speed: number;
  effect: Effect | null;
  /** Share of drum strokes left out, and half as many put in beside. */
  scatter: number;
  /** Fades out before the end, so that no last chord says where home is. */
  fades: boolean;
  encoding: Encoding;
  seed: number;
}

/** A piece in one of the styles that have a name. */
export type UsualPlan = PiecePlan & { style: BenchStyle };

/** Harmonies beyond the usual progressions. */
const HARMONIES: Record<'major' | 'minor', Record<string, Harmony>> = {
  minor: {
    'one chord': { chords: [[0, 3]], scale: [0, 2, 3, 5, 7, 10] },
    'dorian vamp': {
      chords: [
        [0, 3],
        [5, 4],
      ],
      scale: [0, 2, 3, 5, 7, 9, 10],
    },
    'two chords': {
      chords: [
        [0, 3],
        [0, 3],
        [10, 4],
        [10, 4],
      ],
      scale: [0, 2, 3, 5, 7, 8, 10],
    },
    cadence: {
      chords: [
        [0, 3],
        [5, 3],
        [7, 4],
        [0, 3],
      ],
      scale: [0, 2, 3, 5, 7, 8, 11],
    },
    borrowed: {
      chords: [
        [0, 3],
        [3, 4],
        [10, 4],
        [5, 4],
      ],
      scale: [0, 2, 3, 5, 7, 8, 10],
    },
    'begins on the sixth': {
      chords: [
        [8, 4],
        [3, 4],
        [10, 4],
        [0, 3],
      ],
      scale: [0, 2, 3, 5, 7, 8, 10],
    },
    'begins on the fourth': {
      chords: [
        [5, 3],
        [8, 4],
        [0, 3],
        [10, 4],
      ],
      scale: [0, 2, 3, 5, 7, 8, 10],
    },
    'ends on the fifth': {
      chords: [
        [8, 4],
        [10, 4],
        [0, 3],
        [7, 3],
      ],
      scale: [0, 2, 3, 5, 7, 8, 10],
    },
  },
  major: {
    'one chord': { chords: [[0, 4]], scale: [0, 2, 4, 5, 7, 9] },
    mixolydian: {
      chords: [
        [0, 4],
        [10, 4],
        [5, 4],
        [0, 4],
      ],
      scale: [0, 2, 4, 5, 7, 9, 10],
    },
    turnaround: {
      chords: [
        [2, 3],
        [7, 4],
        [0, 4],
        [0, 4],
      ],
      scale: [0, 2, 4, 5, 7, 9, 11],
    },
    borrowed: {
      chords: [
        [0, 4],
        [5, 4],
        [5, 3],
        [0, 4],
      ],
      scale: [0, 2, 4, 5, 7, 9, 11],
    },
    cadence: {
      chords: [
        [0, 4],
        [5, 4],
        [7, 4],
        [0, 4],
      ],
      scale: [0, 2, 4, 5, 7, 9, 11],
    },
    'begins on the fourth': {
      chords: [
        [5, 4],
        [7, 4],
        [0, 4],
        [9, 3],
      ],
      scale: [0, 2, 4, 5, 7, 9, 11],
    },
    'begins on the sixth': {
      chords: [
        [9, 3],
        [5, 4],
        [0, 4],
        [7, 4],
      ],
      scale: [0, 2, 4, 5, 7, 9, 11],
    },
    circle: {
      chords: [
        [0, 4],
        [9, 3],
        [2, 3],
        [7, 4],
      ],
      scale: [0, 2, 4, 5, 7, 9, 11],
    },
  },
};

/** Each style with the tempi it is played at, and how often it comes from either source. */
const TEMPI: [BenchStyle, low: number, high: number, fonts: number, synths: number][] = [
  ['house', 116, 132, 6, 4],
  ['deepHouse', 112, 124, 4, 3],
  ['techno', 124, 148, 5, 4],
  ['offBeat', 120, 142, 4, 2],
  ['arpeggio', 128, 145, 4, 2],
  ['disco', 104, 126, 5, 3],
  ['drumAndBass', 165, 178, 6, 4],
  ['halfTime', 138, 146, 3, 1],
  ['breakbeat', 120, 140, 4, 3],
  ['brokenBeat', 110, 128, 4, 2],
  ['twoStep', 128, 136, 4, 3],
  ['hipHop', 70, 100, 6, 4],
  ['dembow', 88, 104, 4, 3],
  ['electro', 118, 134, 4, 2],
  ['funk', 94, 116, 4, 2],
  ['soul', 76, 104, 4, 2],
  ['rock', 100, 156, 6, 2],
  ['bossa', 112, 140, 3, 1],
  ['swingJazz', 110, 168, 3, 1],
  ['dub', 66, 80, 3, 2],
  ['ballad', 60, 84, 5, 2],
  ['waltz', 84, 150, 4, 2],
  ['sixEight', 165, 320, 3, 1],
  ['march', 100, 124, 2, 1],
  ['pianoSolo', 66, 116, 4, 0],
  ['stringsOnly', 60, 96, 3, 1],
  ['guitar', 80, 124, 4, 1],
  ['ambient', 60, 90, 3, 2],
];

const CHANCE_PIECES = 290;

/** Spreads by the golden ratio, so that a few values fill a range evenly. */
const spread = (n: number): number => (n * 0.6180339887) % 1;

function build(): UsualPlan[] {
  const random = seeded(31_905);
  const plans: UsualPlan[] = [];
  let n = 0;
  for (const [style, low, high, fonts, synths] of TEMPI) {
    for (let i = 0; i < fonts + synths; i++, n++) {
      const bpm = low + (high - low) * spread(i * 3 + n);
      const mode = random() < 0.58 ? ('minor' as const) : ('major' as const);
      const live = ['disco', 'soul', 'rock', 'funk', 'ballad', 'swingJazz', 'pianoSolo'].includes(style);
      const plan = {
        name: `${String(n).padStart(3, '0')}-${style}`,
        source: i < fonts ? ('sound font' as const) : ('synthesiser' as const),
        style,
        chance: null,
        // Most music is made at whole numbers; the rest was played, or sped up.
        bpm:
          live || random() < 0.35
            ? Math.round(bpm * 100) / 100
            : random() < 0.2
              ? Math.round(bpm * 2) / 2
              : Math.round(bpm),
        tonic: (n * 7 + Math.floor(n / 12)) % 12,
        mode,
        harmonyName: random() < 0.45 ? pick(random, Object.keys(HARMONIES[mode])) : null,
        seconds: 55 + Math.floor(random() * 50),
        leadIn: random() < 0.4 ? 0 : Math.round(random() * 900) / 1000,
        form: random() < 0.12 && style !== 'ambient' ? ('late drums' as const) : ('usual' as const),
        drift: live ? (random() < 0.5 ? 0 : 0.01 + 0.02 * random()) : null,
        tempoChange: random() < 0.07 && style !== 'ambient' ? pick(random, [0.8, 0.94, 1.08, 1.15, 1.3]) : null,
        lift: random() < 0.07 ? pick(random, [1, 2]) : 0,
        tuningCents: random() < 0.3 ? Math.round((random() - 0.5) * 96) : 0,
        speed: random() < 0.12 ? 1 + (random() - 0.5) * 0.08 : 1,
        effect: random() < 0.3 ? pick(random, ['record', 'limited', 'clipped', 'quiet'] as const) : null,
        scatter: random() < 0.6 ? 0.14 * random() : 0,
        fades: random() < 0.55,
        encoding: pick(random, ['mp3', 'mp3-128', 'm4a', 'ogg', 'flac', 'flac'] as const),
        seed: 1000 + n * 17,
      };
      plans.push({ ...plan, harmony: plan.harmonyName === null ? null : HARMONIES[mode][plan.harmonyName]! });
    }
  }
  return plans;
}

/** A piece whose rhythm and harmony are made by chance. */
function byChance(k: number): PiecePlan {
  const random = seeded(9001 + 31 * k);
  const chance = chanceStyle(random, k);
  const bpm = chance.eighths * chance.tempo[0] * (chance.tempo[1] / chance.tempo[0]) ** spread(k);
  const mode = random() < 0.5 ? ('minor' as const) : ('major' as const);
  return {
    name: `${String(k).padStart(3, '0')}-chance`,
    source: k % 2 === 0 ? 'sound font' : 'synthesiser',
    style: 'chance',
    chance,
    bpm: random() < 0.4 ? Math.round(bpm * 100) / 100 : Math.round(bpm),
    tonic: Math.floor(random() * 12),
    mode,
    harmony: random() < 0.5 ? chanceHarmony(random, mode) : null,
    harmonyName: null,
    seconds: 55 + Math.floor(random() * 30),
    leadIn: random() < 0.4 ? 0 : Math.round(random() * 1200) / 1000,
    form: random() < 0.2 ? 'late drums' : 'usual',
    drift: null,
    tempoChange: null,
    lift: 0,
    tuningCents: random() < 0.3 ? Math.round((random() - 0.5) * 90) : 0,
    speed: random() < 0.12 ? 1 + (random() - 0.5) * 0.08 : 1,
    effect: random() < 0.25 ? pick(random, ['record', 'limited', 'clipped', 'quiet'] as const) : null,
    scatter: random() < 0.6 ? 0.12 * random() : 0,
    fades: random() < 0.4,
    encoding: pick(random, ['mp3', 'mp3-128', 'm4a', 'ogg', 'flac', 'flac'] as const),
    seed: 500_000 + k * 29,
  };
}

export const BENCH_PLAN: readonly UsualPlan[] = build();
/** Pieces whose rhythm and harmony are made by chance. */
export const CHANCE_PLAN: readonly PiecePlan[] = Array.from({ length: CHANCE_PIECES }, (_, k) => byChance(k));
