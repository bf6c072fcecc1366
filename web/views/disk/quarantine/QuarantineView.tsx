/** What lies in quarantine: since when, from where; putting it back, and deleting it for good. */
import { useState } from 'react';
import type { Emptied, QuarantinedFile } from '@early-set/core/api/disk';
import type { Applied } from '@early-set/core/api/types';
import { menuItem, tableActions, useCommands, useKeys, type KeyActions } from '../../../commands/commands.ts';
import { change, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useQuarantine } from '../../../data/hooks.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Button } from '../../../ui/Button.tsx';
import { Empty, Trouble } from '../../../ui/Empty.tsx';
import { bytes, day } from '../../../ui/format.ts';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../../ui/grid/useRowChoice.ts';
import { DiskDesk, DiskHead } from '../DiskDesk.tsx';
import { DeleteDialog } from './DeleteDialog.tsx';
import { QuarantinePanel } from './QuarantinePanel.tsx';

const COLUMNS: GridColumn[] = [
  { id: 'from', label: 'Was at', width: 260, grow: 1.6, className: 'font-semibold' },
  { id: 'title', label: 'Track', width: 170, grow: 1 },
  { id: 'root', label: 'Library folder', width: 120, grow: 0.5 },
  { id: 'since', label: 'Since', width: 100 },
  { id: 'size', label: 'Size', width: 80, figures: true },
];

const NONE: QuarantinedFile[] = [];

export function QuarantineView() {
  const { data, error } = useQuarantine();
  const files = data?.files ?? NONE;
  const [widths, keepWidths] = useRemembered<Record<string, number>>('quarantine-widths', {});
  const { chosen, choose, all, none } = useRowChoice(files.map((f) => f.fileId));
  const picked = files.filter((f) => chosen.ids.has(f.fileId));
  const [asked, setAsked] = useState<QuarantinedFile[] | null>(null);
  const [left, setLeft] = useState<Emptied['left']>([]);
  const restore = (some: readonly QuarantinedFile[]): void => {
    const fileIds = some.length === files.length ? null : some.map((f) => f.fileId);
    void change(post<Applied>('/disk/quarantine/restore', { fileIds }), `${several(some.length, 'file')} restored`);
  };
  const what = picked.length > 0 ? picked : files;
  const keys: KeyActions<'quarantine'> = {
    restore: { run: () => restore(picked), disabled: picked.length === 0 },
    remove: { run: () => setAsked(picked), disabled: picked.length === 0 },
  };
  useKeys('quarantine', keys);
  useCommands(
    files.length > 0
      ? [
          { id: 'restore-all', label: 'Restore all files in quarantine', group: 'Disk', run: () => restore(files) },
          {
            id: 'empty-quarantine',
            label: 'Delete all files in quarantine…',
            group: 'Disk',
            run: () => setAsked(files),
          },
        ]
      : [],
  );
  const onKey = gridKeys({
    count: files.length,
    focus: chosen.focus,
    choose,
    all,
    none,
    ...tableActions('quarantine', keys),
  });
  if (error) return <Trouble error={error} />;
  return (
    <DiskDesk panel={<QuarantinePanel />}>
      <div className="flex h-full flex-col bg-sheet">
        <DiskHead
          title="Quarantine"
          testId="quarantine-count"
          count={data && `${several(files.length, 'file')} · ${bytes(data.bytes)}`}
        >
          {files.length > 0 && (
            <>
              <Button onClick={() => setAsked(what)}>
                {picked.length > 0 ? `Delete ${picked.length}…` : 'Delete all…'}
              </Button>
              <Button kind="main" onClick={() => restore(what)}>
                {picked.length > 0 ? `Restore ${picked.length}` : 'Restore all'}
              </Button>
            </>
          )}
        </DiskHead>
        {left.map(({ path, reason }) => (
          <p key={path} role="alert" className="border-b border-line bg-paper px-3.5 py-1.5 text-small text-flare">
            {path}: {reason}
          </p>
        ))}
        {!data ? (
          <div aria-busy="true" className="h-full" />
        ) : files.length === 0 ? (
          <Empty title="Nothing lies in quarantine">
            <p>Files that are put into quarantine lie here until you restore them, or delete them for good.</p>
          </Empty>
        ) : (
          <div className="min-h-0 flex-1">
            <Grid
              id="quarantine"
              label="Files in quarantine"
              columns={COLUMNS.map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
              onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
              count={files.length}
              row={(i) => files[i]}
              idOf={(f) => f.fileId}
              data={(f) => ({ 'data-quarantined': f.from ?? f.path })}
              cell={(file, column) => <Cell file={file} column={column} />}
              chosen={chosen}
              onChoose={choose}
              onOpen={() => restore(picked)}
              onKey={onKey}
              menu={[menuItem('quarantine', 'restore', keys.restore!), menuItem('quarantine', 'remove', keys.remove!)]}
            />
          </div>
        )}
      </div>
      <DeleteDialog files={asked} onClose={() => setAsked(null)} onDone={({ left: now }) => setLeft(now)} />
    </DiskDesk>
  );
}

function Cell({ file, column }: { file: QuarantinedFile; column: string }) {
  switch (column) {
    case 'from':
      return <span title={file.from ?? file.path}>{file.from ?? file.path.split('/').at(-1)}</span>;
    case 'title':
      return <span className="text-dim">{file.reason ?? [file.artist, file.title].filter(Boolean).join(' – ')}</span>;
    case 'root':
      return (
        <span className={file.away ? 'text-flare' : 'text-dim'}>
          {file.root}
          {file.away && ', drive not there'}
        </span>
      );
    case 'since':
      return <span className="figures text-dim">{day(file.since)}</span>;
    default:
      return <span className="figures">{bytes(file.size)}</span>;
  }
}
