/** Conditions built by clicking: rows in groups of which all, any or none must hold. */
import { Plus, X } from 'lucide-react';
import { needsOf } from '@early-set/core/conditions/needs';
import { useSettings } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import {
  ANY_TEXT,
  IN_FOLDER,
  IN_LIST,
  OF_SCAN,
  ON_DATE,
  isGroup,
  leafOf,
  newRow,
  subjectOf,
  SUBJECTS,
  TESTS,
  testOf,
  testsFor,
  toGroup,
  type Group,
  type Mode,
  type Part,
  type Row,
  type TestName,
} from './parts.ts';
import { RowValue } from './RowValue.tsx';

const BOX = 'h-[28px] rounded-xs border border-line bg-sheet px-1.5';
const MODE_WORDS: Record<Mode, string> = { all: 'all', any: 'any', none: 'none' };
const KINDS = [
  ['named', 'Names'],
  ['own', 'Your own'],
  ['measured', 'Measured'],
  ['file', 'File'],
] as const;

interface Props {
  group: Group;
  onChange: (group: Group) => void;
  own: string | null;
  /** Takes the whole group away; not at the top. */
  onRemove?: () => void;
}

export function Builder({ group, onChange, own, onRemove }: Props) {
  const { mode, parts } = group;
  const { data: settings } = useSettings();
  const needs = settings ? needsOf(settings.gapRules) : [];
  const put = (part: Part): void => onChange({ mode, parts: [...parts, part] });
  const at = (i: number, part: Part | null): void =>
    onChange({ mode, parts: part ? parts.map((p, k) => (k === i ? part : p)) : parts.filter((_, k) => k !== i) });
  return (
    <fieldset className={onRemove ? 'border-l-2 border-tide-deep py-1 pl-2.5' : ''}>
      <legend className="sr-only">Conditions</legend>
      <div className="flex items-center gap-1.5">
        <select
          aria-label="How many must hold"
          value={mode}
          onChange={(e) => onChange({ mode: e.target.value as Mode, parts })}
          className={BOX}
        >
          {Object.entries(MODE_WORDS).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
        <span>of these hold</span>
        <span className="flex-1" />
        <Button kind="quiet" onClick={() => put(newRow())}>
          <Plus size={13} aria-hidden /> Condition
        </Button>
        <Button kind="quiet" onClick={() => put({ mode: 'any', parts: [newRow()] })}>
          <Plus size={13} aria-hidden /> Group
        </Button>
        <select
          aria-label="Add a ready-made condition"
          value=""
          onChange={(e) => {
            const need = needs.find((n) => n.id === e.target.value);
            if (need) put(toGroup(need.condition));
          }}
          className="h-[28px] w-[104px] rounded-xs border border-transparent bg-transparent text-dim hover:bg-hair"
        >
          <option value="">Ready-made…</option>
          {needs.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </select>
        {onRemove && <Remove label="Remove the group" onClick={onRemove} />}
      </div>
      <ul className="mt-1.5 flex flex-col gap-1.5">
        {parts.map((part, i) => (
          // Parts have no names of their own; one that goes takes its place along.
          <li key={i}>
            {isGroup(part) ? (
              <Builder group={part} onChange={(next) => at(i, next)} own={own} onRemove={() => at(i, null)} />
            ) : (
              <RowLine row={part} onChange={(next) => at(i, next)} own={own} onRemove={() => at(i, null)} />
            )}
          </li>
        ))}
      </ul>
      {parts.length === 0 && <p className="mt-1.5 text-dim">No condition yet: this takes every track.</p>}
    </fieldset>
  );
}

const Remove = ({ label, onClick }: { label: string; onClick: () => void }) => (
  <button
    type="button"
    aria-label={label}
    onClick={onClick}
    className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink"
  >
    <X size={14} />
  </button>
);

interface LineProps {
  row: Row;
  onChange: (row: Row) => void;
  own: string | null;
  onRemove: () => void;
}

function RowLine({ row, onChange, own, onRemove }: LineProps) {
  const { leaf } = row;
  const subject = subjectOf(leaf),
    test = testOf(leaf);
  // "is no" is the opposite of "is yes", and not a condition of its own.
  const opposite = leaf && 'test' in leaf && leaf.test === 'is' ? row.negated === leaf.value : row.negated;
  const choose = (value: string): void => {
    const [sign, name] = value.split('|') as ['+' | '-', TestName];
    onChange({ negated: sign === '-', leaf: name === test && name !== 'is' ? leaf : leafOf(subject, name) });
  };
  return (
    <div className="flex items-center gap-1.5">
      <select
        aria-label="What"
        value={subject}
        onChange={(e) => onChange({ negated: false, leaf: leafOf(e.target.value) })}
        className={`${BOX} w-[150px] shrink-0`}
      >
        <option value={ANY_TEXT}>Any text</option>
        <option value={IN_LIST}>Crate or playlist</option>
        <option value={ON_DATE}>Playlist of a date</option>
        <option value={IN_FOLDER}>Folder</option>
        {subject === OF_SCAN && <option value={OF_SCAN}>Scan</option>}
        {KINDS.map(([kind, label]) => (
          <optgroup key={kind} label={label}>
            {SUBJECTS.filter((f) => f.kind === kind).map((f) => (
              <option key={f.id} value={f.id}>
                {f.label}
              </option>
            ))}
          </optgroup>
        ))}
      </select>
      <select
        aria-label="Test"
        value={`${opposite ? '-' : '+'}|${test}`}
        onChange={(e) => choose(e.target.value)}
        className={`${BOX} w-[150px] shrink-0`}
      >
        {testsFor(subject).flatMap((name) =>
          TESTS[name].map((label, i) => (
            <option key={label} value={`${i === 0 ? '+' : '-'}|${name}`}>
              {label}
            </option>
          )),
        )}
      </select>
      <span className="flex min-w-0 flex-1 items-center gap-1.5">
        <RowValue
          key={`${subject} ${test}`}
          leaf={leaf}
          onChange={(next) => onChange({ ...row, leaf: next })}
          own={own}
        />
      </span>
      <Remove label="Remove the condition" onClick={onRemove} />
    </div>
  );
}
