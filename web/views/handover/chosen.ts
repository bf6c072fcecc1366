/** What somebody has chosen, shown at once: comparing anew takes a while in a large library. */
import type { ComparisonAnswer } from '@early-set/core/api/handover';
import type { Choices, Line } from '@early-set/core/sync/compareTracks';

type Made = ComparisonAnswer['made'];

const countsOf = ({ will, group }: Line): Made => ({
  lines: will === null ? 0 : 1,
  out: will === 'here' || will === 'both' ? 1 : 0,
  in: will === 'there' || will === 'both' ? 1 : 0,
  undecided: will === null && group === 'clash' ? 1 : 0,
});

/** A comparison as it is with choices that were made since. */
export function withChoices(comparison: ComparisonAnswer, choices: Choices): ComparisonAnswer {
  const made = { ...comparison.made };
  const open = new Map(comparison.undecided.map((u) => [u.field, { ...u }]));
  const lines = comparison.lines.map((line): Line => {
    const choice = choices[line.id];
    if (choice === undefined || !line.options.includes(choice)) return line;
    const now: Line = { ...line, will: choice === 'leave' ? null : choice };
    const [before, after] = [countsOf(line), countsOf(now)];
    for (const what of Object.keys(made) as (keyof Made)[]) made[what] += after[what] - before[what];
    const field = open.get(line.field) ?? { field: line.field, lines: 0, both: line.options.includes('both') };
    open.set(line.field, { ...field, lines: field.lines + after.undecided - before.undecided });
    return now;
  });
  return { ...comparison, lines, made, undecided: [...open.values()].filter((u) => u.lines > 0) };
}
