/** From a style, a key and a length to timed events: sections, chords, bass, melody, drums. */
import type { Drum } from './drums.ts';
import type { Instrument } from './instruments.ts';
import { pick, type Random } from './random.ts';
import type { Style } from './styles.ts';

export interface DrumHit {
  drum: Drum;
  time: number;
  gain: number;
}
export interface Note {
  instrument: Instrument;
  midi: number;
  time: number;
  seconds: number;
  gain: number;
  part: 'bass' | 'chords' | 'melody';
}
export interface Section {
  name: 'intro' | 'build' | 'main' | 'breakdown' | 'outro';
  firstBar: number;
  bars: number;
}

export interface Piece {
  hits: DrumHit[];
  notes: Note[];
  sections: Section[];
  beats: number[];
  firstDownbeatSeconds: number;
  lengthSeconds: number;
}

/** Chords as scale-degree offsets in semitones with their third: [root, minor third or major third]. */
const PROGRESSIONS: Record<'minor' | 'major', readonly (readonly (readonly [root: number, third: number])[])[]> = {
  minor: [
    [
      [0, 3],
      [8, 4],
      [3, 4],
      [10, 4],
    ],
    [
      [0, 3],
      [5, 3],
      [8, 4],
      [7, 4],
    ],
    [
      [0, 3],
      [10, 4],
      [8, 4],
      [10, 4],
    ],
    [
      [0, 3],
      [0, 3],
      [5, 3],
      [7, 3],
    ],
    [
      [0, 3],
      [8, 4],
      [5, 3],
      [7, 4],
    ],
  ],
  major: [
    [
      [0, 4],
      [7, 4],
      [9, 3],
      [5, 4],
    ],
    [
      [0, 4],
      [9, 3],
      [5, 4],
      [7, 4],
    ],
    [
      [0, 4],
      [5, 4],
      [0, 4],
      [7, 4],
    ],
    [
      [0, 4],
      [4, 3],
      [5, 4],
      [7, 4],
    ],
    [
      [0, 4],
      [5, 4],
      [2, 3],
      [7, 4],
    ],
  ],
};
const SCALES = { minor: [0, 2, 3, 5, 7, 8, 10], major: [0, 2, 4, 5, 7, 9, 11] } as const;

/** Chords with the scale that melodies over them use, in semitones above the tonic. */
export interface Harmony {
  chords: readonly (readonly [root: number, third: number])[];
  scale: readonly number[];
}

export interface PieceSpec {
  style: Style;
  bpm: number;
  tonic: number;
  mode: 'major' | 'minor';
  seconds: number;
  leadIn: number;
  /** Instead of one of the usual progressions of the mode. */
  harmony?: Harmony;
  /** "late drums" begins with a third of the piece without them. */
  form?: 'usual' | 'late drums';
}

/** Bars per section: a form that scales with the length and always ends where a phrase does. */
function sectionsFor(totalBars: number, beatless: boolean, lateDrums: boolean): Section[] {
  const phrase = totalBars >= 40 ? 8 : 4;
  const shares: [Section['name'], number][] = beatless
    ? [
        ['intro', 0.2],
        ['main', 0.6],
        ['outro', 0.2],
      ]
    : lateDrums
      ? [
          ['breakdown', 0.34],
          ['main', 0.42],
          ['outro', 0.24],
        ]
      : [
          ['intro', 0.14],
          ['build', 0.14],
          ['main', 0.26],
          ['breakdown', 0.14],
          ['main', 0.22],
          ['outro', 0.1],
        ];
  let firstBar = 0;
  return shares.map(([name, share]) => {
    const bars = Math.max(phrase === 8 ? 4 : 2, Math.round((totalBars * share) / phrase) * phrase);
    const section = { name, firstBar, bars };
    firstBar += bars;
    return section;
  });
}

/** Composes a piece. Deterministic for a given random series. */
export function compose(spec: PieceSpec, random: Random): Piece {
  const { style, bpm, tonic, mode } = spec;
  const stepsPerBar = style.beatsPerBar * 4;
  const totalBars = Math.max(8, Math.round(((spec.seconds - spec.leadIn) * bpm) / 60 / style.beatsPerBar));
  const sections = sectionsFor(totalBars, Object.keys(style.drums).length === 0, spec.form === 'late drums');
  const bars = sections.reduce((sum, s) => sum + s.bars, 0);
  const beatTime = tempoMap(spec, bars * style.beatsPerBar + 8, random);
  const stepTime = (bar: number, step: number): number => {
    const swung = step % 2 === 1 ? step + style.swing * 2 : step;
    return beatTime(bar * style.beatsPerBar + swung / 4);
  };
  const loosen = (): number => (random() - 0.5) * 2 * style.loose;
  const { chords: progression, scale } = spec.harmony ?? {
    chords: pick(random, PROGRESSIONS[mode]),
    scale: SCALES[mode],
  };
  const hits: DrumHit[] = [];
  const notes: Note[] = [];

  const addNote = (
    instrument: Instrument,
    midi: number,
    bar: number,
    step: number,
    steps: number,
    gain: number,
    part: Note['part'],
  ): void => {
    const time = Math.max(0, stepTime(bar, step) + loosen());
    notes.push({
      instrument,
      midi,
      time,
      seconds: Math.max(0.08, stepTime(bar, step + steps) - time - 0.01),
      gain,
      part,
    });
  };
  const motif = makeMotif(style, random, stepsPerBar);

  for (const section of sections) {
    for (let b = 0; b < section.bars; b++) {
      const bar = section.firstBar + b;
      const chord = progression[Math.floor(bar / style.barsPerChord) % progression.length]!;
      const plays = partsOf(section.name, b, section.bars);
      if (plays.drums) addDrums(hits, style, section, bar, b, plays.full, stepTime, loosen, random);
      if (plays.bass && style.bass) {
        const pattern = style.bass.pattern[bar % style.bass.pattern.length]!;
        forEachHit(pattern, (step, gain, length) => {
          const fifth = gain < 0.9 && random() < 0.14 ? 7 : 0;
          addNote(
            style.bass!.instrument,
            bassRange(tonic + chord[0] + fifth),
            bar,
            step,
            Math.min(length, 4),
            0.85 * gain,
            'bass',
          );
        });
      }
      if (plays.chords) {
        const pattern = style.chords.pattern[bar % style.chords.pattern.length]!;
        forEachHit(pattern, (step, gain, length) => {
          for (const [i, interval] of [
            0,
            chord[1],
            7,
            ...(bar % 4 === 3 ? [10 + (mode === 'major' && chord[0] === 0 ? 1 : 0)] : []),
          ].entries()) {
            const midi = voicing(tonic + chord[0] + interval, i);
            addNote(style.chords.instrument, midi, bar, step, length, style.chords.level * gain * 0.55, 'chords');
          }
        });
      }
      if (plays.melody && style.melody) {
        for (const { step, degree, steps, gain } of motif[bar % motif.length]!) {
          const onStrong = step % 4 === 0;
          const chordTone = [chord[0], chord[0] + chord[1], chord[0] + 7][degree % 3]!;
          const scaleTone = scale[(degree + 7) % scale.length]!;
          addNote(
            style.melody.instrument,
            72 + ((tonic + (onStrong ? chordTone : scaleTone)) % 12),
            bar,
            step,
            steps,
            style.melody.level * gain,
            'melody',
          );
        }
      }
    }
  }
  // The last chord rings out on the tonic.
  for (const interval of [0, mode === 'minor' ? 3 : 4, 7])
    addNote(
      style.chords.instrument,
      voicing(tonic + interval, 1),
      bars,
      0,
      stepsPerBar,
      style.chords.level * 0.6,
      'chords',
    );
  if (style.bass) addNote(style.bass.instrument, bassRange(tonic), bars, 0, stepsPerBar, 0.8, 'bass');
  const lengthSeconds = beatTime(bars * style.beatsPerBar + style.beatsPerBar) + 1.5;
  const beats = Array.from({ length: bars * style.beatsPerBar + style.beatsPerBar }, (_, i) => beatTime(i));
  return { hits, notes, sections, beats, firstDownbeatSeconds: beats[0]!, lengthSeconds };
}

/** Which parts play in a bar of a section. */
function partsOf(
  name: Section['name'],
  bar: number,
  bars: number,
): { drums: boolean; full: boolean; bass: boolean; chords: boolean; melody: boolean } {
  switch (name) {
    case 'intro':
      return { drums: true, full: false, bass: bar >= bars / 2, chords: bar >= bars / 2, melody: false };
    case 'build':
      return { drums: true, full: true, bass: true, chords: true, melody: false };
    case 'main':
      return { drums: true, full: true, bass: true, chords: true, melody: bar % 8 < 6 };
    case 'breakdown':
      return { drums: bar >= bars - 1, full: false, bass: false, chords: true, melody: true };
    case 'outro':
      return { drums: true, full: false, bass: bar < bars / 2, chords: true, melody: false };
  }
}

function forEachHit(pattern: string, visit: (step: number, gain: number, length: number) => void): void {
  for (let step = 0; step < pattern.length; step++) {
    const c = pattern[step]!;
    if (c === '.') continue;
    let next = step + 1;
    while (next < pattern.length && pattern[next] === '.') next++;
    visit(step, c === 'X' ? 1 : c === 'x' ? 0.8 : 0.42, next - step);
  }
}

function addDrums(
  hits: DrumHit[],
  style: Style,
  section: Section,
  bar: number,
  b: number,
  full: boolean,
  stepTime: (bar: number, step: number) => number,
  loosen: () => number,
  random: Random,
): void {
  const lastOfSection = b === section.bars - 1;
  for (const [name, patterns] of Object.entries(style.drums) as [Drum, string[]][]) {
    const light = name === 'hat' || name === 'shaker' || name === 'kick' || name === 'softKick' || name === 'brush';
    if (!full && !light) continue;
    forEachHit(patterns[bar % patterns.length]!, (step, gain) => {
      if (lastOfSection && section.name === 'main' && step >= 12 && (name === 'kick' || name === 'hat')) return;
      hits.push({
        drum: name,
        time: Math.max(0, stepTime(bar, step) + loosen()),
        gain: gain * (0.9 + random() * 0.15) * DRUM_LEVELS[name],
      });
    });
  }
  if (lastOfSection && full && style.drums.snare) {
    for (const step of [12, 13, 14, 15])
      hits.push({ drum: random() < 0.5 ? 'tom' : 'snare', time: stepTime(bar, step), gain: 0.3 + (step - 12) * 0.08 });
  }
  if (b === 0 && full) hits.push({ drum: 'crash', time: stepTime(bar, 0), gain: 0.28 });
}

const DRUM_LEVELS: Record<Drum, number> = {
  kick: 1,
  softKick: 0.7,
  snare: 0.62,
  brush: 0.4,
  clap: 0.5,
  rim: 0.42,
  hat: 0.24,
  openHat: 0.26,
  shaker: 0.14,
  tom: 0.5,
  crash: 0.3,
  conga: 0.4,
};

interface MotifNote {
  step: number;
  degree: number;
  steps: number;
  gain: number;
}

/** Two bars of melody that return with the phrase, so that it sounds meant. */
function makeMotif(style: Style, random: Random, steps: number): MotifNote[][] {
  const density = style.melody?.density ?? 0;
  const bar = (): MotifNote[] => {
    const out: MotifNote[] = [];
    let degree = Math.floor(random() * 5);
    for (let step = 0; step < steps; step += 2) {
      if (random() > density * (step % 4 === 0 ? 1.5 : 0.8)) continue;
      degree = Math.max(0, Math.min(9, degree + Math.floor(random() * 5) - 2));
      out.push({ step, degree, steps: random() < 0.4 ? 4 : 2, gain: 0.7 + random() * 0.3 });
    }
    return out;
  };
  const a = bar(),
    b = bar(),
    c = bar();
  return [a, b, a, c];
}

const bassRange = (pitch: number): number => 33 + ((((pitch - 33 + 60) % 12) + 12) % 12);
const voicing = (pitch: number, i: number): number => 52 + ((((pitch - 52 + 60) % 12) + 12) % 12) + (i === 3 ? 12 : 0);

/** Beat number to seconds; a live drummer's tempo wanders slowly around the wanted one. */
function tempoMap(spec: PieceSpec, beats: number, random: Random): (beat: number) => number {
  const period = 60 / spec.bpm;
  if (spec.style.drift === 0) return (beat) => spec.leadIn + beat * period;
  const times = [spec.leadIn];
  const phase = random() * 6.28;
  for (let i = 0; i <= beats + 4; i++) {
    const wander = 0.7 * Math.sin(i / 19 + phase) + 0.3 * Math.sin(i / 7.3 + phase * 2);
    times.push(times[i]! + period / (1 + spec.style.drift * wander));
  }
  return (beat) => {
    const low = Math.min(times.length - 2, Math.floor(beat));
    return times[low]! + (times[low + 1]! - times[low]!) * (beat - low);
  };
}
