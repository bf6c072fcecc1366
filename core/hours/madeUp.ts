/** Libraries made up by chance, for tests and benchmarks of filling. */
import type { TrackValues } from '../fields/values.ts';
import { seeded } from '../signal/random.ts';

const GENRES = ['House', 'Dub', 'Folk', 'Ambient', 'Soul', 'Indie', 'Jazz'];
const MOODS = ['calm', 'bright', 'dark', 'warm'];

/** Tracks with what rules ask about; artists come as often as in a library, a few of them with many tracks. */
export function madeUpTracks(count: number, seed = 1, now = Date.UTC(2026, 10, 1)): TrackValues[] {
  const random = seeded(seed);
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]!;
  const artists = Math.max(3, Math.round(count / 6));
  const number = (low: number, high: number): number => low + random() * (high - low);
  return Array.from({ length: count }, (_, i): TrackValues => {
    const length = 140 + (random() + random() + random()) * 80;
    const start = random() * 0.5;
    const end = length - random() * 3;
    const outro = random() < 0.6 ? end - number(8, 35) : null;
    const segue = end - number(0, outro === null ? 4 : 12);
    return {
      title: `Title ${i}`,
      artist: [`Artist ${Math.floor(artists * random() ** 2)}`],
      label: `Label ${Math.floor(number(0, count / 20 + 2))}`,
      remixer: random() < 0.1 ? [`Remixer ${Math.floor(number(0, 30))}`] : null,
      genre: [pick(GENRES)],
      moods: random() < 0.7 ? [pick(MOODS)] : null,
      year: Math.floor(number(1970, 2027)),
      bpm: Math.round(number(70, 150) * 10) / 10,
      energy: Math.round(number(5, 100)),
      lufs: -Math.round(number(60, 160)) / 10,
      vocals: random() < 0.25 ? 'no' : 'yes',
      ending: random() < 0.5 ? 'fade' : 'hard',
      durationSeconds: length,
      audibleStartSeconds: start,
      introEndSeconds: random() < 0.7 ? start + number(3, 30) : null,
      outroStartSeconds: outro,
      segueSeconds: segue,
      audibleEndSeconds: end,
      addedAt: new Date(now - number(0, 1500) * 86_400_000).toISOString(),
    };
  });
}
