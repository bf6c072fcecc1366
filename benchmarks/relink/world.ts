/** Facts of files, made up: what was lost, what became of it, and what looks like it. */
import type { FileFacts } from '@early-set/core/relink/facts';
import { pick, seeded, type Random } from '../../demo/synth/random.ts';
import { madeUpPrint, STRETCHES, WORDS } from '../prints.ts';
import type { Nearness, Wear } from './wear.ts';

export const WAYS = ['moved', 'renamed', 'tagged anew', 'encoded anew', 'trimmed and encoded anew'] as const;
export type Way = (typeof WAYS)[number];
const COUNTS: Record<Way, number> = {
  moved: 3000,
  renamed: 2500,
  'tagged anew': 2000,
  'encoded anew': 1500,
  'trimmed and encoded anew': 1000,
};
const OTHERS = 20_000;
/** Of some files nobody had taken the hash of the sound when they were lost. */
const NO_HASH = 0.2;

const ARTISTS = [
  'Odette Kassar',
  'Keel Nine',
  'Marrow & Pine',
  'Brine Choir',
  'Vesna Rook',
  'Pell & Harrow',
  'Iri Vane',
];
const FIRST = ['Slack', 'Tin', 'Grey', 'Salt', 'Lamp', 'Coal', 'Eel', 'Night', 'Low', 'Long', 'Glass', 'Rope', 'Bell'];
const SECOND = [
  'Water',
  'Ladle',
  'Harbour',
  'Fader',
  'Room',
  'Boat',
  'Grass',
  'Tide',
  'Cloud',
  'Walk',
  'Float',
  'Ferry',
];
const VERSIONS = ['', '', '', 'Dub', 'Extended', 'Radio Edit', 'Live', 'Instrumental'];
const FOLDERS = ['Crates/House', 'Inbox', 'Albums/One', 'Old drive/Moved', 'Radio/Playlist', 'Rips', 'Downloads/2019'];

export interface World {
  lost: FileFacts[];
  files: FileFacts[];
  /** Which file is the one that was lost, and what became of it. */
  truth: number[];
  ways: Way[];
}

export function madeUpWorld(worn: readonly Wear[], mixes: readonly Nearness[], seed = 11): World {
  const random = seeded(seed);
  const prints = worn.map((w) => w.before).filter((p) => p.length > WORDS / STRETCHES);
  const make = (): FileFacts => madeUpFile(random, prints);
  const lost: FileFacts[] = [],
    ways: Way[] = [];
  for (const way of WAYS)
    for (let i = 0; i < COUNTS[way]; i++) {
      lost.push(make());
      ways.push(way);
    }
  const became = lost.map((file, i) => changed(file, ways[i]!, worn, random));
  const others = Array.from({ length: OTHERS }, (_, i) => other(make(), pick(random, lost), mixes, i, random));
  const files = [...became, ...others];
  const order = files.map((_, i) => i);
  for (let i = order.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [order[i], order[j]] = [order[j]!, order[i]!];
  }
  const placeOf = new Map(order.map((from, to) => [from, to]));
  return {
    lost: lost.map((file) => (random() < NO_HASH ? { ...file, audioHash: null } : file)),
    files: order.map((from) => files[from]!),
    truth: lost.map((_, i) => placeOf.get(i)!),
    ways,
  };
}

const nameOf = ({ artist, title, version }: Pick<FileFacts, 'artist' | 'title' | 'version'>): string =>
  `${artist} - ${title}${version ? ` (${version})` : ''}.mp3`;
const hashOf = (random: Random): string => Math.floor(random() * 2 ** 48).toString(16);

function madeUpFile(random: Random, prints: readonly Uint32Array[]): FileFacts {
  const names = {
    artist: pick(random, ARTISTS),
    title: `${pick(random, FIRST)} ${pick(random, SECOND)}`,
    version: pick(random, VERSIONS),
  };
  const name = random() < 0.1 ? `0${1 + Math.floor(random() * 9)} Track.mp3` : nameOf(names);
  return {
    ...names,
    path: `${pick(random, FOLDERS)}/${name}`,
    size: Math.floor(4e6 + random() * 9e6),
    audioHash: hashOf(random),
    // Many tracks have nearly the same length.
    durationSeconds: Math.round((150 + random() * 250) * 10) / 10,
    fingerprint: madeUpPrint(random, prints),
  };
}

/** The words of a print with the errors that were measured, begun later by so many words. */
const withErrors = (words: Uint32Array, errors: Uint32Array, later: number): Uint32Array =>
  Uint32Array.from({ length: words.length - later }, (_, i) => words[i + later]! ^ errors[i % errors.length]!);

function changed(file: FileFacts, way: Way, worn: readonly Wear[], random: Random): FileFacts {
  const elsewhere = `${pick(random, FOLDERS)}/New/${file.path.split('/').at(-1)!}`;
  const renamed = `${pick(random, FOLDERS)}/${Math.floor(random() * 1e6)} ${file.title.toLowerCase()}.mp3`;
  switch (way) {
    case 'moved':
      return { ...file, path: elsewhere };
    case 'renamed':
      return { ...file, path: renamed };
    case 'tagged anew':
      return {
        ...file,
        path: random() < 0.5 ? elsewhere : renamed,
        size: file.size! + Math.floor(random() * 60_000),
        title: `${file.title} [remastered]`,
      };
    default: {
      const trimmed = way === 'trimmed and encoded anew';
      const wear = pick(
        random,
        worn.filter((w) => w.trimmed > 0 === trimmed),
      );
      const path = (random() < 0.5 ? elsewhere : renamed).replace(/\.mp3$/, random() < 0.5 ? '.m4a' : '.mp3');
      return {
        ...file,
        path,
        size: Math.round(file.size! * wear.larger),
        audioHash: hashOf(random),
        durationSeconds: file.durationSeconds! + wear.longer,
        fingerprint: withErrors(file.fingerprint!, wear.errors, wear.later),
        ...(random() < 0.3 ? { artist: '', title: '', version: '' } : {}),
      };
    }
  }
}

/** What is none of those that were lost: as much like one of them as such things come. */
function other(own: FileFacts, like: FileFacts, mixes: readonly Nearness[], i: number, random: Random): FileFacts {
  const name = like.path.split('/').at(-1)!;
  switch (i % 6) {
    case 0: // another mix of it, as near as mixes were measured to be, under its very name
      return {
        ...own,
        ...{ artist: like.artist, title: like.title, version: like.version },
        path: `Mixes/${i}/${name}`,
        durationSeconds: like.durationSeconds! + (random() < 0.5 ? 0 : 8 * random() - 4),
        fingerprint: withErrors(like.fingerprint!, pick(random, mixes).errors, 0),
      };
    case 1: // another recording under its name, and as long
      return { ...own, path: `Same names/${i}/${name}`, durationSeconds: like.durationSeconds };
    case 2: // the same song by its tags, in another version
      return {
        ...own,
        artist: like.artist,
        title: like.title,
        path: `Versions/${i}/${nameOf({ ...own, title: like.title })}`,
      };
    default:
      return own;
  }
}
