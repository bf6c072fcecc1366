/** Styles made by chance, so that no rhythm is learnt by heart: where kick, snare, hats and bass may stand in a bar. */
import { pick, type Random } from '../../demo/synth/random.ts';
import type { Style } from '../../demo/synth/styles.ts';

export interface ChanceStyle extends Style {
  family: string;
  /** Beats a minute, as hearers count them. */
  tempo: readonly [low: number, high: number];
  /** The composer's beats in one that hearers count: three eighths in 6/8 and 12/8. */
  eighths: 1 | 3;
  /** Beats in a bar as hearers count them. */
  heardBeats: 2 | 3 | 4;
}

type Choice = readonly string[];
const KICKS: Record<string, { low: number; high: number; patterns: readonly Choice[] }> = {
  'kick on every beat': {
    ...{ low: 100, high: 150 },
    patterns: [['X...X...X...X...'], ['X...X...X...X.x.'], ['X...X...X..xX...']],
  },
  'kick on one and three': {
    ...{ low: 76, high: 160 },
    patterns: [['X.......X.......'], ['X.......X.x.....'], ['X.....x.X.......', 'X.......X.....x.']],
  },
  'half time': {
    ...{ low: 120, high: 172 },
    patterns: [['X...............', 'X.........x.....'], ['X.....x.........'], ['X..x......x...x.']],
  },
  'broken kick': {
    ...{ low: 84, high: 134 },
    patterns: [
      ['X..x..x.........', 'X.....x...x..x..'],
      ['X......x..X.....'],
      ['X..x......X..x..'],
      ['X.x....x.xX.....'],
      ['..X...x...X.....', 'X.....x...X.....'],
    ],
  },
  'kick before the bar': {
    ...{ low: 72, high: 116 },
    patterns: [['X.............x.'], ['X......x.......x'], ['......x.......X.', 'X.....x.......X.']],
  },
  'no kick': { low: 80, high: 150, patterns: [['................']] },
};
const SNARES: readonly Choice[] = [
  ['....X.......X...'],
  ['....X..o.o..X...'],
  ['....X.......X..o', '....X..o....X.o.'],
  ['....X.......X.x.'],
];
const ON_THREE: readonly Choice[] = [['........X.......'], ['........X.....o.', '........X..o....']];
const HATS: readonly Choice[] = [
  ['x.x.x.x.x.x.x.x.'],
  ['x.o.x.o.x.o.x.o.'],
  ['xoxoxoxoxoxoxoxo'],
  ['..x...x...x...x.'],
  ['x...x...x...x...'],
  ['x.x.x.x.x.xxx.x.', 'x.x.x.x.x.x.xxxx'],
  ['................'],
];
const HANDS: readonly Choice[] = [
  ['x..x..x.x..x..x.'],
  ['x.xx.xx.x.xx.xx.'],
  ['..xx..xx..xx..xx'],
  ['X.o.x.o.X.o.x.oo'],
  ['x..x..x...x.x...'],
];
const BASSES: readonly Choice[] = [
  ['X.......X.......'],
  ['x.x.x.x.x.x.x.x.'],
  ['..X...X...X...X.'],
  ['X..x..x.........', 'X..x......x.x...'],
  ['X...x...X...x...'],
  ['X.....x...x...x.'],
  ['..xx..xx..xx..xx'],
];
const CHORDS: readonly Choice[] = [
  ['X...............'],
  ['X.......X.......'],
  ['..x...x...x...x.'],
  ['x..x..x...x..x..'],
  ['x.x.x.x.x.x.x.x.'],
  ['....x.......x...'],
  ['x...x...x...x...'],
];

/** Measures and feels beside straight ones in 4/4, each with what may be played in it. */
interface Feel {
  tempo: readonly [low: number, high: number];
  beatsPerBar: 3 | 4;
  eighths: 1 | 3;
  heardBeats: 2 | 3 | 4;
  swing?: number;
  low: readonly Choice[];
  back: readonly Choice[];
  top: readonly Choice[];
  bass: readonly Choice[];
  chords: readonly Choice[];
}
const FEELS: Record<string, Feel> = {
  waltz: {
    ...{ tempo: [84, 192], beatsPerBar: 3, eighths: 1, heardBeats: 3 },
    low: [['X...........'], ['X.........x.'], ['X...........', 'X.......x...']],
    back: [['....x...x...'], ['........x...'], ['....x...x.x.'], ['............']],
    top: [['x...x...x...'], ['x.x.x.x.x.x.'], ['x...x.x.x...'], ['............']],
    bass: [['X...........'], ['X.......x...'], ['X...x...x...']],
    chords: [['....x...x...'], ['X...........'], ['x.x.x.x.x.x.'], ['x...x...x...']],
  },
  'six-eight': {
    ...{ tempo: [46, 132], beatsPerBar: 3, eighths: 3, heardBeats: 2 },
    low: [
      ['X...........', '............'],
      ['X...........', 'x...........'],
      ['X.......x...', '....x.......'],
    ],
    back: [
      ['............', 'X...........'],
      ['............', '............'],
      ['....x...x...', '....x...x...'],
    ],
    top: [['x...x...x...'], ['x.......x...'], ['x...o...o...'], ['............']],
    bass: [['x...........', 'x.......x...'], ['x.......x...'], ['x...........', '............']],
    chords: [['x...x...x...'], ['x...........'], ['....x...x...'], ['x.......x...']],
  },
  'twelve-eight': {
    ...{ tempo: [50, 104], beatsPerBar: 3, eighths: 3, heardBeats: 4 },
    low: [
      ['X...........', '............', 'X.......x...', '............'],
      ['X...........', '........x...'],
    ],
    back: [
      ['............', 'X...........'],
      ['............', 'X...........', '............', 'X.......x...'],
    ],
    top: [['x...x...x...'], ['x...o...x...'], ['x.......x...']],
    bass: [['x...........', '........x...'], ['x...........'], ['x.......x...']],
    chords: [['x...x...x...'], ['x...........'], ['x.......x...']],
  },
  swing: {
    ...{ tempo: [88, 232], beatsPerBar: 4, eighths: 1, heardBeats: 4, swing: 0.33 },
    low: [['o...o...o...o...'], ['X.......X.......'], ['................'], ['X.....x.X.......']],
    back: [['....x.......x...'], ['................'], ['....o..o....o...'], ['....X.......X...']],
    top: [['x...x.x.x...x.x.'], ['x...x...x...x...'], ['x.x.x.x.x.x.x.x.'], ['....x.......x...']],
    bass: [['x...x...x...x...'], ['x.......x.......'], ['x.....x.x.....x.']],
    chords: [['x.....x.........'], ['....x.......x...'], ['......x...x.....'], ['x...x...x...x...']],
  },
  slow: {
    ...{ tempo: [50, 86], beatsPerBar: 4, eighths: 1, heardBeats: 4 },
    low: [['X.......X.......'], ['X.....x.X.......'], ['X.......X.x.....'], ['X...............']],
    back: [['....X.......X...'], ['....x.......x...'], ['................'], ['....X..o....X...']],
    top: [['x.x.x.x.x.x.x.x.'], ['xoxoxoxoxoxoxoxo'], ['x...x...x...x...'], ['................']],
    bass: [['X.......X.......'], ['X.....x.x.......'], ['X...............'], ['X..x....X.......']],
    chords: [['X...............'], ['x.x.x.x.x.x.x.x.'], ['X.......X.......'], ['x...x...x...x...']],
  },
  'two-beat': {
    ...{ tempo: [96, 224], beatsPerBar: 4, eighths: 1, heardBeats: 4 },
    low: [['X.......X.......'], ['................']],
    back: [['....X.......X...'], ['....x..x....x..x'], ['x..xx..xx..xx..x']],
    top: [['x.x.x.x.x.x.x.x.'], ['................'], ['....x.......x...']],
    bass: [['X.......X.......'], ['X.......X...x...']],
    chords: [['....x.......x...'], ['....x.x.....x.x.']],
  },
};

/** A style in one of the feels, with or without drums. */
function chanceFeel(random: Random, family: string): ChanceStyle {
  const feel = FEELS[family]!;
  const bare = random() < 0.2;
  return {
    family,
    tempo: feel.tempo,
    eighths: feel.eighths,
    heardBeats: feel.heardBeats,
    beatsPerBar: feel.beatsPerBar,
    swing: feel.swing ?? 0,
    duck: 0,
    room: 0.05 + 0.25 * random(),
    drift: 0,
    loose: random() < 0.5 ? 0 : 0.003 + 0.004 * random(),
    // Chords come with the bars that hearers count.
    barsPerChord: feel.eighths === 3 ? feel.heardBeats * pick(random, [1, 1, 2]) : pick(random, [1, 1, 2]),
    drums: bare
      ? {}
      : {
          [pick(random, ['kick', 'softKick', 'softKick'] as const)]: [...pick(random, feel.low)],
          [pick(random, ['snare', 'brush', 'rim', 'clap'] as const)]: [...pick(random, feel.back)],
          [pick(random, ['hat', 'hat', 'shaker', 'conga'] as const)]: [...pick(random, feel.top)],
        },
    bass: {
      instrument: pick(random, ['bass', 'roundBass', 'roundBass', 'piano'] as const),
      pattern: [...pick(random, feel.bass)],
      octave: 2,
    },
    chords: {
      instrument: pick(random, ['pad', 'strings', 'keys', 'piano', 'piano', 'pluck'] as const),
      pattern: [...pick(random, feel.chords)],
      level: 0.5 + 0.3 * random(),
    },
    melody:
      random() < 0.7
        ? {
            instrument: pick(random, ['lead', 'flute', 'pluck', 'piano', 'strings'] as const),
            density: 0.15 + 0.35 * random(),
            level: 0.3 + 0.2 * random(),
          }
        : null,
  };
}

/** A style by chance, one in so many in a measure or feel of its own; hardly one is like another. */
export function chanceStyle(random: Random, n: number): ChanceStyle {
  const feels = Object.keys(FEELS);
  const kindOf = n % 5;
  if (kindOf >= 2) return chanceFeel(random, feels[(Math.floor(n / 5) * 3 + kindOf - 2) % feels.length]!);
  const kind = random();
  const family = kind < 0.12 ? 'without drums' : kind < 0.24 ? 'hand percussion' : pick(random, Object.keys(KICKS));
  const kicks = KICKS[family] ?? { low: 72, high: 140, patterns: [] };
  const loose = random() < 0.5 ? 0 : 0.003 + 0.004 * random();
  const bare = family === 'without drums';
  return {
    family,
    tempo: [kicks.low, kicks.high],
    eighths: 1,
    heardBeats: 4,
    beatsPerBar: 4,
    swing: random() < 0.2 ? 0.33 : random() < 0.3 ? 0.15 * random() : 0,
    duck: family === 'kick on every beat' ? 0.4 * random() : 0,
    room: 0.05 + 0.25 * random(),
    drift: 0,
    loose,
    barsPerChord: pick(random, [1, 1, 2, 2, 4]),
    drums: bare
      ? {}
      : family === 'hand percussion'
        ? { conga: [...pick(random, HANDS)], shaker: [...pick(random, HATS)], rim: [...pick(random, HANDS)] }
        : {
            [pick(random, ['kick', 'kick', 'softKick'] as const)]: [...pick(random, kicks.patterns)],
            [pick(random, ['snare', 'snare', 'clap', 'rim', 'brush'] as const)]: [
              ...pick(random, family === 'half time' ? ON_THREE : SNARES),
            ],
            [pick(random, ['hat', 'hat', 'shaker', 'openHat'] as const)]: [...pick(random, HATS)],
          },
    bass: {
      instrument: pick(random, [
        'bass',
        'roundBass',
        'reese',
        ...(bare ? (['piano', 'strings'] as const) : []),
      ] as const),
      pattern: [...pick(random, BASSES)],
      octave: 2,
    },
    chords: {
      instrument: pick(random, ['pad', 'strings', 'keys', 'piano', 'pluck', 'stab'] as const),
      pattern: [...pick(random, CHORDS)],
      level: 0.45 + 0.3 * random(),
    },
    melody:
      random() < 0.7
        ? {
            instrument: pick(random, ['lead', 'flute', 'pluck', 'piano', 'strings'] as const),
            density: 0.15 + 0.4 * random(),
            level: 0.3 + 0.2 * random(),
          }
        : null,
  };
}
