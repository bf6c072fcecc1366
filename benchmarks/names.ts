/** Fields from file names: groups and fields right, over made-up habits of naming. */
import { measureHabits } from './names/measure.ts';
import { table } from './table.ts';

const scores = measureHabits([1, 2, 3, 4, 5]);
const percent = (a: number, b: number): string => `${((a / b) * 100).toFixed(1)} %`;
const row = (label: string, part: typeof scores): (string | number)[] => [
  label,
  part.length,
  percent(part.filter((s) => s.group).length, part.length),
  percent(
    part.reduce((n, s) => n + s.fieldsRight, 0),
    part.reduce((n, s) => n + s.fields, 0),
  ),
  percent(part.filter((s) => s.group && s.fieldsRight === s.fields).length, part.length),
];
console.log('Fields from file names: nine files a folder, five folders a habit\n');
table(
  ['', 'habits', 'groups right', 'fields right', 'habits wholly right'],
  [
    row('all', scores),
    row(
      'looked at',
      scores.filter((s) => !s.heldBack),
    ),
    row(
      'held back',
      scores.filter((s) => s.heldBack),
    ),
  ],
);
const wrong = scores.filter((s) => !s.heldBack && (!s.group || s.fieldsRight < s.fields));
if (wrong.length) {
  console.log('\nNot wholly right, of those looked at\n');
  table(
    ['habit', 'fields right', 'said', 'is'],
    wrong.map((s) => [s.habit.name, percent(s.fieldsRight, s.fields), s.said, s.wanted]),
  );
}
