/** What was on air in a month: read from playout logs, told as a report. */
import { format, parse } from 'date-fns';
import { ArrowLeft } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import type { AirplayMonth, LogRead } from '@early-set/core/api/hours';
import { clockLength } from '@early-set/core/clock/clock';
import { change, complain, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useAirplay } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { ReadGrid, type ReadColumn } from '../../ui/grid/ReadGrid.tsx';
import { useFileChooser } from '../../ui/useFileChooser.tsx';
import { useSize } from '../../ui/useSize.ts';

type Line = AirplayMonth['lines'][number];

const COLUMNS: ReadColumn<Line>[] = [
  { id: 'title', label: 'Title', width: 180, grow: 2, className: 'font-semibold', value: (l) => l.title },
  { id: 'artist', label: 'Artists', width: 150, grow: 1.5, value: (l) => l.artist },
  { id: 'composer', label: 'Composer', width: 110, grow: 1, value: (l) => l.composer || null },
  { id: 'label', label: 'Label', width: 110, grow: 1, value: (l) => l.label || null },
  { id: 'isrc', label: 'ISRC', width: 110, value: (l) => l.isrc || null },
  { id: 'times', label: 'Times', width: 68, figures: true, descendsFirst: true, value: (l) => l.times },
  {
    id: 'seconds',
    label: 'On air',
    width: 84,
    figures: true,
    descendsFirst: true,
    value: (l) => l.seconds,
    cell: (l) => clockLength(l.seconds),
  },
  {
    id: 'track',
    label: 'In the library',
    width: 100,
    value: (l) => (l.trackId === null ? 'no' : 'yes'),
    cell: (l) =>
      l.trackId === null ? (
        <span className="text-sodium-text">no</span>
      ) : (
        <Link to={`/tracks/${l.trackId}/sound`} className="hover:text-buoy-text hover:underline">
          yes
        </Link>
      ),
  },
];
const nameOf = (month: string): string => format(parse(month, 'yyyy-MM', new Date(2000, 0, 1)), 'MMMM yyyy');

/** What a log came to, in words. */
function told({ read, known, unmatched, problems }: LogRead): string {
  return [
    `${several(read, 'line')} read`,
    known > 0 && `${several(known, 'line')} known before`,
    unmatched.length > 0 && `${unmatched.length} without a track in the library`,
    problems.length > 0 &&
      `${several(problems.length, 'line')} left out (line ${problems[0]!.line}: ${problems[0]!.reason})`,
  ]
    .filter(Boolean)
    .join(', ');
}

export function AirplayView() {
  const [month, setMonth] = useState(format(new Date(), 'yyyy-MM'));
  const { data } = useAirplay(month);
  const [box, { height }] = useSize<HTMLDivElement>();
  const [busy, setBusy] = useState(false);
  const read = async (file: File): Promise<void> => {
    setBusy(true);
    try {
      const done = await post<LogRead>('/airings', { name: file.name, text: await file.text() });
      setMonth(done.month);
      if (done.applied) await change(Promise.resolve(done.applied), `${file.name}: ${told(done)}`);
      else toast(`${file.name}: ${told(done)}`);
    } catch (error) {
      complain(error);
    }
    setBusy(false);
  };
  const chooser = useFileChooser('A playout log', '.csv,.txt,.tsv,text/csv', (file) => void read(file));
  const lines = data?.lines ?? [];
  const months = [...new Set([month, ...(data?.months ?? [])])].sort().reverse();
  return (
    <div className="flex h-full flex-col bg-sheet">
      <div className="flex min-h-[50px] items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
        <Link
          to="/arrange"
          aria-label="Back to Arrange"
          className="rounded-xs p-1 text-dim hover:bg-hair hover:text-ink"
        >
          <ArrowLeft size={16} />
        </Link>
        <h1 className="heading text-[19px]">Airplay</h1>
        <select
          aria-label="Month"
          value={month}
          onChange={(e) => setMonth(e.target.value)}
          className="h-[28px] rounded-xs border border-line bg-sheet px-1.5"
        >
          {months.map((m) => (
            <option key={m} value={m}>
              {nameOf(m)}
            </option>
          ))}
        </select>
        <span className="figures text-small text-dim" data-testid="airplay-sum">
          {several(lines.length, 'track')} ·{' '}
          {several(
            lines.reduce((n, l) => n + l.times, 0),
            'time',
            'times',
          )}{' '}
          on air
        </span>
        <span className="flex-1" />
        {(['csv', 'xlsx'] as const).map((as) => (
          <Button
            key={as}
            disabled={lines.length === 0}
            onClick={() => window.location.assign(`/api/airings/${month}/${as}`)}
          >
            {as === 'csv' ? 'CSV' : 'Workbook'}
          </Button>
        ))}
        <Button kind="main" disabled={busy} onClick={chooser.choose}>
          {busy ? 'Reading…' : 'Read a playout log…'}
        </Button>
        {chooser.input}
      </div>
      <div ref={box} className="min-h-0 flex-1">
        {data && lines.length === 0 ? (
          <Empty title={`Nothing is known of ${nameOf(month)}`}>
            <p>
              Read the log of the playout system: a CSV with the time, title and artist of what was on air. What was
              played then counts as used.
            </p>
          </Empty>
        ) : (
          <ReadGrid
            id="airplay"
            label={`On air in ${nameOf(month)}`}
            rows={lines}
            columns={COLUMNS}
            idOf={(l) => l.trackId ?? `${l.artist} ${l.title}`}
            tallest={height}
          />
        )}
      </div>
    </div>
  );
}
