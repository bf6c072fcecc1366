/** A copy of the music on another drive: how far it is, what it has that is gone here, and removing that. */
import { useState } from 'react';
import type { Emptied } from '@early-set/core/api/disk';
import type { CopyExtra, MusicCopyHere } from '@early-set/core/api/musicCopy';
import { useCommands } from '../../../commands/commands.ts';
import { perform, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useMusicCopy, useRuns } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { Empty, Trouble } from '../../../ui/Empty.tsx';
import { bytes, dayAndTime } from '../../../ui/format.ts';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../../ui/grid/useRowChoice.ts';
import { LatestRun } from '../../intake/LatestRun.tsx';
import { BackupTabs } from '../BackupTabs.tsx';
import { ExtrasDialog } from './ExtrasDialog.tsx';
import { LastCopy } from './LastCopy.tsx';
import { MusicCopyPanel } from './MusicCopyPanel.tsx';

const COLUMNS: GridColumn[] = [
  { id: 'path', label: 'File on the copy', width: 320, grow: 2, className: 'font-semibold' },
  { id: 'root', label: 'Library folder', width: 130, grow: 0.5 },
  { id: 'state', label: 'State', width: 190 },
  { id: 'since', label: 'Since', width: 120 },
  { id: 'size', label: 'Size', width: 80, figures: true },
];
const STATES = { gone: 'Gone here', aside: 'In quarantine there' };

export function MusicCopyView() {
  const { data: here, error } = useMusicCopy();
  const { data: runs = [] } = useRuns();
  const copying = runs.some((run) => run.kind === 'musicCopy' && run.state === 'running');
  const run = (what: 'copy' | 'check', said: string): void => void perform(post('/music-copy/run', { what }), said);
  const cannot = copying || !here || here.settings.folder === null || here.trouble !== null;
  const copyNow = (): void => run('copy', 'The music is being copied');
  useCommands([{ id: 'copy-music', label: 'Copy the music now', group: 'Backups', run: copyNow, disabled: cannot }]);
  if (error && !here) return <Trouble error={error} />;
  if (!here) return null;
  return (
    <div className="flex h-full narrow:flex-col narrow:overflow-y-auto">
      <MusicCopyPanel here={here} />
      <section
        aria-label="Copy of the music"
        className="flex min-w-0 flex-1 flex-col bg-sheet narrow:min-h-[420px] narrow:shrink-0"
      >
        <header className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-3 border-b border-line bg-paper px-4 narrow:py-2">
          <h1 className="heading text-[19px]">Backups</h1>
          <BackupTabs of="music" />
          <span className="flex-1" />
          <Button
            disabled={cannot || here.roots.every(({ files }) => files === 0)}
            onClick={() => run('check', 'The copy is being read')}
          >
            Check the copy
          </Button>
          <Button kind="main" disabled={cannot} onClick={copyNow}>
            {copying ? 'Being copied…' : 'Copy now'}
          </Button>
        </header>
        <LatestRun kind="musicCopy" />
        <Notes here={here} />
        <LastCopy run={runs.find(({ kind }) => kind === 'musicCopy')} />
        {here.settings.folder === null ? (
          <Empty title="No copy of the music yet">
            <p>
              Choose a folder on another drive. Whatever is new or changed is copied there and compared; what you rename
              is renamed there. Nothing is removed there unless you say so.
            </p>
          </Empty>
        ) : (
          <Extras extras={here.extras} more={here.more} />
        )}
      </section>
    </div>
  );
}

function Notes({ here: { trouble, sameDrive, settings } }: { here: MusicCopyHere }) {
  if (settings.folder === null || (trouble === null && !sameDrive)) return null;
  return (
    <p
      {...(trouble === null ? {} : { role: 'alert' })}
      className={`shrink-0 border-b border-l-[3px] border-b-hair bg-paper px-4 py-2 text-small ${
        trouble === null ? 'border-l-sodium' : 'border-l-flare'
      }`}
    >
      {trouble ?? 'This copy is on the same drive as the music: if it breaks, both are gone. Choose another drive.'}
    </p>
  );
}

function Extras({ extras, more }: { extras: readonly CopyExtra[]; more: boolean }) {
  const { chosen, choose, all, none } = useRowChoice(extras.map(({ id }) => id));
  const [asked, setAsked] = useState<readonly CopyExtra[] | null>(null);
  const [left, setLeft] = useState<Emptied['left']>([]);
  const picked = extras.filter(({ id }) => chosen.ids.has(id));
  const of = (state: CopyExtra['state']): CopyExtra[] =>
    (picked.length > 0 ? picked : extras).filter((one) => one.state === state);
  const [gone, aside] = [of('gone'), of('aside')];
  if (extras.length === 0)
    return (
      <Empty title="The copy has nothing that is gone here">
        <p>Files that you delete or take out of a library folder stay on the copy, and are listed here.</p>
      </Empty>
    );
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex shrink-0 flex-wrap items-center gap-3 border-b border-hair px-4 py-2">
        <p className="min-w-0 flex-1 text-small text-dim">
          {more ? 'The first ' : ''}
          {several(extras.length, 'file')} on the copy that no library folder has
        </p>
        {aside.length > 0 && <Button onClick={() => setAsked(aside)}>Delete {aside.length} for good…</Button>}
        {gone.length > 0 && <Button onClick={() => setAsked(gone)}>Remove {gone.length} from the copy…</Button>}
      </div>
      {left.map(({ path, reason }) => (
        <p key={path} role="alert" className="border-b border-line bg-paper px-4 py-1.5 text-small text-flare">
          {path}: {reason}
        </p>
      ))}
      <div className="min-h-0 flex-1 narrow:min-h-[300px]">
        <Grid
          id="copy-extras"
          label="Files on the copy that no library folder has"
          columns={COLUMNS}
          count={extras.length}
          row={(i) => extras[i]}
          idOf={({ id }) => id}
          data={({ path }) => ({ 'data-extra': path })}
          cell={(extra, column) => <Cell extra={extra} column={column} />}
          chosen={chosen}
          onChoose={choose}
          onKey={gridKeys({ count: extras.length, focus: chosen.focus, choose, all, none })}
        />
      </div>
      <ExtrasDialog files={asked} onClose={() => setAsked(null)} onLeft={setLeft} />
    </div>
  );
}

function Cell({ extra, column }: { extra: CopyExtra; column: string }) {
  switch (column) {
    case 'path':
      return <span title={extra.path}>{extra.path}</span>;
    case 'root':
      return <span className="text-dim">{extra.root}</span>;
    case 'state':
      return <span className={extra.state === 'gone' ? 'text-sodium-text' : 'text-dim'}>{STATES[extra.state]}</span>;
    case 'since':
      return <span className="figures text-dim">{dayAndTime(extra.since)}</span>;
    default:
      return <span className="figures">{bytes(extra.size)}</span>;
  }
}
