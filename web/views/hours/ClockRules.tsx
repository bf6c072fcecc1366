/** The rules of a format clock: hard or wished, with their figures. */
import { X } from 'lucide-react';
import type { FormatClock } from '@early-set/core/hours/clock';
import type { ListLine } from '@early-set/core/api/types';
import { APART, IN_A_ROW, ruleText, type HourRule } from '@early-set/core/hours/rules';
import { isPutAway } from '../../data/listTree.ts';
import { SavedInput } from '../../ui/form/SavedInput.tsx';

interface Props {
  clock: FormatClock;
  /** Of which a rule may ask for a share. */
  lists: readonly ListLine[];
  onSave: (wish: { rules: readonly HourRule[] }) => void;
}

const strength = { hard: false, weight: 10 };
const NEW_RULES: readonly HourRule[] = [
  ...APART.map((what): HourRule => ({ ...strength, rule: 'apart', what, minutes: 60 })),
  { ...strength, rule: 'rested', days: 7 },
  ...IN_A_ROW.map((what): HourRule => ({ ...strength, rule: 'in a row', what, most: 2 })),
  { ...strength, rule: 'new', days: 30, count: 1 },
  { ...strength, rule: 'instrumental before link' },
  { ...strength, rule: 'intro for link' },
  { ...strength, rule: 'cold end before soft start' },
  { ...strength, rule: 'loudness step', most: 6 },
];

/** At least half of an hour from a list. */
const shareOf = ({ id, name }: ListLine): HourRule => ({
  ...strength,
  rule: 'share',
  name: `from ${name}`,
  from: { inLists: [id] },
  least: 0.5,
});

export function ClockRules({ clock: { rules }, lists, onSave }: Props) {
  const shares = lists.filter((l) => l.kind === 'crate' && !isPutAway(l, lists)).map(shareOf);
  const addable = [...NEW_RULES, ...shares];
  const at = (i: number, rule: HourRule | null): void =>
    onSave({ rules: rule ? rules.map((r, k) => (k === i ? rule : r)) : rules.filter((_, k) => k !== i) });
  return (
    <section aria-label="Rules of this clock">
      <h3 className="text-small font-semibold text-dim">Rules of this clock</h3>
      {rules.length === 0 && <p className="mt-1 text-dim">None yet: tracks come by chance.</p>}
      <ul>
        {rules.map((rule, i) => (
          <li key={`${i} ${rule.rule}`} className="border-b border-line py-1.5">
            <div className="flex items-center gap-1.5">
              <span className="min-w-0 flex-1">{ruleText(rule)}</span>
              <select
                aria-label={`${ruleText(rule)}: how strict`}
                value={rule.hard ? 'hard' : 'wished'}
                onChange={(e) => at(i, { ...rule, hard: e.target.value === 'hard' })}
                className="rounded-xs border border-line bg-sheet px-1 py-0.5 text-small"
              >
                <option value="hard">hard</option>
                <option value="wished">wished</option>
              </select>
              <button
                type="button"
                aria-label={`Remove the rule: ${ruleText(rule)}`}
                onClick={() => at(i, null)}
                className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink"
              >
                <X size={13} />
              </button>
            </div>
            <div className="mt-1 flex flex-wrap gap-x-3 gap-y-1 text-small text-dim empty:hidden">
              {figuresOf(rule).map(([name, value, next]) => (
                <label key={name} className="flex items-center gap-1.5">
                  {name}
                  <SavedInput
                    value={value}
                    text={String}
                    read={(text) => (Number(text) > 0 ? Number(text) : undefined)}
                    onSave={(n) => n && at(i, next(n))}
                    className="w-[46px]"
                  />
                </label>
              ))}
              {!rule.hard && (
                <label className="flex items-center gap-1.5">
                  weight
                  <SavedInput
                    value={rule.weight}
                    text={String}
                    read={(text) => (Number(text) >= 0 && Number(text) <= 1000 ? Number(text) : undefined)}
                    onSave={(weight) => weight !== null && at(i, { ...rule, weight })}
                    className="w-[46px]"
                  />
                </label>
              )}
            </div>
          </li>
        ))}
      </ul>
      <select
        aria-label="Add a rule"
        value=""
        onChange={(e) => onSave({ rules: [...rules, addable[Number(e.target.value)]!] })}
        className="mt-2 w-full rounded-xs border border-line bg-sheet px-1.5 py-1"
      >
        <option value="">Add a rule…</option>
        {addable.map((rule, i) => (
          <option key={i} value={i}>
            {ruleText(rule)}
          </option>
        ))}
      </select>
    </section>
  );
}

const percent = (share: number): number => Math.round(share * 100);

type Figure = readonly [name: string, value: number, next: (n: number) => HourRule];

/** The figures of a rule that can be typed over. */
function figuresOf(rule: HourRule): Figure[] {
  switch (rule.rule) {
    case 'apart':
      return [['minutes', rule.minutes, (minutes) => ({ ...rule, minutes })]];
    case 'rested':
      return [['days', rule.days, (days) => ({ ...rule, days })]];
    case 'in a row':
      return [['at most', rule.most, (most) => ({ ...rule, most: Math.round(most) })]];
    case 'new':
      return [
        ['tracks', rule.count, (count) => ({ ...rule, count: Math.round(count) })],
        ['days', rule.days, (days) => ({ ...rule, days: Math.round(days) })],
      ];
    case 'loudness step':
      return [['LU', rule.most, (most) => ({ ...rule, most })]];
    case 'share':
      return [
        ['at least %', percent(rule.least ?? 0), (n) => ({ ...rule, least: Math.min(1, n / 100) })],
        ['at most %', percent(rule.most ?? 1), (n) => ({ ...rule, most: Math.min(1, n / 100) })],
      ];
    default:
      return [];
  }
}
