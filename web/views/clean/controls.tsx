/** Small controls of step options. */
import { Check as Tick } from 'lucide-react';
import { Checkbox } from 'radix-ui';
import { useId, type ReactNode } from 'react';

export const INPUT = 'w-full min-w-0 rounded-xs border border-line bg-sheet px-1.5 py-0.5';

const BOX =
  'mt-[2px] flex size-[13px] shrink-0 items-center justify-center border border-dim bg-sheet ' +
  'data-[state=checked]:border-inverse data-[state=checked]:bg-inverse';

export function Check({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  const id = useId();
  return (
    <span className="flex items-start gap-1.5">
      <Checkbox.Root id={id} checked={on} onCheckedChange={(next) => onChange(next === true)} className={BOX}>
        <Checkbox.Indicator>
          <Tick size={11} className="text-inverse-ink" strokeWidth={3} />
        </Checkbox.Indicator>
      </Checkbox.Root>
      <label htmlFor={id}>{label}</label>
    </span>
  );
}

export function Choice<T extends string>({
  label,
  value,
  choices,
  onChange,
}: {
  label: string;
  value: T;
  choices: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <Line label={label}>
      <select value={value} onChange={(e) => onChange(e.target.value as T)} className={INPUT}>
        {choices.map(([id, text]) => (
          <option key={id} value={id}>
            {text}
          </option>
        ))}
      </select>
    </Line>
  );
}

export function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="block">
      <span className="text-dim">{label}</span>
      {children}
    </label>
  );
}
