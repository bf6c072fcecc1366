/** Hours for a day or more, made from format clocks. */
import { addDays } from 'date-fns';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import type { HoursMade } from '@early-set/core/api/hours';
import type { ListLine } from '@early-set/core/api/types';
import { localDay, readTimeOfDay } from '@early-set/core/clock/clock';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useHoursProgress } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';

const MAX_HOURS = 24 * 31;
const BOX = 'h-[28px] rounded-xs border border-line bg-sheet px-2';

interface Props {
  open: boolean;
  clocks: readonly ListLine[];
  /** The clock that is chosen to begin with. */
  clockId: string | null;
  onClose: () => void;
}

export function MakeHoursDialog(props: Props) {
  const { open, onClose } = props;
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Make hours"
      note="Each hour follows its format clock and is filled by its rules. Hours that are there already stay as they are."
    >
      {open && <MakeForm {...props} />}
    </Dialog>
  );
}

function MakeForm({ clocks, clockId, onClose }: Props) {
  const navigate = useNavigate();
  const [clock, setClock] = useState(clockId ?? (clocks.length === 1 ? clocks[0]!.id : ''));
  const [day, setDay] = useState(localDay(addDays(new Date(), 1)));
  const [time, setTime] = useState('19:00');
  const [count, setCount] = useState('1');
  const [working, setWorking] = useState<{ gone: AbortController; making: string } | null>(null);
  const { data: progress } = useHoursProgress(working?.making ?? null);
  const busy = working !== null;
  useEffect(() => () => working?.gone.abort(), [working]);
  const from = new Date(`${day}T${readTimeOfDay(time) ?? 'x'}`).getTime() / 1000;
  const hours = Number(count);
  const ready = Number.isFinite(from) && Number.isInteger(hours) && hours >= 1 && hours <= MAX_HOURS;
  const make = async (): Promise<void> => {
    const gone = new AbortController(),
      making = crypto.randomUUID();
    setWorking({ gone, making });
    const made = await change(post<HoursMade>('/hours', { clockId: clock || null, from, hours, making }, gone.signal));
    setWorking(null);
    if (!made) return;
    onClose();
    void navigate(`/arrange/${made.listIds[0]}`);
  };
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (ready && !busy) void make();
      }}
    >
      <label className="flex items-center gap-2">
        <span className="w-[110px]">Format clock</span>
        <select value={clock} onChange={(e) => setClock(e.target.value)} className={`${BOX} min-w-0 flex-1`}>
          <option value="">by weekday and time</option>
          {clocks.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        <span className="w-[110px]">First day</span>
        <input type="date" value={day} onChange={(e) => setDay(e.target.value)} className={BOX} />
      </label>
      <label className="flex items-center gap-2">
        <span className="w-[110px]">From</span>
        <input value={time} onChange={(e) => setTime(e.target.value)} className={`${BOX} figures w-[74px]`} />
      </label>
      <label className="flex items-center gap-2">
        <span className="w-[110px]">Hours</span>
        <input
          type="number"
          min={1}
          max={MAX_HOURS}
          value={count}
          onChange={(e) => setCount(e.target.value)}
          className={`${BOX} figures w-[74px]`}
        />
        <span className="text-small text-dim">one after the other</span>
      </label>
      <div className="flex items-center justify-end gap-2">
        {busy && <Filling done={progress?.done ?? 0} total={progress?.total ?? hours} />}
        <Button onClick={onClose}>Cancel</Button>
        <Button type="submit" kind="main" disabled={!ready || busy || clocks.length === 0}>
          Make {ready ? several(hours, 'hour') : 'hours'}
        </Button>
      </div>
    </form>
  );
}

function Filling({ done, total }: { done: number; total: number }) {
  return (
    <label className="mr-auto flex items-center gap-2 text-dim">
      <span>
        Filling: {done} of {several(total, 'hour')}
      </span>
      <progress value={done} max={total} className="h-1.5 w-[90px]" />
    </label>
  );
}
