/** Fields from file names: groups and fields right, over made-up habits of naming. */
import { measureHabits, measureMixed } from './names/measure.ts';
import { drawnMixtures } from './names/mixed.ts';
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

const mixed = measureMixed([1, 2, 3, 4, 5]);
const sum = (part: typeof mixed, of: 'fields' | 'right' | 'unsure' | 'wrong'): number =>
  part.reduce((total, s) => total + s[of], 0);
const mixedRow = (label: string, part: typeof mixed): (string | number)[] => [
  label,
  part.length,
  ...(['right', 'unsure', 'wrong'] as const).map((of) => percent(sum(part, of), sum(part, 'fields'))),
];
console.log('\nMixed folders: three habits in one, ten names of each, five folders a mixture\n');
table(
  ['', 'mixtures', 'fields right', 'marked unsure', 'wrong, not marked'],
  [
    mixedRow('all', mixed),
    ...(['all', 'half', 'none'] as const).map((known) =>
      mixedRow(
        `${known} of the artists known`,
        mixed.filter((m) => m.name.endsWith(`${known} known`)),
      ),
    ),
    mixedRow(
      'looked at',
      mixed.filter((m) => !m.heldBack),
    ),
    mixedRow(
      'held back',
      mixed.filter((m) => m.heldBack),
    ),
  ],
);
const drawn = measureMixed([31], drawnMixtures(60, 2026));
console.log('\nMixtures drawn by chance, a folder each\n');
table(
  ['', 'mixtures', 'fields right', 'marked unsure', 'wrong, not marked'],
  [
    mixedRow('all', drawn),
    ...(['all', 'half', 'none'] as const).map((known) =>
      mixedRow(
        `${known} of the artists known`,
        drawn.filter((m) => m.name.endsWith(`${known} known`)),
      ),
    ),
  ],
);
const off = mixed.filter((m) => !m.heldBack && m.right < m.fields);
if (off.length) {
  console.log('\nNot wholly right, of those looked at\n');
  table(
    ['mixture', 'right', 'unsure', 'first one wrong and not marked'],
    off.map((m) => [m.name, percent(m.right, m.fields), percent(m.unsure, m.fields), m.said]),
  );
}
