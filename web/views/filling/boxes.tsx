/** Small boxes for figures and days in a row of conditions. */
import { useState } from 'react';

export const BOX = 'h-[28px] rounded-xs border border-line bg-sheet px-1.5';

/** A figure that may be left out; what is no figure yet is kept as it is typed. */
export function Figure({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number | undefined;
  onChange: (value: number | undefined) => void;
}) {
  const [text, setText] = useState(value === undefined ? '' : String(value));
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      value={text}
      placeholder="any"
      onChange={(e) => {
        setText(e.target.value);
        const typed = e.target.value.trim().replace(',', '.');
        if (typed === '') onChange(undefined);
        else if (Number.isFinite(Number(typed))) onChange(Number(typed));
      }}
      className={`${BOX} figures w-[72px]`}
    />
  );
}

export const Day = ({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string | undefined;
  onChange: (day: string | undefined) => void;
}) => (
  <input
    type="date"
    aria-label={label}
    value={value ?? ''}
    onChange={(e) => onChange(e.target.value || undefined)}
    className={`${BOX} figures`}
  />
);
