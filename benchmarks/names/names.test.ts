import { expect, test } from '@jest/globals';
import { HABITS } from './habits.ts';

import { measureHabits } from './measure.ts';

test('fields are found in more than sixty habits of naming, held back ones among them', () => {
  expect(HABITS.length).toBeGreaterThanOrEqual(60);
  const scores = measureHabits([11, 12]);
  for (const part of [scores, scores.filter((s) => s.heldBack)]) {
    expect(part.filter((s) => s.group).length / part.length).toBeGreaterThan(0.93);
    expect(part.reduce((n, s) => n + s.fieldsRight, 0) / part.reduce((n, s) => n + s.fields, 0)).toBeGreaterThan(0.93);
  }
});
