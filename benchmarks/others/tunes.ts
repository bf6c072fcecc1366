/**
 * Dance tunes in ABC notation (the standard of abcnotation.com, version 2.1), made by chance in the forms that dancers
 * know, and played with the accompaniment of `abc2midi` (Debian package abcmidi).
 */
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pick, type Random } from '../../demo/synth/random.ts';
import type { Arrangement } from './arrangement.ts';
import { readMidi } from '../pieces/midiFile.ts';
import { runProgram } from './programs.ts';
import type { Mode } from './sheets.ts';

export interface TuneForm {
  style: string;
  meter: string;
  /** Eighths in a bar. */
  eighths: number;
  quartersPerBeat: number;
  beatsPerBar: number;
  /** How a bar's eighths are grouped into notes. */
  rhythms: readonly (readonly number[])[];
  tempo: readonly [low: number, high: number];
  /** Long and short eighths in turn. */
  dotted?: boolean;
}

export const TUNE_FORMS: readonly TuneForm[] = [
  {
    style: 'jig',
    ...{ meter: '6/8', eighths: 6, quartersPerBeat: 1.5, beatsPerBar: 2, tempo: [96, 126] as const },
    rhythms: [
      [1, 1, 1, 1, 1, 1],
      [2, 1, 1, 1, 1],
      [1, 1, 1, 2, 1],
      [2, 1, 2, 1],
      [3, 1, 1, 1],
      [1, 1, 1, 3],
    ],
  },
  {
    style: 'reel',
    ...{ meter: '4/4', eighths: 8, quartersPerBeat: 1, beatsPerBar: 4, tempo: [168, 216] as const },
    rhythms: [
      [1, 1, 1, 1, 1, 1, 1, 1],
      [2, 1, 1, 1, 1, 1, 1],
      [2, 1, 1, 2, 1, 1],
      [2, 2, 1, 1, 2],
      [1, 1, 2, 1, 1, 2],
    ],
  },
  {
    style: 'hornpipe',
    ...{ meter: '4/4', eighths: 8, quartersPerBeat: 1, beatsPerBar: 4, tempo: [130, 172] as const, dotted: true },
    rhythms: [
      [1, 1, 1, 1, 1, 1, 1, 1],
      [2, 1, 1, 1, 1, 1, 1],
      [2, 2, 2, 2],
      [1, 1, 1, 1, 2, 2],
      [2, 1, 1, 2, 1, 1],
    ],
  },
  {
    style: 'tune waltz',
    ...{ meter: '3/4', eighths: 6, quartersPerBeat: 1, beatsPerBar: 3, tempo: [96, 168] as const },
    rhythms: [[2, 2, 2], [4, 2], [3, 1, 2], [2, 1, 1, 2], [6], [2, 2, 1, 1], [1, 1, 2, 2]],
  },
  {
    style: 'tune polka',
    ...{ meter: '2/4', eighths: 4, quartersPerBeat: 1, beatsPerBar: 2, tempo: [108, 138] as const },
    rhythms: [
      [1, 1, 1, 1],
      [2, 1, 1],
      [1, 1, 2],
      [2, 2],
    ],
  },
  {
    style: 'air',
    ...{ meter: '4/4', eighths: 8, quartersPerBeat: 1, beatsPerBar: 4, tempo: [60, 92] as const },
    rhythms: [[4, 4], [2, 2, 4], [3, 1, 4], [2, 2, 2, 2], [6, 2], [4, 2, 2], [8]],
  },
];

const LETTERS = ['C', 'D', 'E', 'F', 'G', 'A', 'B'];
/** Keys of such tunes: name in ABC, tonic, steps of the letters above C, chords as letters above the tonic. */
const KEYS: readonly {
  name: string;
  tonic: number;
  mode: Mode;
  home: number;
  chords: readonly (readonly [number, string])[];
}[] = [
  {
    name: 'D',
    tonic: 2,
    mode: 'major',
    home: 1,
    chords: [
      [0, 'D'],
      [3, 'G'],
      [4, 'A7'],
      [5, 'Bm'],
    ],
  },
  {
    name: 'G',
    tonic: 7,
    mode: 'major',
    home: 4,
    chords: [
      [0, 'G'],
      [3, 'C'],
      [4, 'D7'],
      [5, 'Em'],
    ],
  },
  {
    name: 'A',
    tonic: 9,
    mode: 'major',
    home: 5,
    chords: [
      [0, 'A'],
      [3, 'D'],
      [4, 'E7'],
      [5, 'F#m'],
    ],
  },
  {
    name: 'C',
    tonic: 0,
    mode: 'major',
    home: 0,
    chords: [
      [0, 'C'],
      [3, 'F'],
      [4, 'G7'],
      [5, 'Am'],
    ],
  },
  {
    name: 'F',
    tonic: 5,
    mode: 'major',
    home: 3,
    chords: [
      [0, 'F'],
      [3, 'Bb'],
      [4, 'C7'],
      [5, 'Dm'],
    ],
  },
  {
    name: 'Em',
    tonic: 4,
    mode: 'minor',
    home: 2,
    chords: [
      [0, 'Em'],
      [6, 'D'],
      [2, 'G'],
      [4, 'Bm'],
    ],
  },
  {
    name: 'Am',
    tonic: 9,
    mode: 'minor',
    home: 5,
    chords: [
      [0, 'Am'],
      [6, 'G'],
      [2, 'C'],
      [4, 'E7'],
    ],
  },
  {
    name: 'Ador',
    tonic: 9,
    mode: 'minor',
    home: 5,
    chords: [
      [0, 'Am'],
      [6, 'G'],
      [3, 'D'],
      [2, 'C'],
    ],
  },
  {
    name: 'Edor',
    tonic: 4,
    mode: 'minor',
    home: 2,
    chords: [
      [0, 'Em'],
      [6, 'D'],
      [3, 'A'],
      [2, 'G'],
    ],
  },
  {
    name: 'Dmix',
    tonic: 2,
    mode: 'major',
    home: 1,
    chords: [
      [0, 'D'],
      [6, 'C'],
      [3, 'G'],
      [4, 'Am'],
    ],
  },
];
const MELODY = [21, 22, 40, 68, 72, 73, 75, 105, 109, 110];
const CHORDS = [0, 24, 25, 21, 46, 105];
const DRUMS: Record<string, string> = {
  '6/8': 'd2dd2d 36 42 36 42 90 60 80 60',
  '4/4': 'd2d2d2d2 36 38 36 38 90 80 90 80',
  '3/4': 'd2d2d2 36 42 42 90 60 60',
  '2/4': 'd2d2 36 38 90 80',
};

export interface Tune {
  arrangement: Arrangement;
  tonic: number;
  mode: Mode;
}

/** Parts of eight bars, each twice, until it is long enough. */
export function chanceTune(
  form: TuneForm,
  {
    seconds,
    bpm,
    name,
    folder,
    random,
  }: { seconds: number; bpm: number; name: string; folder: string; random: Random },
): Tune {
  const key = pick(random, KEYS);
  const bars = Math.ceil((seconds * bpm) / 60 / form.beatsPerBar);
  const pickupEighths = random() < 0.4 ? 1 + Math.floor(random() * 2) : 0;
  let step = key.home + 7;
  const note = (eighths: number, chord: number | null): string => {
    step += Math.round((random() - 0.5) * 5 + (key.home + 8 - step) * 0.15);
    if (chord !== null && random() < 0.7) {
      const above = (((step - key.home - chord) % 7) + 7) % 7;
      step -= above === 1 ? 1 : above === 3 ? 1 : above === 5 ? 1 : above === 6 ? -1 : 0;
    }
    return spelled(step) + (eighths === 1 ? '' : String(eighths));
  };
  const cadence = [0, 0, 1, 2, 0, 3, 2, 0];
  const part = (): string[] =>
    cadence.map((usual, b) => {
      const [degree, chord] = key.chords[b === 0 || b === 7 || random() < 0.6 ? usual : Math.floor(random() * 4)]!;
      const rhythm = b === 7 ? [form.eighths] : pick(random, form.rhythms);
      let first = true;
      let long = true;
      const text = rhythm.map((eighths) => {
        const at = note(eighths, first ? degree : null);
        first = false;
        if (!form.dotted || eighths !== 1) return at;
        long = !long;
        return long ? at : `${at}>`;
      });
      if (b === 7) step = key.home + 7;
      const body = b === 7 ? spelled(key.home + 7) + String(form.eighths) : text.join('').replace(/>$/, '');
      return `"${chord}"${body}`;
    });
  const parts = [part(), part()];
  const tune: string[] = [];
  for (let k = 0; tune.length < bars; k++) tune.push(...parts[(k >> 1) % 2]!);
  const lines = [
    'X:1',
    'T:Tune',
    `M:${form.meter}`,
    'L:1/8',
    'Q:1/4=120',
    `%%MIDI program ${pick(random, MELODY)}`,
    `%%MIDI chordprog ${pick(random, CHORDS)}`,
    `%%MIDI bassprog ${pick(random, [32, 33, 42, 0])}`,
    `%%MIDI chordvol ${50 + Math.floor(random() * 40)}`,
    `%%MIDI bassvol ${60 + Math.floor(random() * 40)}`,
    `K:${key.name}`,
    ...(random() < 0.5 ? [`%%MIDI drum ${DRUMS[form.meter]!}`, '%%MIDI drumon'] : []),
    (pickupEighths > 0 ? `${Array.from({ length: pickupEighths }, () => note(1, null)).join('')}|` : '') +
      tune.join('|\n'),
  ];
  const source = join(folder, `.${name}.abc`),
    midi = join(folder, `.${name}.abc.mid`);
  writeFileSync(source, `${lines.join('\n')}|]\n`);
  runProgram('abc2midi', [source, '-o', midi]);
  const pickup = pickupEighths / 2;
  const messages = readMidi(readFileSync(midi)).map((m) => ({ ...m, at: m.at - pickup }));
  rmSync(source);
  rmSync(midi);
  const { quartersPerBeat, beatsPerBar } = form;
  const quarters = (tune.length * form.eighths) / 2;
  const arrangement = { messages, quarters, quartersPerBeat, beatsPerBar, pickup, chords: [] };
  return { arrangement, tonic: key.tonic, mode: key.mode };
}

/** A step of the letters, C of the middle octave as 0. */
function spelled(step: number): string {
  const letter = LETTERS[((step % 7) + 7) % 7]!;
  return step >= 7
    ? letter.toLowerCase() + "'".repeat(Math.floor(step / 7) - 1)
    : letter + ','.repeat(Math.max(0, -Math.floor(step / 7)));
}
