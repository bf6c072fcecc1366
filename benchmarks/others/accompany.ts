/** An arrangement of a chord sheet by `mma`: drums, bass and chords of a groove by others. */
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pick, type Random } from '../../demo/synth/random.ts';
import type { Arrangement } from './arrangement.ts';
import { runProgram } from './programs.ts';
import type { GrooveFile } from './grooves.ts';
import { readMidi } from '../pieces/midiFile.ts';
import { chordName, chordTones, type Sheet } from './sheets.ts';

/** @param folder for files in the making */
export function accompany(
  groove: GrooveFile,
  { tonic, sheet, name, folder, random }: { tonic: number; sheet: Sheet; name: string; folder: string; random: Random },
): Arrangement {
  const called = (name: string): string => (groove.library ? `${groove.library}:${name}` : name);
  const first = pick(random, groove.grooves),
    second = pick(random, groove.grooves);
  const barQuarters = groove.beatsPerBar * groove.quartersPerBeat;
  const lines = ['Tempo 120'];
  const chords: Arrangement['chords'] = [];
  let bar = 0;
  sheet.sections.forEach((section, s) => {
    const starts = s === 0 && groove.intro !== null && random() < 0.5;
    lines.push(`Groove ${called(starts ? groove.intro! : s % 2 === 0 ? first : second)}`);
    section.forEach((chord, k) => {
      if (starts && k === Math.min(4, section.length >> 1)) lines.push(`Groove ${called(first)}`);
      chords.push({ at: bar * barQuarters, tones: chordTones(tonic, chord) });
      lines.push(`${++bar} ${chordName(tonic, chord)}`);
    });
  });
  const source = join(folder, `.${name}.mma`),
    midi = join(folder, `.${name}.mma.mid`);
  writeFileSync(source, `${lines.join('\n')}\n`);
  runProgram('mma', ['-f', midi, source]);
  const messages = readMidi(readFileSync(midi));
  rmSync(source);
  rmSync(midi);
  const { beatsPerBar, quartersPerBeat } = groove;
  return { messages, quarters: bar * barQuarters, quartersPerBeat, beatsPerBar, pickup: 0, chords };
}
