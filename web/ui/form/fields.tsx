/** The parts of a form: a label over what is filled in, and what is wrong with it below. */
import type { ReactNode } from 'react';
import { useController, type Control, type FieldPath, type FieldValues } from 'react-hook-form';
import { Button } from '../Button.tsx';

export const INPUT = 'h-[28px] w-full rounded-xs border border-line bg-sheet px-2';

interface At<Values extends FieldValues> {
  control: Control<Values>;
  name: FieldPath<Values>;
}

const wrongId = (name: string): string => `wrong-${name}`;

/** What is wrong with a field, said where it stands. */
function Wrong<Values extends FieldValues>({ control, name }: At<Values>) {
  const { fieldState } = useController({ control, name });
  return fieldState.error ? (
    <p role="alert" id={wrongId(name)} className="mt-0.5 text-small text-flare">
      {fieldState.error.message}
    </p>
  ) : null;
}

interface TextProps<Values extends FieldValues> extends At<Values> {
  label: string;
  type?: 'text' | 'date' | 'time';
  placeholder?: string;
  /** An empty field is null. */
  orNull?: boolean;
}
export function TextField<Values extends FieldValues>(props: TextProps<Values>) {
  const { label, type = 'text', placeholder, orNull = false, control, name } = props;
  const { field, fieldState } = useController({ control, name });
  return (
    <div>
      <label className="block">
        <span className="mb-0.5 block text-small text-dim">{label}</span>
        <input
          {...field}
          type={type}
          value={(field.value as string | null) ?? ''}
          onChange={(e) => field.onChange(orNull && e.target.value === '' ? null : e.target.value)}
          placeholder={placeholder}
          aria-invalid={fieldState.invalid}
          {...(fieldState.invalid ? { 'aria-describedby': wrongId(name) } : {})}
          className={INPUT}
        />
      </label>
      <Wrong control={control} name={name} />
    </div>
  );
}

interface SelectProps<Values extends FieldValues> extends At<Values> {
  label: string;
  choices: readonly (readonly [value: string, label: string])[];
  /** Told of a choice by hand. */
  onChosen?: (value: string) => void;
}
export function SelectField<Values extends FieldValues>({ label, choices, onChosen, ...at }: SelectProps<Values>) {
  const { field } = useController(at);
  return (
    <label className="block">
      <span className="mb-0.5 block text-small text-dim">{label}</span>
      <select
        {...field}
        onChange={(e) => {
          field.onChange(e.target.value);
          onChosen?.(e.target.value);
        }}
        className={INPUT}
      >
        {choices.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

interface RadioProps<Values extends FieldValues> extends At<Values> {
  choices: readonly { value: string; label: ReactNode; note?: string }[];
}
/** One of several, each on a line of its own. */
export function RadioLines<Values extends FieldValues>({ choices, ...at }: RadioProps<Values>) {
  const { field } = useController(at);
  return choices.map(({ value, label, note }) => (
    <label key={value} className={`flex gap-2 py-1 ${note ? 'items-start' : 'items-center'}`}>
      <input
        type="radio"
        name={field.name}
        checked={field.value === value}
        onChange={() => field.onChange(value)}
        className={`accent-ink ${note ? 'mt-1' : ''}`}
      />
      <span>
        <span className={note ? 'font-semibold' : ''}>{label}</span>
        {note && <span className="block text-small text-dim">{note}</span>}
      </span>
    </label>
  ));
}

interface CheckListProps<Values extends FieldValues> extends At<Values> {
  choices: readonly { value: string; label: ReactNode; aside?: ReactNode }[];
  className?: string;
  lineClassName?: string;
}
/** Any of several; the field holds the values that are on, in the order of the choices. */
export function CheckList<Values extends FieldValues>(props: CheckListProps<Values>) {
  const { choices, className = '', lineClassName = 'flex items-center gap-2 py-1', ...at } = props;
  const { field } = useController(at);
  const on = new Set(field.value as string[]);
  const set = (value: string, checked: boolean): void => {
    if (checked) on.add(value);
    else on.delete(value);
    field.onChange(choices.map((c) => c.value).filter((v) => on.has(v)));
  };
  return (
    <>
      <div className={className}>
        {choices.map(({ value, label, aside }) => (
          <label key={value} className={lineClassName}>
            <input
              type="checkbox"
              checked={on.has(value)}
              onChange={(e) => set(value, e.target.checked)}
              className="accent-ink"
            />
            <span className="min-w-0 flex-1 truncate">{label}</span>
            {aside && <span className="text-small text-dim">{aside}</span>}
          </label>
        ))}
      </div>
      <Wrong {...at} />
    </>
  );
}

/** The last line of a form: out, and on. */
export function FormEnd({ onCancel, send, disabled }: { onCancel: () => void; send: string; disabled?: boolean }) {
  return (
    <div className="mt-4 flex justify-end gap-2">
      <Button onClick={onCancel}>Cancel</Button>
      <Button kind="main" type="submit" disabled={disabled ?? false}>
        {send}
      </Button>
    </div>
  );
}
