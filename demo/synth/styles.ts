/** What makes a style: drum patterns on a 16-step bar, instruments, feel and sections. */
import type { Drum } from './drums.ts';
import type { Instrument } from './instruments.ts';

/** Steps of one bar; a capital is an accent, "x" a hit, "o" a ghost, anything else a rest. */
type Pattern = string;

export interface Style {
  beatsPerBar: 3 | 4;
  drums: Partial<Record<Drum, Pattern[]>>;
  bass: { instrument: Instrument; pattern: Pattern[]; octave: number } | null;
  chords: { instrument: Instrument; pattern: Pattern[]; level: number };
  melody: { instrument: Instrument; density: number; level: number } | null;
  /** Delay of every second sixteenth, 0 (straight) … 0.33 of two steps (triplet). */
  swing: number;
  /** Depth of the pumping after each kick, 0 … 1. */
  duck: number;
  /** Share of reverb. */
  room: number;
  /** Tempo wander of a live drummer, as a share of the tempo. */
  drift: number;
  /** Random timing per hit in seconds. */
  loose: number;
  /** Bars for one chord. */
  barsPerChord: number;
}

const four = 'X...X...X...X...';
const straight = { swing: 0, duck: 0, room: 0.12, drift: 0, loose: 0, barsPerChord: 1, beatsPerBar: 4 as const };

export const STYLES = {
  house: {
    ...straight,
    duck: 0.45,
    drums: {
      kick: [four],
      clap: ['....X.......X...'],
      openHat: ['..x...x...x...x.'],
      hat: ['o.o.o.o.o.o.o.oo'],
      shaker: ['.o.o.o.o.o.o.o.o'],
    },
    bass: { instrument: 'bass', pattern: ['..x..xx...x..x..', '..x..xx...x.xx..'], octave: 2 },
    chords: { instrument: 'stab', pattern: ['x..x..x...x..x..', '...x..x...x.....'], level: 0.5 },
    melody: { instrument: 'pluck', density: 0.35, level: 0.4 },
  },
  deepHouse: {
    ...straight,
    duck: 0.3,
    room: 0.2,
    swing: 0.08,
    barsPerChord: 2,
    drums: {
      kick: [four],
      rim: ['....x..o....x...'],
      clap: ['....o.......x...'],
      hat: ['..x...x...x...x.'],
      shaker: ['x.ox.ox.x.ox.ox.'],
    },
    bass: { instrument: 'roundBass', pattern: ['x..x....x.x.....', 'x..x...x..x..x..'], octave: 2 },
    chords: { instrument: 'keys', pattern: ['x.....x.....x...', 'x.....x...x.....'], level: 0.7 },
    melody: { instrument: 'flute', density: 0.2, level: 0.35 },
  },
  techno: {
    ...straight,
    duck: 0.5,
    barsPerChord: 4,
    room: 0.16,
    drums: {
      kick: [four],
      clap: ['....x.......x...'],
      hat: ['xoxoxoxoxoxoxoxo'],
      openHat: ['..X...X...X...X.'],
      tom: ['..........x..x..'],
    },
    bass: { instrument: 'reese', pattern: ['..xx..xx..xx..xx'], octave: 2 },
    chords: { instrument: 'stab', pattern: ['...x.....x......', '...x.....x....x.'], level: 0.45 },
    melody: { instrument: 'pluck', density: 0.5, level: 0.32 },
  },
  drumAndBass: {
    ...straight,
    barsPerChord: 2,
    drums: {
      kick: ['X.........X.....', 'X.....x...X.....'],
      snare: ['....X.......X...', '....X..o....X..o'],
      hat: ['x.x.x.x.x.x.x.x.'],
      shaker: ['oxoxoxoxoxoxoxox'],
    },
    bass: { instrument: 'reese', pattern: ['x.....x...x.....', 'x..x....x.....x.'], octave: 2 },
    chords: { instrument: 'pad', pattern: ['X...............'], level: 0.55 },
    melody: { instrument: 'pluck', density: 0.4, level: 0.35 },
  },
  hipHop: {
    ...straight,
    swing: 0.17,
    room: 0.1,
    drums: { kick: ['X.....x..xX.....', 'X.....x...x..x..'], snare: ['....X.......X...'], hat: ['x.x.x.x.x.x.x.xo'] },
    bass: { instrument: 'roundBass', pattern: ['x.....x...x.....', 'x..x......x..x..'], octave: 2 },
    chords: { instrument: 'keys', pattern: ['x.......x.......', 'x......x..x.....'], level: 0.75 },
    melody: { instrument: 'piano', density: 0.22, level: 0.4 },
  },
  disco: {
    ...straight,
    drift: 0.02,
    loose: 0.004,
    drums: {
      kick: [four],
      snare: ['....X.......X...'],
      hat: ['x.o.x.o.x.o.x.o.'],
      openHat: ['..x...x...x...x.'],
      conga: ['...x..x....x..x.'],
    },
    bass: { instrument: 'bass', pattern: ['x.x.x.x.x.x.x.x.', 'x.xxx.x.x.xxx.x.'], octave: 2 },
    chords: { instrument: 'strings', pattern: ['X...............', 'X.......x.......'], level: 0.6 },
    melody: { instrument: 'lead', density: 0.3, level: 0.3 },
  },
  twoStep: {
    ...straight,
    swing: 0.22,
    duck: 0.15,
    drums: {
      kick: ['X.........x.....', 'X.....x...x.....'],
      snare: ['....X.......X...'],
      rim: ['.......o..o....o'],
      hat: ['..x...x...x...x.'],
      shaker: ['xoxoxoxoxoxoxoxo'],
    },
    bass: { instrument: 'reese', pattern: ['x..x......x.....', 'x.....xx..x.....'], octave: 2 },
    chords: { instrument: 'stab', pattern: ['..x..x....x..x..'], level: 0.5 },
    melody: { instrument: 'pluck', density: 0.3, level: 0.38 },
  },
  dembow: {
    ...straight,
    duck: 0.2,
    drums: { kick: [four], snare: ['...X..X....X..X.'], hat: ['x.x.x.x.x.x.x.x.'], conga: ['......x.......xx'] },
    bass: { instrument: 'roundBass', pattern: ['x..x..x.x..x..x.'], octave: 2 },
    chords: { instrument: 'pluck', pattern: ['x..x..x.x..x..x.'], level: 0.6 },
    melody: { instrument: 'flute', density: 0.35, level: 0.4 },
  },
  breakbeat: {
    ...straight,
    loose: 0.002,
    drums: {
      kick: ['X.x.......xx....', 'X.x.......x..x..'],
      snare: ['....X..o.o..X...', '....X..o....X.o.'],
      hat: ['x.x.x.x.x.x.x.x.'],
      openHat: ['..............x.'],
    },
    bass: { instrument: 'bass', pattern: ['x.x...x...x..x..'], octave: 2 },
    chords: { instrument: 'stab', pattern: ['x.....x.........', '..x.....x..x....'], level: 0.5 },
    melody: { instrument: 'lead', density: 0.3, level: 0.3 },
  },
  electro: {
    ...straight,
    drums: {
      kick: ['X..x..x...x..x..', 'X.....x..xx.....'],
      snare: ['....X.......X...'],
      hat: ['xxxxxxxxxxxxxxxx'],
      openHat: ['......x.......x.'],
    },
    bass: { instrument: 'bass', pattern: ['x.xx..x.x.xx..x.'], octave: 2 },
    chords: { instrument: 'pluck', pattern: ['x..x..x..x..x...'], level: 0.5 },
    melody: { instrument: 'lead', density: 0.45, level: 0.28 },
  },
  ballad: {
    ...straight,
    room: 0.25,
    drift: 0.006,
    loose: 0.006,
    drums: {
      softKick: ['X.......x.......', 'X.......x.x.....'],
      brush: ['....x.......x...'],
      hat: ['o...o...o...o...'],
    },
    bass: { instrument: 'roundBass', pattern: ['x.......x.......'], octave: 2 },
    chords: { instrument: 'piano', pattern: ['x...x...x...x...', 'x.x.x.x.x.x.x.x.'], level: 0.7 },
    melody: { instrument: 'flute', density: 0.28, level: 0.5 },
  },
  ambient: {
    ...straight,
    room: 0.45,
    barsPerChord: 2,
    loose: 0.05,
    drums: {},
    bass: null,
    chords: { instrument: 'pad', pattern: ['X...............'], level: 0.9 },
    melody: { instrument: 'flute', density: 0.07, level: 0.3 },
  },
  waltz: {
    ...straight,
    beatsPerBar: 3,
    room: 0.22,
    loose: 0.004,
    drums: { softKick: ['X...........'], brush: ['....x...x...'], hat: ['o...o...o...'] },
    bass: { instrument: 'roundBass', pattern: ['x...........'], octave: 2 },
    chords: { instrument: 'piano', pattern: ['....x...x...', '....x...x.x.'], level: 0.7 },
    melody: { instrument: 'strings', density: 0.3, level: 0.4 },
  },
  soul: {
    ...straight,
    swing: 0.12,
    drift: 0.012,
    loose: 0.005,
    room: 0.18,
    drums: {
      kick: ['X......xx.......', 'X......xx.....x.'],
      snare: ['....X.......X...', '....X..o.o..X...'],
      hat: ['x.x.x.x.x.x.x.x.'],
      shaker: ['..o...o...o...o.'],
    },
    bass: { instrument: 'roundBass', pattern: ['x..x..x.x.....x.', 'x..x....x.x.....'], octave: 2 },
    chords: { instrument: 'keys', pattern: ['x.....x...x.....', '..x...x...x...x.'], level: 0.75 },
    melody: { instrument: 'lead', density: 0.25, level: 0.28 },
  },
  dub: {
    ...straight,
    room: 0.35,
    barsPerChord: 2,
    swing: 0.05,
    drums: { kick: ['........X.......', 'x.......X.......'], rim: ['........x.......'], hat: ['x...x.x.x...x.x.'] },
    bass: { instrument: 'roundBass', pattern: ['x..x..x.....x.x.', 'x..x..x.x.......'], octave: 2 },
    chords: { instrument: 'stab', pattern: ['....x.......x...'], level: 0.6 },
    melody: { instrument: 'flute', density: 0.12, level: 0.4 },
  },
} satisfies Record<string, Style>;

export type StyleName = keyof typeof STYLES;
