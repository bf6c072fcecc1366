/** When a format clock is used: weekdays and times of day. */
import { X } from 'lucide-react';
import { readTimeOfDay } from '@early-set/core/clock/clock';
import type { ClockUse, KeptClock } from '@early-set/core/hours/kept';
import { WEEKDAYS, type Weekday } from '@early-set/core/hours/week';
import { Button } from '../../ui/Button.tsx';
import { SavedInput } from '../../ui/form/SavedInput.tsx';

interface Props {
  clock: KeptClock;
  onSave: (wish: { times: readonly ClockUse[] }) => void;
}

const DAY_NAMES: Record<Weekday, string> = {
  mon: 'Mon',
  tue: 'Tue',
  wed: 'Wed',
  thu: 'Thu',
  fri: 'Fri',
  sat: 'Sat',
  sun: 'Sun',
};
const NEW_USE: ClockUse = { days: ['mon', 'tue', 'wed', 'thu', 'fri'], from: '19:00', to: '20:00' };

export function ClockTimes({ clock: { times }, onSave }: Props) {
  const at = (i: number, use: ClockUse | null): void =>
    onSave({ times: use ? times.map((t, k) => (k === i ? use : t)) : times.filter((_, k) => k !== i) });
  return (
    <section aria-label="When it is used">
      <h3 className="text-small font-semibold text-dim">When it is used</h3>
      {times.length === 0 && <p className="mt-1 text-dim">Only for hours that are made by it by hand.</p>}
      {times.map((use, i) => (
        <fieldset key={i} className="border-b border-line py-1.5">
          <legend className="sr-only">Weekdays and times {i + 1}</legend>
          <div className="flex flex-wrap gap-1">
            {WEEKDAYS.map((day) => {
              const on = use.days.includes(day);
              const days = WEEKDAYS.filter((d) => (d === day ? !on : use.days.includes(d)));
              return (
                <button
                  key={day}
                  type="button"
                  aria-pressed={on}
                  disabled={days.length === 0}
                  onClick={() => at(i, { ...use, days })}
                  className={`rounded-xs border border-line px-1 py-0.5 text-tiny ${on ? 'bg-inverse text-inverse-ink' : 'bg-sheet text-dim'}`}
                >
                  {DAY_NAMES[day]}
                </button>
              );
            })}
          </div>
          <div className="mt-1 flex items-center gap-1.5">
            <span>from</span>
            <Time label="From" value={use.from} onSave={(from) => at(i, { ...use, from })} />
            <span>to</span>
            <Time label="To" value={use.to} onSave={(to) => at(i, { ...use, to })} />
            <span className="flex-1" />
            <button
              type="button"
              aria-label={`Remove ${use.from} to ${use.to}`}
              onClick={() => at(i, null)}
              className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink"
            >
              <X size={13} />
            </button>
          </div>
        </fieldset>
      ))}
      <Button className="mt-2" onClick={() => onSave({ times: [...times, NEW_USE] })}>
        Add weekdays and times
      </Button>
    </section>
  );
}

const Time = ({ label, value, onSave }: { label: string; value: string; onSave: (time: string) => void }) => (
  <SavedInput
    label={label}
    value={value}
    text={(t) => t}
    read={(text) => readTimeOfDay(text) ?? undefined}
    onSave={(time) => time && onSave(time)}
    className="w-[54px]"
  />
);
