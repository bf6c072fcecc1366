/** Finding in every field or in one, a moment after the last letter. */
import { ChevronDown } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { SEARCHED } from '@early-set/core/conditions/condition';
import { fieldOf } from '@early-set/core/fields/table';
import { useFindKey } from '../../../commands/commands.ts';

interface Props {
  value: string;
  /** The one field that is looked in; null for all. */
  findIn: string | null;
  onChange: (find: string) => void;
  onFindIn: (field: string | null) => void;
}

/** What is typed goes into the address after a short pause. */
export function FindBox({ value, findIn, onChange, onFindIn }: Props) {
  const [text, setText] = useState(value);
  const [seen, setSeen] = useState(value);
  const box = useRef<HTMLInputElement>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  if (value !== seen) {
    setSeen(value);
    setText(value);
  }
  const label = findIn ? `Find in ${fieldOf(findIn).label.toLowerCase()}` : 'Find in every field';
  useFindKey(box, label);
  useEffect(() => () => clearTimeout(timer.current), []);
  return (
    <div className="flex h-[30px] items-center gap-2 rounded-xs border border-line bg-sheet px-2 focus-within:border-tide-deep">
      <kbd className="figures border border-line px-1 text-tiny text-dim">/</kbd>
      <input
        ref={box}
        type="search"
        value={text}
        maxLength={1000}
        placeholder={findIn ? `In ${fieldOf(findIn).label.toLowerCase()}` : 'Find'}
        aria-label={label}
        className="min-w-0 flex-1 bg-transparent outline-none placeholder:text-dim"
        onChange={(e) => {
          setText(e.target.value);
          clearTimeout(timer.current);
          const next = e.target.value;
          timer.current = setTimeout(() => {
            setSeen(next);
            onChange(next);
          }, 180);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Escape') {
            clearTimeout(timer.current);
            setText('');
            onChange('');
            e.currentTarget.blur();
          }
          if (e.key === 'ArrowDown' || e.key === 'Enter') {
            e.preventDefault();
            document.getElementById('sheet')?.focus();
          }
        }}
      />
      <span className="relative flex items-center" title="Where to look">
        <ChevronDown size={14} aria-hidden="true" className={findIn ? 'text-buoy-text' : 'text-dim'} />
        <select
          aria-label="Where to look"
          value={findIn ?? ''}
          onChange={(e) => {
            onFindIn(e.target.value || null);
            box.current?.focus();
          }}
          className="absolute -inset-1 cursor-pointer opacity-0"
        >
          <option value="">Every field</option>
          {SEARCHED.map((f) => (
            <option key={f.id} value={f.id}>
              {f.label}
            </option>
          ))}
        </select>
      </span>
    </div>
  );
}
