/** Releases made of works: the first one, and those that came later elsewhere, on other things, with other lines. */
import { createHash } from 'node:crypto';
import type { Recording } from './recordings.ts';
import { recordingKey } from './recordings.ts';
import { WORKS, type Work, type WorkTrack } from './works.ts';

export interface ReleaseLine {
  disc: number;
  number: number;
  position: string;
  title: string;
  version: string | null;
  artists: string[];
  seconds: number | null;
  isrc: string | null;
}
export interface WhimbrelRelease {
  id: string;
  title: string;
  artists: string[];
  year: number;
  country: string;
  format: string;
  label: string;
  catalogueNumber: string;
  genres: { genre: string; subGenres: string[] }[];
  credits: { name: string; role: string }[];
  hasPicture: boolean;
  tracks: ReleaseLine[];
}

const hash = (text: string): string => createHash('sha1').update(text).digest('hex');
const numberFrom = (text: string, most: number): number => Number.parseInt(hash(text).slice(0, 8), 16) % most;

/** Vinyl counts by side. */
const positionOf = (format: string, index: number, count: number): string => {
  if (format !== '12-inch') return String(index + 1);
  const half = Math.ceil(count / 2);
  return index < half ? `A${index + 1}` : `B${index - half + 1}`;
};

interface Variant {
  year: number;
  country: string;
  format: string;
  label: string;
  tracks: WorkTrack[];
  suffix: string;
  picture: boolean;
}

function variantsOf(work: Work): Variant[] {
  const { year, country, format, label, tracks } = work;
  const first: Variant = { year, country, format, label, tracks, suffix: '', picture: true };
  const n = numberFrom(work.album, 100);
  const out = [first];
  // Later and elsewhere: a year that is not the music's.
  if (n % 3 === 0 || tracks.length >= 4)
    out.push({
      ...first,
      year: year + 6,
      country: country === 'GB' ? 'DE' : 'GB',
      format: 'file',
      label: 'Second Tide',
      suffix: '',
      tracks: [...tracks, { title: `${tracks[0]!.title}`, version: 'Reissue Edit', artists: tracks[0]!.artists }],
      picture: n % 2 === 0,
    });
  // A short one for promotion, without its last line.
  if (tracks.length >= 3 && n % 4 !== 1)
    out.push({
      ...first,
      year,
      country: 'US',
      format: 'promo CD',
      suffix: '',
      tracks: tracks.slice(0, -1),
      picture: false,
    });
  return out;
}

/** All releases. Lengths come from recordings that somebody has handed in; of others they are made up. */
export function makeReleases(recordings: ReadonlyMap<string, Recording>): WhimbrelRelease[] {
  return WORKS.flatMap((work) =>
    variantsOf(work).map((v, i): WhimbrelRelease => ({
      id: hash(`${work.artist}/${work.album}/${i}`).slice(0, 12),
      title: work.album + v.suffix,
      artists: [work.artist],
      year: v.year,
      country: v.country,
      format: v.format,
      label: v.label,
      catalogueNumber: `${v.label.replace(/[^A-Z]/g, '').padEnd(2, 'X')}${String(1 + numberFrom(work.album + i, 989)).padStart(3, '0')}`,
      genres: [{ genre: work.genre, subGenres: work.subGenres }],
      credits: work.credits,
      hasPicture: v.picture,
      tracks: v.tracks.map((t, j): ReleaseLine => ({
        disc: 1,
        number: j + 1,
        position: positionOf(v.format, j, v.tracks.length),
        title: t.title,
        version: t.version,
        artists: t.artists,
        seconds:
          recordings.get(recordingKey(t.artists, t.title, t.version))?.seconds ??
          150 + numberFrom(`${t.title}${t.version}${work.artist}`, 240),
        isrc:
          numberFrom(t.title, 5) === 0
            ? null
            : `ZZ${hash(t.title + (t.version ?? ''))
                .slice(0, 3)
                .toUpperCase()}${String(v.year % 100).padStart(2, '0')}${String(numberFrom(t.title + t.version, 99999)).padStart(5, '0')}`,
      })),
    })),
  );
}
