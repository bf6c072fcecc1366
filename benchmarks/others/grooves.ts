/**
 * The groove files that come with the accompaniment program `mma` (Debian package mma): what each plays, which
 * measure it has, and how fast such music goes.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const LIBRARY = '/usr/share/mma/lib/stdlib';

export interface GrooveFile {
  style: string;
  /** Styles of one family are left out together. */
  family: string;
  /** For a whole section. */
  grooves: string[];
  intro: string | null;
  beatsPerBar: number;
  quartersPerBeat: number;
  /** Beats a minute at which such music goes. */
  tempo: readonly [low: number, high: number];
}

/** By name, the first that fits. */
const FAMILIES: readonly (readonly [RegExp, family: string, low: number, high: number])[] = [
  [/68|afro/, 'six-eight', 50, 120],
  [/waltz|viene/, 'waltz', 84, 184],
  [/128/, 'twelve-eight', 56, 100],
  [/fast|bebop|quickstep|bluegrass|charleston|dixie(?!march)/, 'fast swing', 160, 230],
  [/slow|ballad|hymn|lullaby|spiritual|nitejazz/, 'slow', 54, 88],
  [/swing|jazz|combo|bigband|gypsy|foxtrot|strut|softshoe|ragtime/, 'swing', 96, 190],
  [/blues|boggie|shuffle|jive/, 'blues', 84, 160],
  [/march|polka/, 'march', 96, 132],
  [/bossa|samba|salsa|son|mambo|merengue|rhumba|cha|beguine|bolero|tango|calypso|cuban/, 'latin', 84, 150],
  [/country|folk|zydeco|hillcountry/, 'country', 84, 144],
  [/funk|soul|^rb|strut|fusion/, 'funk and soul', 84, 116],
  [/trance|desert/, 'dance', 112, 140],
  [/rock|twist|ska|8beat|bubble/, 'rock', 92, 160],
];
const OTHERS = ['show and other', 76, 132] as const;
const NO_MUSIC = /^(metronome|none)/;
const NO_SECTION = /intro|end|fill|metronome|break|stop|hit|solo|-44|drums?only|introsus|rit/i;

/** All groove files; none where the package is not there. */
export function grooveFiles(): GrooveFile[] {
  return readdirSync(LIBRARY)
    .filter((name) => name.endsWith('.mma') && !NO_MUSIC.test(name))
    .sort()
    .map((name) => read(name.slice(0, -4), readFileSync(join(LIBRARY, name), 'latin1')));
}

function read(style: string, text: string): GrooveFile {
  const names = [...text.matchAll(/^[ \t]*DefGroove[ \t]+(\S+)/gim)].map((m) => m[1]!);
  const grooves = names.filter((n) => !NO_SECTION.test(n));
  const time = Number(/^\s*Time\s+(\d+)/im.exec(text)?.[1] ?? 4);
  const compound = /^\s*TimeSig\s+6[ /]8/im.test(text);
  const found = FAMILIES.find(([pattern]) => pattern.test(style));
  const [family, low, high] = found ? [found[1], found[2], found[3]] : OTHERS;
  return {
    style,
    family,
    grooves: grooves.length > 0 ? grooves : names.slice(0, 1),
    intro: names.find((n) => /intro$/i.test(n)) ?? null,
    beatsPerBar: compound ? 2 : time,
    quartersPerBeat: compound ? time / 2 : 1,
    tempo: [low, high],
  };
}
