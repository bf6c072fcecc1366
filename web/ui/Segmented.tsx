/** One of a few, side by side: arrow keys go along, as in every group of radio buttons. */
import { RadioGroup } from 'radix-ui';

export interface SegmentedProps<T extends string> {
  label: string;
  value: T;
  choices: readonly (readonly [id: T, label: string])[];
  onChoose: (id: T) => void;
  className?: string;
}

const CHOICE =
  'border-r border-line bg-sheet px-2.5 py-1 text-small font-semibold text-dim last:border-0 hover:text-ink ' +
  'aria-checked:bg-inverse aria-checked:text-inverse-ink';

export function Segmented<T extends string>({ label, value, choices, onChoose, className = '' }: SegmentedProps<T>) {
  return (
    <RadioGroup.Root
      aria-label={label}
      orientation="horizontal"
      value={value}
      onValueChange={(id) => onChoose(id as T)}
      className={`flex w-fit border border-line ${className}`}
    >
      {choices.map(([id, text]) => (
        <RadioGroup.Item key={id} value={id} className={CHOICE}>
          {text}
        </RadioGroup.Item>
      ))}
    </RadioGroup.Root>
  );
}
