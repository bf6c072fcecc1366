/**
 * Gains and peaks for players, from what was measured: ReplayGain 2.0 (track and album gain towards −18 LUFS, peaks as
 * shares of full scale). How each kind of tag says them is `core/tags/spelling`.
 */
import { albumLoudness, playoutGain } from '../analysis/loudness/playout.ts';
import { isEmpty } from '../fields/values.ts';
import { folderKey } from '../files/fileRef.ts';
import type { Working } from './workingTrack.ts';

/** ReplayGain's own; ceilings are for players to keep, who know the peak. */
const TARGET = { lufs: -18, ceilingDbtp: 0 };
const rounded = (value: number, decimals: number): number => Math.round(value * 10 ** decimals) / 10 ** decimals;
const linear = (dbtp: number): number => rounded(10 ** (dbtp / 20), 6);

interface Measured {
  lufs: number;
  seconds: number;
  truePeakDbtp: number | null;
}

function measuredOf({ values: { lufs, durationSeconds, truePeakDbtp } }: Working): Measured | null {
  return typeof lufs === 'number' && typeof durationSeconds === 'number'
    ? { lufs, seconds: durationSeconds, truePeakDbtp: typeof truePeakDbtp === 'number' ? truePeakDbtp : null }
    : null;
}

/** An album is what has one name in one folder. */
const albumOf = (w: Working): string | null =>
  isEmpty(w.values.album) ? null : `${folderKey(w.track)}|${w.text('album').toLowerCase()}`;

/** Sets the gains of tracks; those of albums too, where each of an album's tracks has been measured. */
export function gainsOf(workings: readonly Working[], { album }: { album: boolean }): (w: Working) => void {
  const albums = new Map<string, (Measured | null)[]>();
  for (const w of workings) {
    const name = albumOf(w);
    if (album && name !== null) albums.set(name, [...(albums.get(name) ?? []), measuredOf(w)]);
  }
  const put = (
    w: Working,
    gain: string,
    peak: string,
    { lufs, truePeakDbtp }: Pick<Measured, 'lufs' | 'truePeakDbtp'>,
  ): void => {
    w.set(gain, rounded(playoutGain(lufs, truePeakDbtp, TARGET).gainDb, 2));
    if (truePeakDbtp !== null) w.set(peak, linear(truePeakDbtp));
  };
  return (w) => {
    const own = measuredOf(w);
    if (!own) return;
    put(w, 'trackGainDb', 'trackPeak', own);
    const others = albums.get(albumOf(w) ?? '');
    if (!others || others.includes(null)) return;
    const whole = albumLoudness(others as Measured[]);
    if (whole) put(w, 'albumGainDb', 'albumPeak', whole);
  };
}
