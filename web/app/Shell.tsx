/** The frame: stages with their tide, what is running, the page, the audition strip. */
import { Moon, Sun, Command } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { NavLink, Outlet, useLocation } from 'react-router';
import type { CopyProgress, Overview, RunProgress } from '@early-set/core/api/types';
import { AuditionStrip } from '../audition/AuditionStrip.tsx';
import { perform, several } from '../data/actions.ts';
import { post } from '../data/api.ts';
import { useOverview, useRuns } from '../data/hooks.ts';
import type { Theme } from '../data/layouts.ts';
import { useRemembered } from '../data/remembered.ts';
import { bytes, timeLeft } from '../ui/format.ts';
import { Hint } from '../ui/Hint.tsx';
import { useNarrow } from '../ui/useNarrow.ts';
import { Commands } from './Commands.tsx';
import { runKey } from '../commands/commands.ts';
import { Layouts } from './Layouts.tsx';
import { OtherNamesDialog } from '../views/changes/OtherNamesDialog.tsx';
import { Settings } from './Settings.tsx';
import { Workers } from './Workers.tsx';
import { STAGES, type Stage } from './stages.ts';

/** Files dropped beside a place for them must not make the browser leave it. */
function useNoStrayDrops(): void {
  useEffect(() => {
    const stop = (e: DragEvent): void => {
      if (e.dataTransfer?.types.includes('Files')) e.preventDefault();
    };
    window.addEventListener('dragover', stop);
    window.addEventListener('drop', stop);
    return () => {
      window.removeEventListener('dragover', stop);
      window.removeEventListener('drop', stop);
    };
  }, []);
}

function useTheme(): { night: boolean; toggle: () => void } {
  const [theme, setTheme] = useRemembered<Theme>('theme', 'system');
  const [systemNight, setSystemNight] = useState(() => matchMedia('(prefers-color-scheme: dark)').matches);
  useEffect(() => {
    const query = matchMedia('(prefers-color-scheme: dark)');
    const follow = (): void => setSystemNight(query.matches);
    query.addEventListener('change', follow);
    return () => query.removeEventListener('change', follow);
  }, []);
  const night = theme === 'night' || (theme === 'system' && systemNight);
  useEffect(() => {
    document.documentElement.dataset.theme = night ? 'night' : 'day';
  }, [night]);
  return { night, toggle: () => setTheme(night ? 'day' : 'night') };
}

export function Shell() {
  const { night, toggle } = useTheme();
  const { data: overview } = useOverview();
  useNoStrayDrops();
  const narrow = useNarrow();
  const mark = (
    <NavLink
      to="/today"
      className={`flex shrink-0 items-center gap-2.5 border-line ${narrow ? 'flex-1 pl-3' : 'w-[151px] border-r pl-4'}`}
    >
      <img src="/mark.svg" width="28" height="28" alt="" />
      <span className="heading text-[17px]">Early Set</span>
    </NavLink>
  );
  const tools = (
    <div className={`flex items-center gap-0.5 pr-2 ${narrow ? '[&_button]:p-2.5' : ''}`}>
      <Hint text="All actions by name (Ctrl K)">
        <button
          type="button"
          aria-label="All actions"
          onClick={() => runKey('everywhere', 'actions')}
          className="rounded-xs p-1.5 text-dim hover:bg-hair hover:text-ink"
        >
          <Command size={15} />
        </button>
      </Hint>
      <Layouts />
      <Settings />
      <Hint text={night ? 'Day colours' : 'Night colours'}>
        <button
          type="button"
          aria-label={night ? 'Day colours' : 'Night colours'}
          onClick={toggle}
          className="rounded-xs p-1.5 text-dim hover:bg-hair hover:text-ink"
        >
          {night ? <Sun size={15} /> : <Moon size={15} />}
        </button>
      </Hint>
    </div>
  );
  return (
    <div className={`flex h-full flex-col ${narrow ? '' : 'min-w-[960px]'}`}>
      {narrow ? (
        <header className="shrink-0 border-b border-line bg-paper">
          <div className="flex h-[46px]">
            {mark}
            <Running />
            {tools}
          </div>
          <Stages overview={overview} narrow />
        </header>
      ) : (
        <header className="flex h-[60px] shrink-0 border-b border-line bg-paper">
          {mark}
          <Stages overview={overview} />
          <Running />
          {tools}
        </header>
      )}
      <main className="min-h-0 flex-1">
        <Outlet />
      </main>
      <AuditionStrip />
      <OtherNamesDialog />
      <Commands toggleTheme={toggle} />
    </div>
  );
}

/** In one row; where there is no room for all, it is pushed along, and shows the one that is open. */
function Stages({ overview, narrow = false }: { overview: Overview | undefined; narrow?: boolean }) {
  const row = useRef<HTMLElement>(null);
  const { pathname } = useLocation();
  useEffect(() => {
    if (narrow)
      row.current?.querySelector('[aria-current="page"]')?.scrollIntoView({ inline: 'center', block: 'nearest' });
  }, [narrow, pathname]);
  return (
    <nav
      ref={row}
      aria-label="Stages"
      className={`flex min-w-0 ${narrow ? 'h-[50px] overflow-x-auto border-t border-line' : 'flex-1'}`}
    >
      {STAGES.map((stage) => (
        <StageTab key={stage.id} stage={stage} overview={overview} narrow={narrow} />
      ))}
    </nav>
  );
}

const STAGE = 'relative overflow-hidden border-r border-line px-3';
const WATER = 'absolute inset-x-0 bottom-0 border-t transition-[height] duration-500';
const WATER_ACTIVE = 'border-inverse-tide bg-inverse-tide/70',
  WATER_CALM = 'border-tide-deep bg-tide/60';

function StageTab({ stage, overview, narrow }: { stage: Stage; overview: Overview | undefined; narrow: boolean }) {
  const own = overview?.stages[stage.id as keyof Overview['stages']];
  const level = own?.level ?? 0;
  const unit = own?.count === 1 && stage.one ? stage.one : stage.unit;
  const share = own?.level === null || own?.level === undefined ? '' : `, ${Math.round(own.level * 100)} % done`;
  return (
    <NavLink
      to={stage.path}
      aria-label={`${stage.label}: ${own ? `${own.count} ${unit}${share}` : unit}`}
      className={({ isActive }) =>
        `${STAGE} ${narrow ? 'w-[92px] shrink-0 pt-1.5' : 'flex-1 pt-2.5'} ${isActive ? 'bg-inverse text-inverse-ink' : 'hover:bg-hair'}`
      }
    >
      {({ isActive }) => (
        <>
          <span
            aria-hidden="true"
            data-level={level.toFixed(3)}
            className={`${WATER} ${isActive ? WATER_ACTIVE : WATER_CALM} ${level > 0 ? '' : 'invisible'}`}
            style={{ height: `${level * 56}%` }}
          />
          <span className="relative block text-[13px] font-semibold">{stage.label}</span>
          <span className={`relative block truncate text-tiny ${isActive ? '' : 'text-dim'}`}>
            {own && (
              <span className={`figures mr-1.5 font-semibold ${isActive ? '' : 'text-ink'}`}>
                {own.count.toLocaleString('en-GB')}
              </span>
            )}
            {unit}
          </span>
        </>
      )}
    </NavLink>
  );
}

/** How far a run is with copying, where it does. */
function copyOf(run: RunProgress): CopyProgress | null {
  const report = run.report as Partial<CopyProgress> | null;
  return run.state === 'running' && report?.copied !== undefined && report.toCopy ? (report as CopyProgress) : null;
}

/** From 0 to 1. */
function shareOf(run: RunProgress): number {
  const copy = copyOf(run);
  if (copy) return Math.min(1, copy.copied / copy.toCopy);
  return run.total > 0 ? (run.done + run.failed) / run.total : 0;
}

const words = (run: RunProgress): string => {
  const finished = run.done + run.failed;
  if (run.kind === 'lookup')
    return `Looking up ${finished.toLocaleString('en-GB')} of ${run.total.toLocaleString('en-GB')}`;
  if (run.kind === 'duplicates')
    return `Comparing ${finished.toLocaleString('en-GB')} of ${run.total.toLocaleString('en-GB')}`;
  if (run.kind === 'musicCopy')
    return run.total
      ? `${run.title}: ${finished.toLocaleString('en-GB')} of ${run.total.toLocaleString('en-GB')}`
      : run.title;
  if (run.kind === 'copying')
    return `Copying ${finished.toLocaleString('en-GB')} of ${run.total.toLocaleString('en-GB')}`;
  if (run.kind === 'taking')
    return `Taking ${finished.toLocaleString('en-GB')} of ${run.total.toLocaleString('en-GB')}`;
  if (run.kind === 'unpacking')
    return `Unpacking ${finished.toLocaleString('en-GB')} of ${run.total.toLocaleString('en-GB')}`;
  if (run.kind === 'writing') {
    const copy = copyOf(run);
    const files = `Writing ${finished.toLocaleString('en-GB')} of ${run.total.toLocaleString('en-GB')}`;
    return copy ? `${files}, ${bytes(copy.copied)} of ${bytes(copy.toCopy)}` : files;
  }
  if (run.kind === 'backup' || run.kind === 'bundle') return run.current ?? run.title;
  if (run.kind === 'intake') return run.total ? `Reading ${finished} of ${run.total}` : 'Looking for music';
  return `Measuring ${finished.toLocaleString('en-GB')} of ${run.total.toLocaleString('en-GB')}`;
};

/** What is running: done, total, time left; the details and Cancel on opening. */
function Running() {
  const { data: runs = [] } = useRuns();
  const [open, setOpen] = useState(false);
  const narrow = useNarrow();
  const running = runs.filter((r) => r.state === 'running');
  const first =
    running.find((r) => ['writing', 'lookup', 'duplicates', 'unpacking', 'copying', 'taking'].includes(r.kind)) ??
    running.find((r) => r.kind === 'analysis' && r.total > 0) ??
    running[0];
  if (!first) {
    // Where room is short, nothing is said of nothing.
    return narrow ? null : (
      <div className="flex w-[168px] shrink-0 flex-col justify-center px-3.5">
        <span className="h-[5px] bg-kelp" />
        <span className="mt-1.5 text-tiny text-dim">Nothing running</span>
      </div>
    );
  }
  const share = shareOf(first);
  return (
    <div
      className={`relative shrink-0 ${narrow ? 'w-[110px]' : 'w-[168px]'}`}
      onBlur={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget)) setOpen(false);
      }}
    >
      <button
        type="button"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        className="flex h-full w-full flex-col justify-center px-3.5 text-left hover:bg-hair"
      >
        <span
          role="progressbar"
          aria-label={first.title}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(share * 100)}
          className="block h-[5px] w-full bg-hair"
        >
          <span className="block h-full bg-kelp" style={{ width: `${share * 100}%` }} />
        </span>
        <span className="mt-1 w-full truncate text-tiny text-dim">{words(first)}</span>
        {first.secondsLeft !== null && (
          <span className="truncate text-tiny text-dim">{timeLeft(first.secondsLeft)}</span>
        )}
      </button>
      {open && (
        <div className="floating absolute top-full right-0 w-[340px] max-w-[80vw] p-3">
          {running.map((run) => (
            <RunLine key={run.id} run={run} />
          ))}
          <Workers />
        </div>
      )}
    </div>
  );
}

export function RunLine({ run }: { run: RunProgress }) {
  const share = shareOf(run);
  return (
    <div className="border-b border-hair py-2 last:border-0">
      <div className="flex items-baseline gap-2">
        <span className="flex-1 font-semibold">{run.title}</span>
        <button
          type="button"
          onClick={() => void perform(post(`/runs/${run.id}/cancel`), 'Cancelled; what was done stays')}
          className="text-small font-semibold text-buoy-text hover:underline"
        >
          Cancel
        </button>
      </div>
      <div className="mt-1.5 h-[5px] bg-hair">
        <div className="h-full bg-kelp" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="mt-1 text-tiny text-dim">
        {words(run)}
        {run.failed > 0 && `, ${several(run.failed, 'failure')}`}
        {run.rate !== null && ` · ${run.rate < 10 ? run.rate.toFixed(1) : Math.round(run.rate)} a second`}
        {run.secondsLeft !== null && ` · ${timeLeft(run.secondsLeft)}`}
      </p>
      {run.current && (
        <p className="truncate text-tiny text-dim" title={run.current}>
          {run.current}
        </p>
      )}
    </div>
  );
}
