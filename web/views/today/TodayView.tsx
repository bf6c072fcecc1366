/** The Today stage: dates coming up and how ready they are, what is left, what runs, what changed last. */
import { Plus } from 'lucide-react';
import { format } from 'date-fns';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { DateLine } from '@early-set/core/api/types';
import { clockLength, daysBetween, localDay } from '@early-set/core/clock/clock';
import { lacksOne } from '@early-set/core/conditions/needs';
import { STAGES } from '../../app/stages.ts';
import { useCommands } from '../../commands/commands.ts';
import { RunLine } from '../../app/Shell.tsx';
import { several } from '../../data/actions.ts';
import { useDates, useOverview, useRuns, useSettings } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { Gauge } from '../completeness/Gauge.tsx';
import { sheetAddress } from '../tracks/filters/filters.ts';
import { DateCard } from './DateCard.tsx';
import { DateDialog } from './DateDialog.tsx';
import { LastBackup } from './LastBackup.tsx';
import { LastChanges } from './LastChanges.tsx';
import { leftOf } from './left.ts';

export function TodayView() {
  const [past, setPast] = useState(false);
  const [editing, setEditing] = useState<DateLine | 'new' | null>(null);
  const { data: dates, error } = useDates(past);
  const { data: overview } = useOverview();
  const navigate = useNavigate();
  useCommands([{ id: 'new-date', label: 'Add a date', group: 'Today', run: () => setEditing('new') }]);
  const today = localDay(new Date());
  if (error && !dates) return <Trouble error={error} />;
  return (
    <div className="flex h-full narrow:block narrow:overflow-y-auto">
      <section aria-label="Dates" className="flex min-w-0 flex-1 flex-col bg-sheet">
        <header className="flex min-h-[50px] shrink-0 items-center gap-2 border-b border-line bg-paper px-4">
          <h1 className="heading text-[19px]">{format(new Date(), 'EEEE d MMMM')}</h1>
          <span className="flex-1" />
          <Button kind="link" aria-pressed={past} onClick={() => setPast(!past)}>
            {past ? 'Dates ahead' : 'Past dates'}
          </Button>
          <Button onClick={() => setEditing('new')}>
            <Plus size={14} /> Add a date
          </Button>
        </header>
        <div className="min-h-0 flex-1 overflow-auto px-4 py-4">
          {dates?.length === 0 &&
            !past &&
            (overview?.tracks === 0 ? (
              <Empty title="Nothing is here yet">
                <p>Take music in first; then add the night or the show that it is for.</p>
                <Button kind="main" className="mt-3" onClick={() => void navigate('/intake')}>
                  Choose a folder
                </Button>
              </Empty>
            ) : (
              <Empty title="No date ahead">
                <p>Add a gig or a show with its crates and playlists: this page then says how ready they are.</p>
                <Button kind="main" className="mt-3" onClick={() => setEditing('new')}>
                  Add a date
                </Button>
              </Empty>
            ))}
          {dates?.length === 0 && past && <p className="text-dim">No date has been yet.</p>}
          <div className="flex max-w-[860px] flex-col gap-3">
            {dates?.map((date) => (
              <DateCard key={date.id} date={date} days={daysBetween(today, date.day)} onEdit={() => setEditing(date)} />
            ))}
          </div>
          {!past && <WholeLibrary />}
        </div>
      </section>
      <aside
        aria-label="To do and running"
        className="flex w-[300px] shrink-0 flex-col overflow-y-auto border-l border-line bg-paper px-4 py-3 narrow:w-auto narrow:border-t narrow:border-l-0"
      >
        <WhatIsLeft />
        <Running />
        <LastBackup />
        <LastChanges />
      </aside>
      {editing && (
        <DateDialog
          key={editing === 'new' ? 'new' : editing.id}
          date={editing === 'new' ? null : editing}
          onClose={() => setEditing(null)}
        />
      )}
    </div>
  );
}

/** How much of everything is ready, by what the rules ask for. */
function WholeLibrary() {
  const { data: overview } = useOverview();
  const { data: settings } = useSettings();
  if (!overview || !settings || overview.tracks === 0) return null;
  const { tracks, notReady } = overview;
  return (
    <section aria-label="The whole library" className="mt-6 max-w-[860px]">
      <h2 className="heading mb-2 flex items-baseline gap-2 text-[16px]">
        The whole library{' '}
        <span className="text-small font-normal text-dim">
          {several(tracks, 'track')}, {clockLength(overview.totalSeconds)}
        </span>
        <span className="flex-1" />
        <Link to="/clean/completeness" className="text-small font-semibold text-buoy-text hover:underline">
          Completeness
        </Link>
      </h2>
      <div className="grid grid-cols-2 gap-3">
        <Gauge
          name="Ready for the floor"
          ready={tracks - notReady.floor}
          all={tracks}
          to={sheetAddress('Not ready: floor', lacksOne(settings.gapRules.floor))}
        />
        <Gauge
          name="Ready for playout"
          ready={tracks - notReady.playout}
          all={tracks}
          to={sheetAddress('Not ready: playout', lacksOne(settings.gapRules.playout))}
        />
      </div>
    </section>
  );
}

/** Each stage with what is left there; every number opens what it counts. */
function WhatIsLeft() {
  const { data: overview } = useOverview();
  const { data: settings } = useSettings();
  if (!overview || !settings) return null;
  const lines = leftOf(overview, settings.gapRules);
  return (
    <section aria-label="To do" className="mb-5">
      <h2 className="heading mb-1.5 text-[16px]">To do</h2>
      <ul>
        {lines.map(({ stage, label, none, count, to }) => (
          <li key={label} className="flex items-baseline gap-2 border-b border-hair py-1 text-small">
            <span className="w-[62px] shrink-0 text-dim">{STAGES.find((s) => s.id === stage)!.label}</span>
            {count > 0 ? (
              <Link to={to} className="flex flex-1 items-baseline gap-1.5 hover:text-buoy-text">
                <b className="figures">{count.toLocaleString('en-GB')}</b>
                <span className="underline decoration-line underline-offset-2">{label}</span>
              </Link>
            ) : (
              <span className="flex-1 text-kelp">{none}</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Running() {
  const { data: runs = [] } = useRuns();
  const running = runs.filter((r) => r.state === 'running');
  return (
    <section aria-label="Running" className="mb-5">
      <h2 className="heading mb-1 text-[16px]">Running</h2>
      {running.length === 0 ? (
        <p className="text-small text-dim">Nothing runs.</p>
      ) : (
        running.map((run) => <RunLine key={run.id} run={run} />)
      )}
    </section>
  );
}
