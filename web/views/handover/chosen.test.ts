import { expect, test } from '@jest/globals';
import type { ComparisonAnswer } from '@early-set/core/api/handover';
import type { Line } from '@early-set/core/sync/compareTracks';
import { withChoices } from './chosen.ts';

const line = (id: string, field: string, more: Partial<Line>): Line => ({
  ...{ id, what: 'track', trackId: 1, listId: null, otherId: 'p-1', name: 'Lamp Room', field },
  ...{ here: 'a', there: 'b', base: null, group: 'clash', will: null, joined: null, reason: null },
  options: ['here', 'there', 'leave'],
  ...more,
});
const comparison = {
  made: { lines: 1, out: 1, in: 0, undecided: 3 },
  undecided: [
    { field: 'comment', lines: 2, both: true },
    { field: 'key', lines: 1, both: false },
  ],
  lines: [
    line('1', 'comment', { options: ['here', 'there', 'both', 'leave'] }),
    line('2', 'comment', { options: ['here', 'there', 'both', 'leave'] }),
    line('3', 'key', {}),
    line('4', 'title', { group: 'out', will: 'here' }),
  ],
} as unknown as ComparisonAnswer;

test('what was chosen is shown and counted at once; what cannot be chosen for a line changes nothing', () => {
  const { lines, made, undecided } = withChoices(comparison, { '1': 'both', '3': 'there', '4': 'leave' });
  expect(lines.map((l) => l.will)).toEqual(['both', null, 'there', null]);
  expect(made).toEqual({ lines: 2, out: 1, in: 2, undecided: 1 });
  expect(undecided).toEqual([{ field: 'comment', lines: 1, both: true }]);
  expect(withChoices(comparison, { '3': 'both', other: 'here' })).toEqual(comparison);
});

test('compared anew with the same choices it is as it was', () => {
  const choices = { '1': 'both', '4': 'leave' } as const;
  const once = withChoices(comparison, choices);
  expect(withChoices(once, choices)).toEqual(once);
  // And back: nothing is counted twice.
  expect(withChoices(withChoices(comparison, { '1': 'here' }), { '1': 'leave' }).made).toEqual(comparison.made);
});
