/** What is made of each track: key, length, level, file path and the tags as found in the file. */
import { keyOf, type MusicalKey, type Mode } from '@early-set/core/fields/keys';
import { seeded, seedOf } from '../synth/random.ts';
import type { StyleName } from '../synth/styles.ts';
import { TRACKS, type Format, type TrackSpec } from './tracks.ts';

export interface PlannedTrack extends TrackSpec {
  seed: number;
  tonic: number;
  mode: Mode;
  key: MusicalKey;
  seconds: number;
  lufs: number;
  leadIn: number;
  /** Path below the demo's music folder, ending included. */
  path: string;
  /** Tags to write, under ffmpeg's names. */
  metadata: Record<string, string>;
  latin1: boolean;
  picture: boolean;
}

const ENDINGS: Record<Format, string> = {
  mp3: 'mp3',
  'mp3-128': 'mp3',
  'mp3-vbr': 'mp3',
  flac: 'flac',
  ogg: 'ogg',
  opus: 'opus',
  m4a: 'm4a',
  wav: 'wav',
  aiff: 'aiff',
};

/** Loudness each style is usually delivered at, in LUFS. */
const LEVELS: Record<StyleName, number> = {
  house: -9,
  deepHouse: -10,
  techno: -8,
  drumAndBass: -7.8,
  hipHop: -10,
  disco: -11.5,
  twoStep: -9,
  dembow: -9.5,
  breakbeat: -9,
  electro: -8.8,
  ballad: -15,
  ambient: -21,
  waltz: -16,
  soul: -14,
  dub: -12,
};

/** What is made of a track; equal on every machine. */
export function planned(spec: TrackSpec, index: number): PlannedTrack {
  const seed = seedOf(`${spec.artist}/${spec.title}/${spec.version}`);
  const random = seeded(seed);
  const mode: Mode = index % 2 === 0 ? 'minor' : 'major';
  const tonic = (Math.floor(index / 2) * 7 + 5) % 12;
  const ending = ENDINGS[spec.format];
  const name =
    spec.name || `${spec.artist.replace(/; /g, ', ')} - ${spec.title}${spec.version ? ` (${spec.version})` : ''}`;
  return {
    ...spec,
    seed,
    tonic,
    mode,
    key: keyOf(tonic, mode),
    seconds: Math.round(45 + 60 * random() ** 3),
    lufs: LEVELS[spec.style] + Math.round((random() - 0.5) * 30) / 10,
    leadIn: Math.round(random() * 400) / 1000,
    path: `${spec.folder}/${name}.${ending}`,
    metadata: metadataOf(spec, index),
    latin1: spec.tags === 'latin1',
    picture: spec.tags === 'full' && spec.album !== '' && !['ogg', 'opus', 'wav', 'aiff'].includes(spec.format),
  };
}

/** The plan of the whole demo. */
export const PLAN: PlannedTrack[] = TRACKS.map(planned);

function metadataOf(spec: TrackSpec, index: number): Record<string, string> {
  const withVersion = spec.version ? `${spec.title} (${spec.version})` : spec.title;
  const [main, ...guests] = spec.artist.split('; ');
  const number = /^(\d\d)/.exec(spec.name)?.[1];
  const base: Record<string, string> = {
    title: withVersion,
    artist: spec.artist,
    album: spec.album,
    genre: spec.genre,
    ...(spec.year ? { date: String(spec.year) } : {}),
    ...(number && spec.folder.startsWith('Albums') ? { track: String(Number(number)) } : {}),
    ...(spec.folder.includes('Various') ? { album_artist: 'Various Artists' } : {}),
  };
  switch (spec.tags) {
    case 'none':
      return {};
    case 'latin1':
      return {};
    case 'full':
      return { ...base, ...(index % 7 === 0 ? { comment: 'Long intro, 32 bars of drums' } : {}) };
    case 'promo':
      return {
        ...base,
        title: `[promo] ${withVersion}`,
        comment: 'www.free-promos.example - for promotional use only',
      };
    case 'upper':
      return { ...base, title: withVersion.toUpperCase(), artist: spec.artist.toUpperCase() };
    case 'underscores':
      return { ...base, title: withVersion.replace(/ /g, '_').toLowerCase(), artist: spec.artist.replace(/ /g, '_') };
    case 'artist-in-title':
      return { ...base, title: `${spec.artist} - ${withVersion}`, artist: '' };
    case 'no-genre':
      return { ...base, genre: '' };
    case 'wrong-year':
      return { ...base, date: String(2110 - (spec.year % 100)) };
    case 'version-in-title':
      return { ...base, title: spec.version ? `${spec.title} - ${spec.version}` : spec.title };
    case 'guest-in-title':
      return { ...base, artist: main!, title: `${withVersion} feat. ${guests.join(' & ')}` };
    case 'number-in-title':
      return { ...base, title: `${spec.name.slice(0, 2)} ${spec.title}` };
  }
}
