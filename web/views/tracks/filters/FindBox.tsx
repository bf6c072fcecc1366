/** Finding in every field, a moment after the last letter. */
import { useEffect, useRef, useState } from 'react';
import { useFindKey } from '../../../commands/commands.ts';

/** Find over every field; what is typed goes into the address after a short pause. */
export function FindBox({ value, onChange }: { value: string; onChange: (find: string) => void }) {
  const [text, setText] = useState(value);
  const [seen, setSeen] = useState(value);
  const box = useRef<HTMLInputElement>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  if (value !== seen) {
    setSeen(value);
    setText(value);
  }
  useFindKey(box, 'Find in every field');
  useEffect(() => () => clearTimeout(timer.current), []);
  return (
    <label className="flex h-[30px] items-center gap-2 rounded-xs border border-line bg-sheet px-2 focus-within:border-tide-deep">
      <kbd className="figures border border-line px-1 text-tiny text-dim">/</kbd>
      <input
        ref={box}
        type="search"
        value={text}
        maxLength={1000}
        placeholder="Find in every field"
        aria-label="Find in every field"
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
    </label>
  );
}
