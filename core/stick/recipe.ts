/** How the files of a stick are made: as they are, or converted. */
import { formatOf, TARGETS, type Player, type Target } from './player.ts';

export interface ConvertWish {
  /** What is converted: whatever the player does not play, or everything that is not in this format. */
  when: 'needed' | 'always';
  format: Target;
  /** Kilobits a second, of formats that lose something. */
  kbps: number;
  /** Integrated loudness that every file is to have, in LUFS; null: as it is. */
  lufs: number | null;
}

/** How one file is made. */
export interface Recipe {
  /** null: its bytes as they are, with the tags of the library. */
  format: Target | null;
  kbps: number | null;
  lufs: number | null;
}

export interface Source {
  /** With its dot. */
  ending: string;
  codec: string | null;
  /** What its loudness measures, in LUFS; null: nobody has measured it. */
  lufs: number | null;
}

/** Loudness is right within this: nothing is converted for less. In LU. */
const NEAR_LU = 0.3;

/** @returns how a file is made; null where the player could not play what comes of it */
export function recipeFor(source: Source, player: Player, wish: ConvertWish): Recipe | null {
  const own = formatOf(source.ending, source.codec);
  const played = (format: Target | null): boolean =>
    player.plays === null || (format !== null && player.plays.includes(format));
  const level = wish.lufs !== null && source.lufs !== null && Math.abs(source.lufs - wish.lufs) > NEAR_LU;
  const asItIs = !level && played(own) && (wish.when === 'needed' || own === wish.format);
  if (asItIs) return { format: null, kbps: null, lufs: null };
  if (!played(wish.format)) return null;
  const { kbps } = TARGETS[wish.format];
  return {
    format: wish.format,
    kbps: kbps.length > 0 ? wish.kbps : null,
    lufs: level ? wish.lufs : null,
  };
}

/** The ending that comes of it. */
export const endingFor = ({ format }: Recipe, source: Pick<Source, 'ending'>): string =>
  format === null ? source.ending.toLowerCase() : TARGETS[format].ending;

/** Bytes that will come of it, about: what is converted takes its bit rate, or what such sound packs to. */
export function bytesFor(
  { format, kbps }: Recipe,
  { size, seconds }: { size: number; seconds: number | null },
  hertz = 44_100,
): number {
  if (format === null || seconds === null) return size;
  if (kbps !== null) return Math.round((kbps * 1000 * seconds) / 8);
  const pcm = hertz * 2 * 2 * seconds;
  return Math.round(format === 'flac' ? pcm * PACKED : pcm);
}
/** FLAC keeps music in about so much of its PCM (van Beurden, "Lossless audio codec comparison", 2015). */
const PACKED = 0.65;
