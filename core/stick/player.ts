/** What players of sticks take: formats, names, folders, pictures. A further one is a record here. */
import { TURNSTONE, type PlayoutSystem } from '../playout/system.ts';

/** Formats that files can be converted to. Quality is kilobits a second where it is a number, else none is lost. */
export const TARGETS = {
  mp3: { label: 'MP3', ending: '.mp3', codec: 'mp3', kbps: [128, 192, 256, 320] },
  aac: { label: 'AAC', ending: '.m4a', codec: 'aac', kbps: [128, 192, 256, 320] },
  ogg: { label: 'Ogg Vorbis', ending: '.ogg', codec: 'vorbis', kbps: [128, 192, 256, 320] },
  opus: { label: 'Opus', ending: '.opus', codec: 'opus', kbps: [96, 128, 160, 192] },
  flac: { label: 'FLAC', ending: '.flac', codec: 'flac', kbps: [] },
  wav: { label: 'WAV', ending: '.wav', codec: 'pcm_s16le', kbps: [] },
  aiff: { label: 'AIFF', ending: '.aiff', codec: 'pcm_s16be', kbps: [] },
} as const satisfies Record<string, { label: string; ending: string; codec: string; kbps: readonly number[] }>;
export type Target = keyof typeof TARGETS;
export const TARGET_IDS = Object.keys(TARGETS) as Target[];

export interface Player {
  kind: string;
  name: string;
  /** Formats that it plays; null: whatever there is. */
  plays: readonly Target[] | null;
  /** Characters of a name, its ending included. */
  maxName: number;
  /** Files of one folder that it sees. */
  filesAFolder: number | null;
  /** What it goes by, and what it shows of a track, in words; null where nobody can say. */
  sortsBy: string | null;
  shows: string | null;
  /** A picture it wants in each folder. */
  picture: { name: string; maxPixels: number } | null;
  /** It is a playout system: tracks go there as items, by its own rules. */
  playout: PlayoutSystem | null;
}

export const PLAYERS: Readonly<Record<string, Player>> = {
  oystercatcher: {
    kind: 'oystercatcher',
    name: 'Oystercatcher',
    plays: ['mp3', 'aac'],
    maxName: 64,
    filesAFolder: 255,
    sortsBy: 'file name',
    shows: 'tags, or the line of a list',
    picture: { name: 'folder.jpg', maxPixels: 500 },
    playout: null,
  },
  folder: {
    kind: 'folder',
    name: 'Any player',
    plays: null,
    maxName: 255,
    filesAFolder: null,
    sortsBy: null,
    shows: null,
    picture: null,
    playout: null,
  },
  turnstone: {
    kind: 'turnstone',
    name: TURNSTONE.name,
    plays: ['wav'],
    maxName: 255,
    filesAFolder: null,
    sortsBy: null,
    shows: null,
    picture: null,
    playout: TURNSTONE,
  },
};

/** Endings of formats, with such as others write. Bare AAC (".aac") is none: few players find their way in it. */
const ENDINGS: Readonly<Record<string, Target>> = {
  ...Object.fromEntries(TARGET_IDS.map((id) => [TARGETS[id].ending, id])),
  '.oga': 'ogg',
  '.aif': 'aiff',
};

/** How codecs are called by whoever reads them: "mp3", "MPEG 1 Layer 3"; "pcm_s24le", "PCM"; WAV's extensions. */
const CODECS: Readonly<Record<Target, RegExp>> = {
  mp3: /^mp3|layer 3$/i,
  aac: /\baac\b/i,
  ogg: /^vorbis/i,
  opus: /^opus/i,
  flac: /^flac/i,
  wav: /^pcm|\(65534\)$/i,
  aiff: /^pcm|^none$/i,
};

/** The format that a file has, by its ending and its codec; null for one that nothing is converted to. */
export function formatOf(ending: string, codec: string | null): Target | null {
  const target = ENDINGS[ending.toLowerCase()] ?? null;
  return target === null || codec === null || CODECS[target].test(codec) ? target : null;
}
