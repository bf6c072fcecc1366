/** A template that is read as it is left, or on Enter; Esc brings back what was there. */
import { useState } from 'react';

interface Props {
  label: string;
  value: string;
  onSave: (value: string) => void;
  hint?: string;
}

// What is saved elsewhere takes the place of what is typed here.
export const SavedText = (props: Props) => <Field key={props.value} {...props} />;

function Field({ label, value, onSave, hint }: Props) {
  const [typed, setTyped] = useState(value);
  const save = (): void => {
    const text = typed.replace(/\s*\n\s*/g, ' ').trim();
    if (text === '') setTyped(value);
    else if (text !== value) onSave(text);
  };
  return (
    <label className="mb-1 block">
      <span className="mb-0.5 block text-tiny text-dim">{label}</span>
      <textarea
        value={typed}
        rows={2}
        spellCheck={false}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={save}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            e.preventDefault();
            save();
          }
          if (e.key === 'Escape') setTyped(value);
        }}
        className="figures block w-full resize-y rounded-xs border border-line bg-sheet px-2 py-1 text-small"
      />
      {hint && <span className="text-tiny text-dim">{hint}</span>}
    </label>
  );
}
