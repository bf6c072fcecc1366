/** What a row of conditions is compared with: texts, figures, a key, days, lists, a folder. */
import { useState } from 'react';
import { ALL_KEYS, parseKey } from '@early-set/core/fields/keys';
import { SCAN_WORDS } from '@early-set/core/conditions/words';
import { fieldOf, type Field } from '@early-set/core/fields/table';
import { useRoots } from '../../data/hooks.ts';
import { TypeAhead } from '../../ui/TypeAhead.tsx';
import { BOX, Day, Figure } from './boxes.tsx';
import type { Leaf } from './parts.ts';
import { Dates, Lists } from './SomeOf.tsx';

interface Props {
  leaf: Leaf;
  onChange: (leaf: Leaf) => void;
  /** The crate whose conditions these are; it cannot ask about itself. */
  own: string | null;
}

export function RowValue({ leaf, onChange, own }: Props) {
  if ('inLists' in leaf) return <Lists ids={leaf.inLists} onChange={(inLists) => onChange({ inLists })} own={own} />;
  if ('onDates' in leaf) return <Dates ids={leaf.onDates} onChange={(onDates) => onChange({ onDates })} />;
  if ('ofScan' in leaf) return <span className="text-dim">those that it has {SCAN_WORDS[leaf.as]}</span>;
  if ('inFolder' in leaf) return <Folder leaf={leaf} onChange={onChange} />;
  switch (leaf.test) {
    case 'empty':
    case 'is':
    case 'by hand':
      return null;
    case 'words':
    case 'begins':
      return (
        <input
          aria-label="Text"
          value={leaf.text}
          maxLength={500}
          onChange={(e) => onChange({ ...leaf, text: e.target.value })}
          className={`${BOX} min-w-0 flex-1`}
        />
      );
    case 'one of':
      return (
        <Values field={fieldOf(leaf.field)} values={leaf.values} onChange={(values) => onChange({ ...leaf, values })} />
      );
    case 'in the last':
      return (
        <>
          <Figure
            label="Days"
            value={leaf.days}
            onChange={(days) => onChange({ ...leaf, days: Math.round(days ?? 0) })}
          />
          <span>days</span>
        </>
      );
    case 'days': {
      const { field, test, from, to } = leaf;
      const next = (first: string | undefined, last: string | undefined): void =>
        onChange({ field, test, ...(first ? { from: first } : {}), ...(last ? { to: last } : {}) });
      return (
        <>
          <Day label="First day" value={from} onChange={(day) => next(day, to)} />
          <span>to</span>
          <Day label="Last day" value={to} onChange={(day) => next(from, day)} />
        </>
      );
    }
    case 'near key':
      return (
        <>
          <select
            aria-label="Key"
            value={leaf.key}
            onChange={(e) => onChange({ ...leaf, key: e.target.value })}
            className={BOX}
          >
            {ALL_KEYS.map((k) => (
              <option key={k}>{k}</option>
            ))}
          </select>
          <span>at most</span>
          <select
            aria-label="Fifths away"
            value={leaf.reach}
            onChange={(e) => onChange({ ...leaf, reach: Number(e.target.value) })}
            className={BOX}
          >
            {[0, 1, 2, 3, 4, 5, 6].map((n) => (
              <option key={n} value={n}>
                {n === 1 ? '1 fifth away' : `${n} fifths away`}
              </option>
            ))}
          </select>
        </>
      );
    case 'tempo':
      return (
        <>
          <Figure label="From" value={leaf.low} onChange={(n) => onChange({ ...leaf, low: n ?? 0 })} />
          <span>to</span>
          <Figure label="To" value={leaf.high} onChange={(n) => onChange({ ...leaf, high: n ?? 0 })} />
        </>
      );
    case 'between': {
      const { field, test, low, high } = leaf;
      const next = (from: number | undefined, to: number | undefined): void =>
        onChange({
          field,
          test,
          ...(from === undefined ? {} : { low: from }),
          ...(to === undefined ? {} : { high: to }),
        });
      return (
        <>
          <Figure label="From" value={low} onChange={(n) => next(n, high)} />
          <span>to</span>
          <Figure label="To" value={high} onChange={(n) => next(low, n)} />
          {fieldOf(field).type === 'seconds' && <span className="text-small text-dim">seconds</span>}
        </>
      );
    }
  }
}

const split = (text: string): string[] => text.split(';').flatMap((part) => part.trim() || []);

/** Values one after the other, or the choices that a field has. */
function Values({
  field,
  values,
  onChange,
}: {
  field: Field;
  values: readonly string[];
  onChange: (values: string[]) => void;
}) {
  const [text, setText] = useState(values.join('; '));
  if (field.choices)
    return (
      <span className="flex min-w-0 flex-1 flex-wrap gap-x-3 gap-y-1">
        {Object.entries(field.choices).map(([value, label]) => (
          <label key={value} className="flex items-center gap-1">
            <input
              type="checkbox"
              checked={values.includes(value)}
              onChange={(e) => onChange(e.target.checked ? [...values, value] : values.filter((v) => v !== value))}
            />
            {label}
          </label>
        ))}
      </span>
    );
  const key = field.type === 'key';
  return (
    <TypeAhead
      field={{ ...field, type: 'texts' }}
      value={text}
      onChange={(next) => {
        setText(next);
        onChange(key ? split(next).flatMap((k) => parseKey(k) ?? []) : split(next));
      }}
      onKey={() => undefined}
      label="Values"
      placeholder={key ? 'A minor; C major' : 'one; another'}
      className={`${BOX} min-w-0 flex-1`}
    />
  );
}

function Folder({ leaf, onChange }: { leaf: Extract<Leaf, { inFolder: unknown }>; onChange: (leaf: Leaf) => void }) {
  const { data: roots = [] } = useRoots();
  const { rootId, path } = leaf.inFolder;
  return (
    <span className="flex min-w-0 flex-1 items-center gap-1.5">
      <select
        aria-label="Library folder"
        value={rootId}
        onChange={(e) => onChange({ ...leaf, inFolder: { rootId: Number(e.target.value), path } })}
        className={`${BOX} max-w-[150px]`}
      >
        <option value={0}>Choose</option>
        {roots.map((r) => (
          <option key={r.id} value={r.id}>
            {r.label}
          </option>
        ))}
      </select>
      <input
        aria-label="Folder below it"
        value={path}
        placeholder="folder below it"
        onChange={(e) => onChange({ ...leaf, inFolder: { rootId, path: e.target.value.replace(/^\/+|\/+$/g, '') } })}
        className={`${BOX} min-w-0 flex-1`}
      />
      <label className="flex shrink-0 items-center gap-1">
        <input type="checkbox" checked={leaf.below} onChange={(e) => onChange({ ...leaf, below: e.target.checked })} />
        and below
      </label>
    </span>
  );
}
