/** A line of text that offers what the library has already; in a field of several values, for the one being typed. */
import { Popover } from 'radix-ui';
import { useState } from 'react';
import useSWR from 'swr';
import type { Field } from '@early-set/core/fields/table';
import type { NameCounts } from '@early-set/core/api/types';
import { get } from '../data/api.ts';

interface Props {
  field: Field;
  value: string;
  onChange: (value: string) => void;
  onBlur?: () => void;
  /** Keys that are not for the suggestions. `now` is the text with the chosen suggestion. */
  onKey: (e: React.KeyboardEvent, now: string) => void;
  className: string;
  label?: string;
  placeholder?: string;
  /** Offered besides what the library has. */
  more?: readonly string[];
}

export function TypeAhead({ field, value, onChange, onBlur, onKey, className, label, placeholder, more }: Props) {
  const [typed, setTyped] = useState(false);
  const [at, setAt] = useState(-1);
  const several = field.type === 'texts';
  const cut = several ? value.lastIndexOf(';') + 1 : 0;
  const part = value.slice(cut).trim();
  const offers = typed && (field.type === 'text' || several) && !['comment', 'notes'].includes(field.id);
  const { data = [] } = useSWR<NameCounts>(
    offers && part !== '' ? `/values?field=${field.id}&text=${encodeURIComponent(part)}&limit=8` : null,
    get,
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  const there = value
    .slice(0, cut)
    .split(';')
    .map((v) => v.trim().toLowerCase());
  const known = data.map(([name]) => name);
  const shown = offers
    ? [...known, ...(more ?? []).filter((m) => !known.includes(m) && m.toLowerCase().includes(part.toLowerCase()))]
        .filter((name) => name !== part && !there.includes(name.toLowerCase()))
        .slice(0, 8)
    : [];
  const withChoice = (name: string): string => (several && cut > 0 ? `${value.slice(0, cut)} ${name}` : name);
  const pick = (name: string): void => {
    onChange(withChoice(name));
    setTyped(false);
    setAt(-1);
  };
  const keys = (e: React.KeyboardEvent<HTMLInputElement>): void => {
    const chosen = shown[at];
    if (shown.length > 0 && (e.key === 'ArrowDown' || e.key === 'ArrowUp')) {
      e.preventDefault();
      e.stopPropagation();
      // Round and round, with "none of them" between the last and the first.
      const places = shown.length + 1,
        next = (at + 1 + (e.key === 'ArrowDown' ? 1 : -1) + places) % places;
      setAt(next - 1);
      return;
    }
    if (chosen !== undefined && e.key === 'Enter') {
      e.preventDefault();
      e.stopPropagation();
      pick(chosen);
      return;
    }
    if (chosen !== undefined) pick(chosen);
    onKey(e, chosen === undefined ? value : withChoice(chosen));
  };
  return (
    <Popover.Root open={shown.length > 0}>
      <Popover.Anchor asChild>
        <input
          autoFocus
          value={value}
          role="combobox"
          aria-expanded={shown.length > 0}
          aria-autocomplete="list"
          aria-controls="offers"
          aria-label={label ?? field.label}
          placeholder={placeholder}
          maxLength={field.limits.maxLength}
          {...(at >= 0 ? { 'aria-activedescendant': `offer-${at}` } : {})}
          onFocus={(e) => e.target.select()}
          onChange={(e) => {
            setTyped(true);
            setAt(-1);
            onChange(e.target.value);
          }}
          onBlur={onBlur}
          onKeyDown={keys}
          className={className}
        />
      </Popover.Anchor>
      <Popover.Portal>
        <Popover.Content
          side="bottom"
          align="start"
          sideOffset={2}
          onOpenAutoFocus={(e) => e.preventDefault()}
          onCloseAutoFocus={(e) => e.preventDefault()}
          onMouseDown={(e) => e.preventDefault()}
          className="floating min-w-[160px] py-0.5"
        >
          <ul id="offers" role="listbox" aria-label={`${field.label} in the library`}>
            {shown.map((name, i) => (
              <li
                key={name}
                id={`offer-${i}`}
                role="option"
                aria-selected={i === at}
                onClick={() => pick(name)}
                className={`cursor-default px-2 py-0.5 ${i === at ? 'bg-chosen' : 'hover:bg-hair'}`}
              >
                {name}
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
