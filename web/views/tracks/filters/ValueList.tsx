/** Values of a field with their counts, to narrow by. */
import { useState } from 'react';
import type { FacetList } from '@early-set/core/api/types';
import { useCommands } from '../../../commands/commands.ts';
import { valueWords, type Filters, type Narrow } from './filters.ts';

/** So many values are in the list of actions. */
const MAX_COMMANDS = 200;
/** Lists in which an empty value is something to do. */
const GAPS: readonly FacetList[] = ['genre', 'artist'];

export function ValueList({
  title,
  name,
  values,
  none,
  filters,
  onNarrow,
}: {
  title: string;
  name: FacetList;
  values: { value: string; count: number }[];
  none: number;
  filters: Filters;
  onNarrow: Narrow;
}) {
  const [all, setAll] = useState(false);
  const chosen = filters.lists[name] ?? [];
  const lines = [...values, ...(none > 0 || chosen.includes('') ? [{ value: '', count: none }] : [])];
  const shown = all ? lines : lines.filter((l, i) => i < 7 || chosen.includes(l.value) || (l.value === '' && i < 12));
  const toggle = (value: string): void =>
    onNarrow((now) => {
      const was = now.lists[name] ?? [];
      const next = was.includes(value) ? was.filter((v) => v !== value) : [...was, value];
      return { ...now, lists: { ...now.lists, [name]: next.length ? next : undefined } };
    });
  useCommands(
    lines.slice(0, MAX_COMMANDS).map(({ value }) => ({
      id: `filter-${name}-${value}`,
      label: `${chosen.includes(value) ? 'No filter' : 'Filter'} by ${title.toLowerCase()}: ${valueWords(name, value)}`,
      group: 'Filters',
      run: () => {
        toggle(value);
        document.getElementById('sheet')?.focus();
      },
    })),
  );
  const narrows = values.length > 0 || GAPS.includes(name);
  if ((lines.length === 0 || !narrows) && chosen.length === 0) return null;
  return (
    <section className="mt-4" aria-label={title}>
      <h3 className="mb-1 font-semibold">{title}</h3>
      <ul>
        {shown.map(({ value, count }) => (
          <FilterLine
            key={value}
            label={valueWords(name, value)}
            count={count}
            chosen={chosen.includes(value)}
            urgent={value === '' && GAPS.includes(name)}
            onClick={() => toggle(value)}
          />
        ))}
        {chosen
          .filter((v) => !lines.some((l) => l.value === v))
          .map((v) => (
            <FilterLine key={v} label={valueWords(name, v)} count={0} chosen onClick={() => toggle(v)} />
          ))}
      </ul>
      {lines.length > shown.length && (
        <button type="button" onClick={() => setAll(true)} className="mt-1 text-small text-dim hover:text-ink">
          {lines.length - shown.length} more
        </button>
      )}
      {all && lines.length > 8 && (
        <button type="button" onClick={() => setAll(false)} className="mt-1 text-small text-dim hover:text-ink">
          Fewer
        </button>
      )}
    </section>
  );
}

export function FilterLine({
  label,
  count,
  chosen,
  urgent = false,
  onClick,
}: {
  label: string;
  count: number;
  chosen: boolean;
  urgent?: boolean;
  onClick: () => void;
}) {
  return (
    <li className="border-b border-line">
      <button
        type="button"
        aria-pressed={chosen}
        onClick={onClick}
        className={`flex w-full items-center gap-2 py-[3px] text-left hover:text-buoy-text ${chosen ? 'border-l-[3px] border-buoy pl-1.5 font-semibold' : ''}`}
      >
        <span className="min-w-0 flex-1 truncate" title={label}>
          {label}
        </span>
        <span className={`figures text-small ${urgent && count > 0 ? 'font-semibold text-flare' : 'text-dim'}`}>
          {count.toLocaleString('en-GB')}
        </span>
      </button>
    </li>
  );
}
