/** Drum songs of the package hydrogen-data: patterns by others, as General MIDI percussion. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import type { Random } from '../../demo/synth/random.ts';
import type { Arrangement } from './arrangement.ts';
import { DRUM_CHANNEL } from '../pieces/midiFile.ts';

const FOLDER = '/usr/share/hydrogen/data/demo_songs';
const TICKS_A_QUARTER = 48;
/** Percussion keys of General MIDI by what an instrument is called, the first that fits. */
const KEYS: readonly (readonly [RegExp, number])[] = [
  [/kick/i, 36],
  [/rimshot/i, 40],
  [/snare 2/i, 40],
  [/snare/i, 38],
  [/stick/i, 37],
  [/clap/i, 39],
  [/floor|tom low/i, 41],
  [/tom 2|tom mid/i, 45],
  [/tom/i, 48],
  [/semi|open/i, 46],
  [/pedal/i, 44],
  [/hat/i, 42],
  [/ride 2/i, 59],
  [/ride/i, 51],
  [/splash/i, 55],
  [/crash|cymbal/i, 49],
  [/bell/i, 53],
  [/shaker/i, 82],
  [/conga/i, 63],
  [/clave/i, 75],
];

interface Pattern {
  name: string;
  size: number;
  noteList: { note?: { position: number; velocity: number; instrument: number }[] } | '';
}
interface Song {
  swing_factor: number;
  instrumentList: { instrument: { id: number; name: string }[] };
  patternList: { pattern: Pattern[] };
  patternSequence: { group: { patternID?: string[] }[] };
}

export const drumSongNames = (): string[] =>
  readdirSync(FOLDER)
    .filter((n) => n.endsWith('.h2song'))
    .sort();

/** A song's patterns in their order, from the start again until there are so many bars. */
export function drumSong(name: string, bars: number, random: Random): Arrangement {
  const parser = new XMLParser({
    isArray: (tag) => ['pattern', 'note', 'group', 'patternID'].includes(tag),
  });
  const { song } = parser.parse(readFileSync(join(FOLDER, name), 'utf8')) as { song: Song };
  const keys = new Map(
    [song.instrumentList.instrument].flat().map((i) => [i.id, KEYS.find(([p]) => p.test(i.name))?.[1] ?? 56]),
  );
  const patterns = new Map(song.patternList.pattern.map((p) => [String(p.name), p]));
  const messages: Arrangement['messages'] = [];
  const size = 4 * TICKS_A_QUARTER;
  let at = 0;
  for (let g = 0; at < bars * 4; g++) {
    const group = song.patternSequence.group[g % song.patternSequence.group.length]!;
    const played = (group.patternID ?? []).flatMap((id) => patterns.get(String(id)) ?? []);
    const length = Math.max(size, ...played.map((p) => p.size));
    for (const { noteList } of played)
      for (const { position, velocity, instrument } of noteList === '' ? [] : (noteList.note ?? [])) {
        // Every second sixteenth comes late by a share of a third of a sixteenth.
        const late = position % 24 === 12 ? (song.swing_factor * 12) / 3 : 0;
        const time = at + (position + late) / TICKS_A_QUARTER + 0.004 * (random() - 0.5);
        const key = keys.get(instrument) ?? 42;
        messages.push(
          { at: time, bytes: [0x90 | DRUM_CHANNEL, key, Math.max(1, Math.min(127, Math.round(velocity * 120)))] },
          { at: time + 0.2, bytes: [0x80 | DRUM_CHANNEL, key, 0] },
        );
      }
    at += (Math.ceil(length / size) * size) / TICKS_A_QUARTER;
  }
  messages.sort((a, b) => a.at - b.at);
  return { messages, quarters: at, quartersPerBeat: 1, beatsPerBar: 4, pickup: 0, chords: [] };
}
