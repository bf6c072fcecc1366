/** Lists or dates that a row of conditions asks for: some of many. */
import { X } from 'lucide-react';
import { useDateNames, useLists } from '../../data/hooks.ts';
import { pathOf } from '../../data/listTree.ts';
import { BOX } from './boxes.tsx';

export function Lists({
  ids,
  onChange,
  own,
}: {
  ids: readonly string[];
  onChange: (ids: string[]) => void;
  own: string | null;
}) {
  const { data: lists = [] } = useLists();
  const choices = lists
    .filter((l) => l.kind !== 'clock' && !l.removed && l.id !== own)
    .map((l) => ({ id: l.id, label: [pathOf(l, lists), l.name].filter(Boolean).join(' / ') }));
  return (
    <SomeOf
      label="Crate or playlist"
      none="Choose a list"
      chosen={ids.map((id) => ({ id, name: lists.find((l) => l.id === id)?.name ?? 'a removed list' }))}
      choices={choices}
      onChange={onChange}
    />
  );
}

export function Dates({ ids, onChange }: { ids: readonly number[]; onChange: (ids: number[]) => void }) {
  const dates = useDateNames();
  return (
    <SomeOf
      label="Date"
      none="Choose a date"
      chosen={ids.map((id) => ({ id: String(id), name: dates.get(id) ?? 'a removed date' }))}
      choices={[...dates].map(([id, label]) => ({ id: String(id), label }))}
      onChange={(chosen) => onChange(chosen.map(Number))}
    />
  );
}

/** Some of many: those that are chosen, each to be taken out, and what else could be. */
function SomeOf({
  label,
  none,
  chosen,
  choices,
  onChange,
}: {
  label: string;
  none: string;
  chosen: readonly { id: string; name: string }[];
  choices: readonly { id: string; label: string }[];
  onChange: (ids: string[]) => void;
}) {
  const ids = chosen.map((c) => c.id);
  return (
    <span className="flex min-w-0 flex-1 flex-wrap items-center gap-1.5">
      {chosen.map(({ id, name }) => (
        <button
          key={id}
          type="button"
          aria-label={`Without ${name}`}
          onClick={() => onChange(ids.filter((other) => other !== id))}
          className="flex max-w-[180px] items-center gap-1 rounded-xs bg-chosen px-1.5 py-1 text-small font-semibold text-buoy-text hover:underline"
        >
          <span className="truncate">{name}</span>
          <X size={11} className="shrink-0" />
        </button>
      ))}
      <select
        aria-label={label}
        value=""
        onChange={(e) => onChange([...ids, e.target.value])}
        className={`${BOX} max-w-[220px]`}
      >
        <option value="">{ids.length ? 'or …' : none}</option>
        {choices
          .filter((c) => !ids.includes(c.id))
          .map((c) => (
            <option key={c.id} value={c.id}>
              {c.label}
            </option>
          ))}
      </select>
    </span>
  );
}
