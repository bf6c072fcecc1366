/** Styles that only the benchmark plays, beside the demo's. */
import { STYLES, type Style } from '../../demo/synth/styles.ts';

const band = { swing: 0, duck: 0, room: 0.15, drift: 0, loose: 0.004, barsPerChord: 1, beatsPerBar: 4 as const };

const OWN = {
  halfTime: {
    ...band, loose: 0, barsPerChord: 2,
    drums: { kick: ['X.....x.........', 'X.........x.....'], snare: ['........X.......'], hat: ['x.x.x.x.x.xxx.x.'] },
    bass: { instrument: 'reese', pattern: ['x.....x...x...x.', 'x..x....x.......'], octave: 2 },
    chords: { instrument: 'pad', pattern: ['X...............'], level: 0.6 },
    melody: { instrument: 'pluck', density: 0.3, level: 0.35 },
  },
  brokenBeat: {
    ...band, swing: 0.1, barsPerChord: 2,
    drums: { kick: ['X..x......x.....', 'X.....x..x......'], snare: ['....X......x....', '....X..o...X....'], hat: ['x.xxx.x.x.xxx.x.'], shaker: ['o.o.o.o.o.o.o.o.'] },
    bass: { instrument: 'roundBass', pattern: ['x..x...x..x.....', '..x..x..x.....x.'], octave: 2 },
    chords: { instrument: 'keys', pattern: ['x.....x....x....', '...x......x.....'], level: 0.7 },
    melody: { instrument: 'flute', density: 0.25, level: 0.4 },
  },
  offBeat: {
    ...band, loose: 0, duck: 0.4,
    drums: { kick: ['x...x...x...x...'], openHat: ['..X...X...X...X.'], clap: ['....o.......o...'] },
    bass: { instrument: 'bass', pattern: ['..X...X...X...X.'], octave: 2 },
    chords: { instrument: 'stab', pattern: ['..X...X...X...X.', '..X...X..xX...X.'], level: 0.65 },
    melody: { instrument: 'lead', density: 0.4, level: 0.3 },
  },
  arpeggio: {
    ...band, loose: 0, duck: 0.5, barsPerChord: 2, room: 0.3,
    drums: { kick: ['X...X...X...X...'], clap: ['....x.......x...'], openHat: ['..x...x...x...x.'] },
    bass: { instrument: 'bass', pattern: ['.xxx.xxx.xxx.xxx'], octave: 2 },
    chords: { instrument: 'pluck', pattern: ['x.xx.xx.x.xx.xx.'], level: 0.55 },
    melody: { instrument: 'lead', density: 0.25, level: 0.35 },
  },
  rock: {
    ...band,
    drums: { kick: ['X.......X.x.....', 'X.......x.x..x..'], snare: ['....X.......X...'], hat: ['x.x.x.x.x.x.x.x.'] },
    bass: { instrument: 'bass', pattern: ['x.x.x.x.x.x.x.x.'], octave: 2 },
    chords: { instrument: 'stab', pattern: ['x.....x.x.....x.', 'x.x.x.x.x.x.x.x.'], level: 0.6 },
    melody: { instrument: 'lead', density: 0.3, level: 0.4 },
  },
  funk: {
    ...band, swing: 0.08, barsPerChord: 2,
    drums: { kick: ['X..x......x..x..', 'X.x.......x.....'], snare: ['....X..o.o..X..o'], hat: ['xxxxxxxxxxxxxxxx'], openHat: ['..............x.'] },
    bass: { instrument: 'bass', pattern: ['X..x..x...x..xx.', 'X.xx....x.x..x..'], octave: 2 },
    chords: { instrument: 'pluck', pattern: ['..x.x..x..x.x..x'], level: 0.55 },
    melody: { instrument: 'lead', density: 0.35, level: 0.35 },
  },
  bossa: {
    ...band, room: 0.2, barsPerChord: 2,
    drums: { softKick: ['X..xX..xX..xX..x'], rim: ['x..x..x...x..x..'], hat: ['o.o.o.o.o.o.o.o.'] },
    bass: { instrument: 'roundBass', pattern: ['x.....x.x.....x.'], octave: 2 },
    chords: { instrument: 'pluck', pattern: ['x..x..x...x..x..', '..x..x..x..x....'], level: 0.65 },
    melody: { instrument: 'flute', density: 0.3, level: 0.45 },
  },
  swingJazz: {
    ...band, swing: 0.33, drift: 0.01, loose: 0.006,
    drums: { softKick: ['o...o...o...o...'], hat: ['x...x.x.x...x.x.'], rim: ['....x.......x...'], brush: ['o...o...o...o...'] },
    bass: { instrument: 'roundBass', pattern: ['x...x...x...x...'], octave: 2 },
    chords: { instrument: 'piano', pattern: ['x.....x.........', '......x...x.....'], level: 0.7 },
    melody: { instrument: 'lead', density: 0.4, level: 0.4 },
  },
  sixEight: {
    ...band, beatsPerBar: 3, room: 0.2, barsPerChord: 2,
    drums: { softKick: ['X...........', '............'], brush: ['............', 'X...........'], hat: ['x...o...o...'] },
    bass: { instrument: 'roundBass', pattern: ['x.......x...'], octave: 2 },
    chords: { instrument: 'piano', pattern: ['x...x...x...'], level: 0.7 },
    melody: { instrument: 'strings', density: 0.25, level: 0.4 },
  },
  pianoSolo: {
    ...band, drift: 0.015, loose: 0.008, room: 0.3, drums: {},
    bass: { instrument: 'piano', pattern: ['x.......x.......', 'x.....x.x.......'], octave: 2 },
    chords: { instrument: 'piano', pattern: ['..x.x.x...x.x.x.', 'x.x.x.x.x.x.x.x.'], level: 0.6 },
    melody: { instrument: 'piano', density: 0.45, level: 0.7 },
  },
  stringsOnly: {
    ...band, drift: 0.01, loose: 0.015, room: 0.4, drums: {},
    bass: { instrument: 'strings', pattern: ['X...............'], octave: 2 },
    chords: { instrument: 'strings', pattern: ['X.......x.......'], level: 0.8 },
    melody: { instrument: 'strings', density: 0.35, level: 0.6 },
  },
  guitar: {
    ...band, loose: 0.006, room: 0.15, drums: {},
    bass: { instrument: 'pluck', pattern: ['x.......x.......'], octave: 2 },
    chords: { instrument: 'pluck', pattern: ['x..x..x.x..x..x.', 'x.x.xxx.x.x.xxx.'], level: 0.7 },
    melody: { instrument: 'flute', density: 0.25, level: 0.4 },
  },
  march: {
    ...band, loose: 0.003,
    drums: { kick: ['X.......X.......'], snare: ['x..xx..xx..xxxxx', 'x..xx..xX...X...'], crash: ['................'] },
    bass: { instrument: 'strings', pattern: ['x.......x.......'], octave: 2 },
    chords: { instrument: 'stab', pattern: ['....x.......x...'], level: 0.6 },
    melody: { instrument: 'lead', density: 0.5, level: 0.45 },
  },
} satisfies Record<string, Style>;

export type BenchStyle = keyof typeof OWN | keyof typeof STYLES;
export const BENCH_STYLES: Record<BenchStyle, Style> = { ...STYLES, ...OWN };
/** Styles that people dance to, for the measures that ask for them alone. */
export const DANCE: ReadonlySet<BenchStyle> = new Set<BenchStyle>(['house', 'deepHouse', 'techno', 'drumAndBass', 'hipHop', 'disco', 'twoStep', 'dembow', 'breakbeat', 'electro', 'dub', 'halfTime', 'brokenBeat', 'offBeat', 'arpeggio', 'funk']);
/** Styles without a pulse to find. */
export const BEATLESS: ReadonlySet<BenchStyle> = new Set<BenchStyle>(['ambient']);
