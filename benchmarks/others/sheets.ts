/** Chord sheets: progressions of both modes, some that name their tonic clearly and some that go round and round. */
import { pick, type Random } from '../../demo/synth/random.ts';

export type Mode = 'major' | 'minor';
/** Semitones above the tonic, and what kind of chord. */
export type SheetChord = readonly [offset: number, kind: ChordKind];
export type ChordKind = '' | 'm' | '7' | 'm7' | 'M7' | 'm7b5';

const TONES: Record<ChordKind, number[]> = {
  '': [0, 4, 7],
  m: [0, 3, 7],
  7: [0, 4, 7, 10],
  m7: [0, 3, 7, 10],
  M7: [0, 4, 7, 11],
  m7b5: [0, 3, 6, 10],
};
const NAMES = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'Gb', 'G', 'Ab', 'A', 'Bb', 'B'];

export const chordName = (tonic: number, [offset, kind]: SheetChord): string => NAMES[(tonic + offset) % 12]! + kind;
export const chordTones = (tonic: number, [offset, kind]: SheetChord): number[] =>
  TONES[kind].map((t) => (tonic + offset + t) % 12);

const I = [0, ''] as const,
  i = [0, 'm'] as const;

/** Four or eight bars each; of these the tonic is named by a cadence. */
const CLEAR: Record<Mode, readonly (readonly SheetChord[])[]> = {
  major: [
    [I, [9, 'm'], [5, ''], [7, '7']],
    [I, [5, ''], [7, '7'], I],
    [[2, 'm7'], [7, '7'], I, I],
    [I, [9, 'm'], [2, 'm'], [7, '7']],
    [I, I, [5, ''], [5, ''], I, [7, '7'], I, I],
    [I, [4, 'm'], [5, ''], [7, '7'], I, [9, 'm'], [7, '7'], I],
    [[5, ''], [5, 'm'], I, [9, '7'], [2, 'm7'], [7, '7'], I, [7, '7']],
    [I, [2, '7'], [7, '7'], I],
    [I, [7, ''], [9, 'm'], [4, 'm'], [5, ''], I, [7, '7'], I],
  ],
  minor: [
    [i, [5, 'm'], [7, '7'], i],
    [i, [8, ''], [5, 'm'], [7, '7']],
    [i, [10, ''], [8, ''], [7, '7']],
    [[2, 'm7b5'], [7, '7'], i, i],
    [i, i, [5, 'm'], [5, 'm'], i, [7, '7'], i, i],
    [i, [3, ''], [8, ''], [7, '7'], i, [5, 'm'], [7, '7'], i],
    [i, [5, 'm'], [10, '7'], [3, ''], [8, ''], [2, 'm7b5'], [7, '7'], i],
  ],
};

/** Loops: heard in two keys by some. */
const LOOPS: Record<Mode, readonly (readonly SheetChord[])[]> = {
  major: [
    [I, [7, ''], [9, 'm'], [5, '']],
    [[9, 'm'], [5, ''], I, [7, '']],
    [[5, ''], I, [7, ''], [9, 'm']],
    [I, [10, ''], [5, ''], I],
    [
      [5, 'M7'],
      [4, 'm7'],
      [2, 'm7'],
      [0, 'M7'],
    ],
    [I, I, I, I],
    [I, [5, ''], I, [5, '']],
    [I, [10, ''], I, [10, '']],
    [I, [2, 'm'], I, [2, 'm']],
    [I, [4, 'm'], [5, ''], [5, 'm']],
    [I, [7, ''], [2, 'm'], [5, '']],
    [I, [3, ''], [5, ''], [10, '']],
    [I, [9, 'm'], [4, 'm'], [5, '']],
    [
      [0, '7'],
      [0, '7'],
      [5, '7'],
      [5, '7'],
    ],
    [I, I, [10, ''], [5, ''], I, I, [9, 'm'], [5, '']],
  ],
  minor: [
    [i, [8, ''], [3, ''], [10, '']],
    [i, [10, ''], [8, ''], [10, '']],
    [
      [0, 'm7'],
      [5, '7'],
      [0, 'm7'],
      [5, '7'],
    ],
    [i, [7, 'm'], i, [7, 'm']],
    [[8, ''], [10, ''], i, i],
    [[5, 'm'], [8, ''], i, [10, '']],
    [i, i, i, i],
    [i, i, [3, ''], [5, '']],
    [i, [10, ''], i, [10, '']],
    [i, [8, ''], i, [8, '']],
    [i, [5, 'm'], i, [5, 'm']],
    [i, [1, ''], i, [1, '']],
    [i, [5, ''], [10, ''], i],
    [i, [3, ''], [10, ''], [5, '']],
    [i, [7, 'm'], [8, ''], [10, '']],
    [i, [8, ''], [10, ''], [7, 'm']],
    [
      [0, 'm7'],
      [3, 'M7'],
      [5, 'm7'],
      [10, '7'],
    ],
    [i, i, [8, ''], [10, ''], i, i, [5, 'm'], [7, '7']],
  ],
};

const BLUES: readonly SheetChord[] = ([0, 0, 0, 0, 5, 5, 0, 0, 7, 5, 0, 7] as const).map(
  (offset) => [offset, '7'] as const,
);

export interface Sheet {
  /** A chord for each bar. */
  sections: (readonly SheetChord[])[];
  /** Does it name its tonic by cadences? */
  clear: boolean;
}

/** Sections of eight or twelve bars, one returning, and a last bar on the tonic where the sheet is a clear one. */
export function chanceSheet(random: Random, mode: Mode, bars: number, style: string): Sheet {
  const sevenths = /jazz|swing|bebop|bossa|samba|combo|fusion/.test(style) && random() < 0.7;
  if (/blues|boggie/.test(style) && mode === 'major')
    return { sections: repeated([BLUES], bars).concat([[I, I]]), clear: true };
  const clear = random() < 0.6;
  const choices = (clear ? CLEAR : LOOPS)[mode];
  const eight = (): readonly SheetChord[] => {
    const four = pick(random, choices);
    const all = four.length === 8 ? four : [...four, ...four];
    return sevenths ? all.map(withSeventh) : all;
  };
  const first = eight(),
    second = eight();
  const order = random() < 0.5 ? [first, first, second, first] : [first, second];
  return { sections: repeated(order, bars).concat(clear ? [[mode === 'major' ? I : i]] : []), clear };
}

const withSeventh = ([offset, kind]: SheetChord): SheetChord =>
  kind === 'm' ? [offset, 'm7'] : kind === '' ? [offset, offset === 7 || offset === 10 ? '7' : 'M7'] : [offset, kind];

function repeated(order: readonly (readonly SheetChord[])[], bars: number): (readonly SheetChord[])[] {
  const out: (readonly SheetChord[])[] = [];
  for (let n = 0, k = 0; n < bars; k++) {
    out.push(order[k % order.length]!);
    n += out.at(-1)!.length;
  }
  return out;
}
