/** Folders as they grow: three habits of naming in one, ten names of each, some turned round, some in code. */
import { seeded } from '@early-set/core/signal/random';
import { bare, both, n, title, two, under, type Habit } from './spelling.ts';
import type { Song } from './songs.ts';

/** A dash that belongs to the title, in some. */
const behind = (s: Song): string => (s.n % 4 === 0 ? [' - By the Sea', ' - Part Two'][s.n % 8 ? 0 : 1]! : '');

type Writes = Pick<Habit, 'write' | 'says'>;
const FORMS = {
  artistTitle: { write: (s) => `${s.artist} - ${s.title}`, says: both },
  titleArtist: { write: (s) => `${s.title} - ${s.artist}`, says: both },
  numberArtistTitle: { write: (s) => `${two(s.n)} - ${s.artist} - ${s.title}`, says: { ...both, ...n } },
  numberTitleArtist: { write: (s) => `${two(s.n)}. ${s.title} - ${s.artist}`, says: { ...both, ...n } },
  numberTitle: { write: (s) => `${two(s.n)} ${s.title}`, says: { ...title, ...n } },
  titleAlone: { write: (s) => s.title, says: title },
  netName: {
    write: (s) => `${two(s.n)}_${under(bare(s.artist))}_${under(bare(s.title))}_(dub)`,
    says: { artist: (s) => bare(s.artist), title: (s) => `${bare(s.title)} (dub)`, ...n },
  },
  netDash: {
    write: (s) => `${under(bare(s.artist))}-${under(bare(s.title))}`,
    says: { artist: (s) => bare(s.artist), title: (s) => bare(s.title) },
  },
  discTitleArtist: {
    write: (s) => `DISC0${s.disc}-${two(s.n)} - ${s.title} - ${s.artist}`,
    says: { ...both, ...n, discNumber: (s) => s.disc },
  },
  discArtistTitle: {
    write: (s) => `CD${s.disc}-${two(s.n)} ${s.artist} - ${s.title}`,
    says: { ...both, ...n, discNumber: (s) => s.disc },
  },
  discTrackTitle: {
    write: (s) => `D${s.disc}T${two(s.n)} ${s.title}`,
    says: { ...title, ...n, discNumber: (s) => s.disc },
  },
  trackWord: { write: (s) => `Track ${two(s.n)} - ${s.title}`, says: { ...title, ...n } },
  side: { write: (s) => `A${s.n} ${s.artist} - ${s.title}`, says: both },
  hyphened: {
    write: (s) => `${s.artist} - ${s.title.replace(/ (?=\S+$)/, '-')}`,
    says: { artist: (s) => s.artist, title: (s) => s.title.replace(/ (?=\S+$)/, '-') },
  },
  hyphenedTurned: {
    write: (s) => `${s.title.replace(/ (?=\S+$)/, '-')} - ${s.artist}`,
    says: { artist: (s) => s.artist, title: (s) => s.title.replace(/ (?=\S+$)/, '-') },
  },
  dashed: {
    write: (s) => `${s.artist} - ${s.title}${behind(s)}`,
    says: { artist: (s) => s.artist, title: (s) => `${s.title}${behind(s)}` },
  },
  coded: {
    write: (s) => `[${s.code}] ${s.artist} - ${s.title}`,
    says: { ...both, catalogueNumber: (s) => s.code },
  },
  yearArtistTitle: {
    write: (s) => `${s.artist} - ${s.title} (${s.year})`,
    says: { ...both, year: (s) => s.year },
  },
  version: {
    write: (s) => `${s.artist} - ${s.title} (Radio Edit)`,
    says: { artist: (s) => s.artist, title: (s) => `${s.title} (Radio Edit)` },
  },
  versionTurned: {
    write: (s) => `${s.title} (Radio Edit) - ${s.artist}`,
    says: { artist: (s) => s.artist, title: (s) => `${s.title} (Radio Edit)` },
  },
  albumInside: {
    write: (s) => `${s.artist} - ${s.album} - ${two(s.n)} - ${s.title}`,
    says: { ...both, ...n, album: (s) => s.album },
  },
} satisfies Record<string, Writes>;
type Form = keyof typeof FORMS;

export interface MixedFolder {
  name: string;
  forms: readonly Writes[];
  /** Of the artists, which the library knows: all, every other one, none. */
  known: 'all' | 'half' | 'none';
}
const MIXES: [MixedFolder['known'], Form, Form, Form][] = [
  ['all', 'artistTitle', 'titleArtist', 'numberTitle'],
  ['all', 'discTitleArtist', 'artistTitle', 'titleAlone'],
  ['all', 'netName', 'netDash', 'artistTitle'],
  ['all', 'hyphened', 'titleArtist', 'trackWord'],
  ['all', 'numberArtistTitle', 'numberTitleArtist', 'side'],
  ['all', 'dashed', 'artistTitle', 'discTrackTitle'],
  ['all', 'coded', 'versionTurned', 'version'],
  ['all', 'albumInside', 'discArtistTitle', 'titleArtist'],
  ['half', 'artistTitle', 'titleArtist', 'numberTitle'],
  ['half', 'netName', 'titleArtist', 'yearArtistTitle'],
  ['half', 'discTitleArtist', 'discArtistTitle', 'artistTitle'],
  ['half', 'hyphenedTurned', 'artistTitle', 'trackWord'],
  ['half', 'numberTitleArtist', 'numberTitle', 'dashed'],
  ['half', 'version', 'versionTurned', 'netDash'],
  ['half', 'side', 'coded', 'titleArtist'],
  ['half', 'albumInside', 'numberArtistTitle', 'titleAlone'],
  ['none', 'artistTitle', 'numberTitle', 'titleAlone'],
  ['none', 'artistTitle', 'titleArtist', 'trackWord'],
  ['none', 'discTitleArtist', 'numberTitle', 'artistTitle'],
  ['none', 'netName', 'netDash', 'discTrackTitle'],
  ['none', 'numberTitleArtist', 'versionTurned', 'artistTitle'],
  ['none', 'numberArtistTitle', 'hyphened', 'coded'],
  ['none', 'albumInside', 'titleArtist', 'version'],
  ['none', 'discArtistTitle', 'yearArtistTitle', 'dashed'],
];
export const MIXED: readonly MixedFolder[] = MIXES.map(([known, ...forms]) => ({
  name: `${forms.join(', ')}; ${known} known`,
  forms: forms.map((f) => FORMS[f]),
  known,
}));
/** Mixtures drawn by chance, the same ones for the same seed. @param of so many for each share of artists known */
export function drawnMixtures(of: number, seed: number): MixedFolder[] {
  const random = seeded(seed),
    all = Object.keys(FORMS) as Form[];
  return (['all', 'half', 'none'] as const).flatMap((known) =>
    Array.from({ length: of }, () => {
      const drawn = new Set<Form>();
      while (drawn.size < 3) drawn.add(all[Math.floor(random() * all.length)]!);
      return { name: `${[...drawn].join(', ')}; ${known} known`, forms: [...drawn].map((f) => FORMS[f]), known };
    }),
  );
}

/** Of how many names each habit of a folder is. */
export const NAMES_A_HABIT = 10;

/** Who is known of those who made the songs. */
export const knownOf = (artists: readonly string[], known: MixedFolder['known']): readonly string[] =>
  known === 'all' ? artists : known === 'half' ? artists.filter((_, i) => i % 2 === 0) : [];

/** The names of a folder, with what each says. */
export const namesOf = (folder: MixedFolder, songs: readonly Song[]): { name: string; song: Song; of: Writes }[] =>
  folder.forms.flatMap((of, f) =>
    songs.slice(f * NAMES_A_HABIT, (f + 1) * NAMES_A_HABIT).map((song) => ({ name: of.write(song), song, of })),
  );
