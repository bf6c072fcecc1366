import { expect, test } from '@jest/globals';
import { marksOf, marksValue } from '../fields/marks.ts';
import { takeOver, type Going } from './takeOver.ts';

const cues = marksValue([
  { at: 4, name: 'in' },
  { at: 1, name: 'early' },
]);

test('gaps are filled by the first that has something; what is there stays', () => {
  const going: Going[] = [
    { values: { title: 'Other', year: 2019 }, offsetSeconds: 0 },
    { values: { year: 2020, genre: ['House'] }, offsetSeconds: 0 },
  ];
  expect(takeOver({ title: 'Tin Shed Rain' }, going)).toEqual({
    year: { before: null, after: 2019 },
    genre: { before: null, after: ['House'] },
  });
});

test('moods and free tags are joined, notes stand one below the other once, the most stars stay', () => {
  const stays = { moods: ['warm'], notes: 'Long intro', rating: 2 };
  const going: Going[] = [
    { values: { moods: ['deep', 'warm'], notes: 'From the tape', rating: 4 }, offsetSeconds: 0 },
    { values: { notes: 'Long intro', freeTags: ['harbour'], rating: 1 }, offsetSeconds: 0 },
  ];
  expect(takeOver(stays, going)).toEqual({
    moods: { before: ['warm'], after: ['warm', 'deep'] },
    notes: { before: 'Long intro', after: 'Long intro\nFrom the tape' },
    rating: { before: 2, after: 4 },
    freeTags: { before: null, after: ['harbour'] },
  });
});

test('cues are taken where there are none, moved to where the sound lies now', () => {
  const taken = takeOver({}, [{ values: { cues }, offsetSeconds: -2.5 }]);
  expect(marksOf(taken.cues!.after).map((m) => m.at)).toEqual([1.5]);
  expect(takeOver({ cues: marksValue([{ at: 9 }]) }, [{ values: { cues }, offsetSeconds: 0 }])).toEqual({});
});

test('what was counted or told by a file is not taken over', () => {
  expect(takeOver({ kind: 'track' }, [{ values: { kind: 'jingle', timesUsed: 4 }, offsetSeconds: 0 }])).toEqual({});
});
