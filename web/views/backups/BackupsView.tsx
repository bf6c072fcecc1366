/** Backups: which there are, when the next one comes, and putting the desk back to one. */
import { useState, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import type { BackupLine, BackupsHere } from '@early-set/core/api/backups';
import { useCommands } from '../../commands/commands.ts';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useBackups, useRuns } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { bytes, dayAndTime } from '../../ui/format.ts';
import { NOTHING } from '../../ui/grid/choice.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { LatestRun } from '../intake/LatestRun.tsx';
import { BackupPanel } from './BackupPanel.tsx';
import { BackupTabs } from './BackupTabs.tsx';
import { RestoringDialog } from './RestoringDialog.tsx';
import { SchedulePanel } from './SchedulePanel.tsx';
import { keptInWords, REASONS, stateOf } from './words.ts';

const TONE = { good: 'text-kelp', look: 'text-sodium-text', bad: 'text-flare', plain: 'text-dim' };

export function BackupsView() {
  const { data: here, error } = useBackups();
  const { data: runs = [] } = useRuns();
  const [params, setParams] = useSearchParams();
  const [restoring, setRestoring] = useState(false);
  const making = runs.some((run) => run.kind === 'backup' && run.state === 'running');
  const backUp = (): void => void perform(post('/backups'), 'A backup is being made');
  useCommands([{ id: 'back-up', label: 'Back up now', group: 'Backups', run: backUp, disabled: making }]);
  if (error && !here) return <Trouble error={error} />;
  if (!here) return null;
  const { backups } = here;
  const at = backups.findIndex(({ id }) => id === params.get('backup'));
  const focus = at < 0 ? null : at;
  const choose = (index: number): void => {
    const backup = backups[index];
    if (backup) setParams({ backup: backup.id }, { replace: true });
  };
  return (
    <div className="flex h-full narrow:flex-col narrow:overflow-y-auto">
      <SchedulePanel here={here} />
      <section
        aria-label="Backups"
        className="flex min-w-0 flex-1 flex-col bg-sheet narrow:order-first narrow:min-h-[420px] narrow:shrink-0"
      >
        <header className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-3 border-b border-line bg-paper px-4 narrow:py-2">
          <h1 className="heading text-[19px]">Backups</h1>
          <BackupTabs of="library" />
          <span className="min-w-0 flex-1 truncate text-small text-dim">
            {here.nextAt ? `The next one: ${dayAndTime(here.nextAt)}` : 'Made only when you ask for one'}
          </span>
          <Button kind="main" disabled={making || here.trouble !== null} onClick={backUp}>
            {making ? 'Being made…' : 'Back up now'}
          </Button>
        </header>
        <LatestRun kind="backup" />
        <Notes here={here} />
        {backups.length === 0 ? (
          <Empty title="No backup yet">
            <p>
              A backup holds the library with its lists, history and settings, covers, and what is kept of destinations.
              Music files are not in it.
            </p>
          </Empty>
        ) : (
          <div className="min-h-0 flex-1">
            <Grid
              id="backups"
              label="Backups, latest first"
              multiple={false}
              columns={COLUMNS}
              count={backups.length}
              row={(i) => backups[i]}
              rowHeight={34}
              idOf={(backup) => backup.id}
              data={(backup) => ({ 'data-backup': backup.id })}
              cell={(backup, column) => <Cell backup={backup} column={column} />}
              chosen={{ ...NOTHING, ids: new Set(focus === null ? [] : [backups[focus]!.id]), focus, anchor: focus }}
              onChoose={choose}
              onKey={gridKeys({ count: backups.length, focus, choose })}
            />
          </div>
        )}
      </section>
      <BackupPanel
        key={focus === null ? '' : backups[focus]!.id}
        backup={focus === null ? null : backups[focus]!}
        here={here}
        busy={making}
        onRestoring={() => setRestoring(true)}
      />
      {restoring && <RestoringDialog before={here.restored?.at ?? null} />}
    </div>
  );
}

/** What is to be known of all of them: where they cannot go, that one drive holds both, how a restore went. */
function Notes({ here: { trouble, sameDrive, folder, backups, restored } }: { here: BackupsHere }) {
  const bad = backups.find((backup) => backup.trouble !== null);
  const before = restored?.before && backups.find(({ id }) => id === restored.before);
  return (
    <>
      {restored &&
        (restored.reason === null ? (
          <Note tone="kelp">
            A backup was restored at {dayAndTime(restored.at)}. Scan your folders to see what changed in the files
            since.
            {before && ` What was there before is the backup of ${dayAndTime(before.madeAt)}.`}
          </Note>
        ) : (
          <Note tone="flare" alert>
            The backup was not restored. {restored.reason}
          </Note>
        ))}
      {trouble ? (
        <Note tone="flare" alert>
          {trouble}. No backup is made until it is back, or another folder is chosen.
        </Note>
      ) : (
        sameDrive && (
          <Note tone="sodium">
            Backups are on the same drive as the library: if it breaks, both are gone. Choose a folder on another drive.
          </Note>
        )
      )}
      {bad && (
        <Note tone="flare" alert>
          {`The backup of ${dayAndTime(bad.madeAt)} cannot be restored: ${bad.trouble}. Look at the drive of ${folder}.`}
        </Note>
      )}
    </>
  );
}

const EDGE = { kelp: 'border-kelp', sodium: 'border-sodium', flare: 'border-flare' };

function Note({ tone, alert, children }: { tone: keyof typeof EDGE; alert?: boolean; children: ReactNode }) {
  return (
    <p
      {...(alert ? { role: 'alert' } : {})}
      className={`shrink-0 border-b border-b-hair border-l-[3px] bg-paper px-4 py-2 text-small ${EDGE[tone]}`}
    >
      {children}
    </p>
  );
}

const COLUMNS: GridColumn[] = [
  { id: 'when', label: 'When', width: 118 },
  { id: 'reason', label: 'Why', width: 104 },
  { id: 'holds', label: 'Holds', width: 168, grow: 1 },
  { id: 'size', label: 'Size', width: 72, figures: true },
  { id: 'state', label: 'Verified', width: 112 },
  { id: 'kept', label: 'Kept as', width: 136 },
];

function Cell({ backup, column }: { backup: BackupLine; column: string }) {
  switch (column) {
    case 'when':
      return <span className="figures font-semibold">{dayAndTime(backup.madeAt)}</span>;
    case 'reason':
      return <span className="text-small">{REASONS[backup.reason]}</span>;
    case 'holds':
      return (
        <span className="text-small text-dim">
          {several(backup.tracks, 'track')}, {several(backup.lists, 'list')}, {several(backup.changes, 'change')}
        </span>
      );
    case 'size':
      return bytes(backup.bytes);
    case 'state': {
      const { words, tone } = stateOf(backup);
      return <span className={`text-small ${TONE[tone]}`}>{words}</span>;
    }
    default:
      return <span className="text-small text-dim">{keptInWords(backup)}</span>;
  }
}
