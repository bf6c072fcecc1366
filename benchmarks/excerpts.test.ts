import { describe, expect, test } from '@jest/globals';
import { excerptOf, excerptsOf } from './excerpts.ts';
import { longestTempo, type MadePiece } from './makePieces.ts';

const made: MadePiece = {
  ...{ name: 'x', file: 'x.flac', source: 'grooves', style: 'rock', family: 'rock', clear: true, version: '1' },
  ...{ bpm: 120, steady: true, beatsPerBar: 4, compound: false, key: 'A minor', tuningCents: 0 },
  sections: [
    { name: 'intro', start: 0 },
    { name: 'main', start: 16 },
  ],
  ...{ fades: false, changes: [], beats: Array.from({ length: 120 }, (_, i) => 0.5 + i * 0.5) },
};

describe('excerpts', () => {
  test('begin within the music; their true beats with the first whole bar', () => {
    const { beats, from, sections, bpm } = excerptOf(made, 7.3);
    expect(from).toBe(7.3);
    // Bars begin at 0.5, 2.5, … 8.5.
    expect(beats[0]).toBeCloseTo(1.2, 9);
    expect(beats).toHaveLength(made.beats.length - 16);
    expect(sections).toEqual([{ name: 'main', start: 16 - 7.3 }]);
    expect(bpm).toBe(120);
  });

  test('the same pieces are cut at the same moments, each at another, not all at bars', () => {
    const cut = () => excerptsOf(Array.from({ length: 40 }, () => made));
    expect(cut()).toEqual(cut());
    const firsts = cut().map(({ beats }) => beats[0]!);
    expect(new Set(firsts).size).toBe(40);
    // Up to a whole bar of two seconds.
    expect(Math.min(...firsts)).toBeLessThan(0.3);
    expect(Math.max(...firsts)).toBeGreaterThan(1.7);
    expect(Math.max(...firsts)).toBeLessThan(2);
  });

  test('nothing is left of what ends before', () => {
    expect(excerptOf({ ...made, beats: [0, 0.5, 1] }, 5).beats).toEqual([]);
  });
});

describe('the tempo of a piece whose tempo changes', () => {
  const changing = (slow: number, fast: number): MadePiece => {
    const beats = [1];
    for (let i = 0; i < slow; i++) beats.push(beats.at(-1)! + 0.6 + (i % 2 ? 0.02 : -0.02));
    for (let i = 0; i < fast; i++) beats.push(beats.at(-1)! + 0.5 + (i % 2 ? 0.02 : -0.02));
    return { ...made, bpm: 100, beats, changes: ['tempo change'] };
  };

  test('is that of the longer stretch, however the beats wander', () => {
    expect(longestTempo(changing(60, 60)).bpm).toBeCloseTo(100, 0);
    expect(longestTempo(changing(40, 80)).bpm).toBeCloseTo(120, 0);
  });

  test('is left as it is without a change, a pulse, or enough beats', () => {
    const steady = { ...changing(40, 80), changes: [] };
    expect(longestTempo(steady)).toBe(steady);
    expect(longestTempo({ ...changing(40, 80), bpm: null }).bpm).toBeNull();
    expect(longestTempo({ ...changing(40, 80), beats: [1, 2, 3] }).bpm).toBe(100);
  });
});
