/** A text that is read as it is left or on Enter; Esc, or what cannot be read, brings back what was there. */
import { useState } from 'react';

interface Props<T> {
  label?: string;
  value: T | null;
  /** As it is shown. */
  text: (value: T) => string;
  /** What was typed; undefined when it says nothing, null when it was emptied and may be. */
  read: (text: string) => T | null | undefined;
  onSave: (value: T | null) => void;
  placeholder?: string;
  /** It holds words, not figures. */
  words?: boolean;
  className?: string;
}

export function SavedInput<T>(props: Props<T>) {
  // What is saved elsewhere takes the place of what is typed here.
  return <Field key={String(props.value)} {...props} />;
}

function Field<T>({ label, value, text, read, onSave, placeholder, words = false, className = 'w-[64px]' }: Props<T>) {
  const shown = value === null ? '' : text(value);
  const [typed, setTyped] = useState(shown);
  const save = (): void => {
    const wish = read(typed.trim());
    if (wish === undefined) setTyped(shown);
    else if (wish !== value) onSave(wish);
    else setTyped(shown);
  };
  return (
    <input
      aria-label={label}
      inputMode={words ? 'text' : 'numeric'}
      value={typed}
      placeholder={placeholder}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={save}
      onKeyDown={(e) => {
        if (e.key === 'Enter') save();
        if (e.key === 'Escape') setTyped(shown);
      }}
      className={`rounded-xs border border-line bg-sheet px-1.5 py-0.5 ${words ? '' : 'figures text-right'} ${className}`}
    />
  );
}
