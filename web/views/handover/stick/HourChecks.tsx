/** Hours that can go to a playout system, by day; a day is chosen with all its hours. */
import { format } from 'date-fns';
import type { ListLine } from '@early-set/core/api/types';
import { several } from '../../../data/actions.ts';

interface Props {
  lists: readonly ListLine[];
  wanted: ReadonlySet<string>;
  onChoose: (ids: readonly string[], on: boolean) => void;
}

/** Those that can be chosen, in the order in which they are on air. */
export const usableHours = (all: readonly ListLine[]): ListLine[] =>
  all.filter((l) => l.kind === 'hour' && !l.removed && l.onAirAt !== null).sort((a, b) => a.onAirAt! - b.onAirAt!);

const dayOf = (hour: ListLine): string => format(new Date(hour.onAirAt! * 1000), 'EEEE d MMMM yyyy');

export function HourChecks({ lists, wanted, onChoose }: Props) {
  const days = new Map<string, ListLine[]>();
  for (const hour of lists) days.set(dayOf(hour), [...(days.get(dayOf(hour)) ?? []), hour]);
  return (
    <ul aria-label="Hours" className="mt-1 h-[300px] w-full overflow-y-auto border border-line">
      {[...days].map(([day, hours]) => (
        <li key={day}>
          <Check
            label={day}
            note={several(hours.length, 'hour')}
            on={hours.every((h) => wanted.has(h.id))}
            onChange={(on) =>
              onChoose(
                hours.map((h) => h.id),
                on,
              )
            }
            bold
          />
          <ul>
            {hours.map(({ id, name, onAirAt, tracks }) => (
              <li key={id} className="pl-5">
                <Check
                  label={labelOf(name, format(new Date(onAirAt! * 1000), 'HH:mm'))}
                  note={several(tracks, 'track')}
                  on={wanted.has(id)}
                  onChange={(on) => onChoose([id], on)}
                />
              </li>
            ))}
          </ul>
        </li>
      ))}
      {days.size === 0 && <li className="p-2 text-dim">No hour has been made yet. Hours are made on Arrange.</li>}
    </ul>
  );
}

/** Its name says its time, as long as nobody has called it otherwise. */
const labelOf = (name: string, time: string): string => (name.includes(time) ? name : `${time} ${name}`);

interface CheckProps {
  label: string;
  note: string;
  on: boolean;
  onChange: (on: boolean) => void;
  bold?: boolean;
}
const Check = ({ label, note, on, onChange, bold = false }: CheckProps) => (
  <label className={`flex items-center gap-2 border-b border-hair px-2 py-1 ${bold ? 'font-semibold' : ''}`}>
    <input type="checkbox" checked={on} onChange={(e) => onChange(e.target.checked)} className="accent-ink" />
    <span className="min-w-0 flex-1 truncate">{label}</span>
    <span className="figures text-small font-normal text-dim">{note}</span>
  </label>
);
