/** Harmonies by chance from what each scale offers, so that no progression is learnt by heart. */
import type { Harmony } from '../../demo/synth/compose.ts';
import { pick, type Random } from '../../demo/synth/random.ts';

/** Scales of each mode in semitones, as often as they should come. */
const SCALES: Record<'major' | 'minor', [number[], number][]> = {
  major: [
    [[0, 2, 4, 5, 7, 9, 11], 7],
    [[0, 2, 4, 5, 7, 9, 10], 2],
    [[0, 2, 4, 6, 7, 9, 11], 0.6],
  ],
  minor: [
    [[0, 2, 3, 5, 7, 8, 10], 6],
    [[0, 2, 3, 5, 7, 9, 10], 2],
    [[0, 2, 3, 5, 7, 8, 11], 2],
    [[0, 1, 3, 5, 7, 8, 10], 0.6],
  ],
};
const BORROWED: Record<'major' | 'minor', Harmony['chords']> = {
  major: [
    [5, 3],
    [10, 4],
    [8, 4],
    [3, 4],
    [2, 4],
  ],
  minor: [
    [7, 4],
    [5, 4],
    [1, 4],
    [0, 4],
  ],
};

function weighted<T>(random: Random, choices: readonly [T, number][]): T {
  let left = random() * choices.reduce((sum, [, w]) => sum + w, 0);
  for (const [value, weight] of choices) if ((left -= weight) <= 0) return value;
  return choices[0]![0];
}

/** The major and minor triads that a scale holds. */
function triads(scale: readonly number[]): Harmony['chords'] {
  const has = (tone: number): boolean => scale.includes(tone % 12);
  return scale.flatMap((root) =>
    has(root + 7) ? [3, 4].filter((third) => has(root + third)).map((third) => [root, third] as const) : [],
  );
}

/** One to eight chords, the tonic always among them. */
export function chanceHarmony(random: Random, mode: 'major' | 'minor'): Harmony {
  const scale = weighted(random, SCALES[mode]);
  const tonic = [0, mode === 'major' ? 4 : 3] as const;
  const others = triads(scale).filter(([root]) => root !== 0);
  const length = weighted(random, [
    [1, 0.8],
    [2, 2.2],
    [4, 6],
    [8, 1],
  ]);
  const chords: (readonly [number, number])[] = [];
  for (let i = 0; i < length; i++) {
    const choice = random() < 0.24 ? tonic : random() < 0.12 ? pick(random, BORROWED[mode]) : pick(random, others);
    chords.push(choice[0] === chords.at(-1)?.[0] && random() < 0.7 ? pick(random, others) : choice);
  }
  if (random() < 0.62) chords[0] = tonic;
  else if (!chords.some(([root, third]) => root === tonic[0] && third === tonic[1]))
    chords[random() < 0.5 ? length - 1 : Math.floor(random() * length)] = tonic;
  return { chords, scale };
}
