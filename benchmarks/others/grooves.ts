/**
 * The groove files that come with the accompaniment program `mma` (Debian package mma): what each plays, which
 * measure it has, and how fast such music goes. Besides its own library there are rhythms of keyboards, taken over by
 * several hands, and patterns of a drum machine.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const LIBRARY = '/usr/share/mma/lib';

/** By what a source is called: the folders of the library that it is made of. */
const FOLDERS = {
  grooves: ['stdlib'],
  'keyboard styles': ['casio', 'kara', 'yamaha', 'alexis'],
  'drum patterns': ['zoom'],
} as const;
export type GrooveSource = keyof typeof FOLDERS;

export interface GrooveFile {
  style: string;
  /** Where it lies, for those outside of the program's own library. */
  library?: string;
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
/** Of keyboards and the drum machine before those. */
const NEWER_FAMILIES: typeof FAMILIES = [
  [/68|blues34/, 'six-eight', 50, 96],
  [/34|waltz/, 'waltz', 84, 184],
  [/dnb/, 'drum and bass', 156, 178],
  [/hip-?hop|trip|^rnb|r\+b|modernrb|mellowrb/, 'hip-hop', 74, 106],
  [/latinhouse|house|techno|trance|rave|dance|electric|digital/, 'dance', 114, 146],
  [/reggae/, 'reggae', 64, 92],
  [/ballad|bald|^slow|serenade|ambient/, 'slow', 56, 90],
  [/punk|thr|mtl|metal/, 'fast rock', 140, 200],
  [/quickstep|fastbigband/, 'fast swing', 160, 220],
  [/soul|funk|fus|16beat|beat16/, 'funk and soul', 84, 120],
  [/march|pol?ka/, 'march', 96, 132],
  [/afro|latin|samba|bossa|mambo|salsa|quando/, 'latin', 84, 150],
  [/country|cntry|western/, 'country', 90, 150],
  [/pop|beat|hrk/, 'rock', 88, 150],
];
const NO_MUSIC = /^(metronome|none|count\.|ending|intro)/;
const NO_SECTION = /intro|end|fill|metronome|break|stop|hit|solo|-44|drums?only|introsus|rit/i;

/** All groove files of a source; of two of one name the first. */
export function grooveFiles(source: GrooveSource): GrooveFile[] {
  const all = FOLDERS[source].flatMap((folder) =>
    readdirSync(join(LIBRARY, folder))
      .filter((name) => name.endsWith('.mma') && !NO_MUSIC.test(name))
      .sort()
      .map((name) => read(folder, name.slice(0, -4))),
  );
  return all.filter((groove, i) => all.findIndex((g) => g.style === groove.style) === i);
}

function read(folder: string, style: string): GrooveFile {
  const text = readFileSync(join(LIBRARY, folder, `${style}.mma`), 'latin1');
  const names = [...text.matchAll(/^[ \t]*DefGroove[ \t]+(\S+)/gim)].map((m) => m[1]!);
  const grooves = names.filter((n) => !NO_SECTION.test(n));
  const time = Number(/^\s*Time\s+(\d+)/im.exec(text)?.[1] ?? 4);
  const compound = time === 6 || /^\s*TimeSig\s+6[ /]8/im.test(text);
  const own = folder === 'stdlib';
  const found = [...(own ? [] : NEWER_FAMILIES), ...FAMILIES].find(([pattern]) => pattern.test(style));
  const [family, low, high] = found ? [found[1], found[2], found[3]] : OTHERS;
  return {
    style,
    ...(own ? {} : { library: `${folder}/${style}` }),
    family,
    grooves: grooves.length > 0 ? grooves : names.slice(0, 1),
    intro: names.find((n) => /intro$/i.test(n)) ?? null,
    beatsPerBar: compound ? 2 : time,
    quartersPerBeat: compound ? time / 2 : 1,
    tempo: [low, high],
  };
}
