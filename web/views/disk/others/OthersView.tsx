/** What lies in the library folders and is no music: what it is, how large; into quarantine, empty folders removed. */
import { useState } from 'react';
import type { OtherFile } from '@early-set/core/api/disk';
import type { Applied } from '@early-set/core/api/types';
import { menuItem, tableActions, useCommands, useKeys, type KeyActions } from '../../../commands/commands.ts';
import { change, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useOthers } from '../../../data/hooks.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Button } from '../../../ui/Button.tsx';
import { Empty, Trouble } from '../../../ui/Empty.tsx';
import { bytes, day } from '../../../ui/format.ts';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../../ui/grid/useRowChoice.ts';
import { DiskDesk, DiskHead } from '../DiskDesk.tsx';
import { OthersPanel } from './OthersPanel.tsx';
import { sorted, type OthersSort } from './sorted.ts';

const COLUMNS: GridColumn[] = [
  { id: 'path', label: 'File or folder', width: 280, grow: 1.6, className: 'font-semibold', sortable: true },
  { id: 'reason', label: 'What it is', width: 170, grow: 0.8, sortable: true },
  { id: 'root', label: 'Library folder', width: 110, grow: 0.4, sortable: true },
  { id: 'modifiedMs', label: 'Changed', width: 112, sortable: true, descendsFirst: true },
  { id: 'size', label: 'Size', width: 80, figures: true, sortable: true, descendsFirst: true },
];
const NONE: OtherFile[] = [];
const idOf = ({ rootId, path, what }: OtherFile): string => `${what} ${rootId} ${path}`;

/** "3 files and 2 empty folders" */
function inWords(lines: readonly OtherFile[]): string {
  const files = lines.filter((l) => l.what === 'file').length;
  const folders = lines.length - files;
  return [files > 0 && several(files, 'file'), folders > 0 && several(folders, 'empty folder')]
    .filter(Boolean)
    .join(' and ');
}

/** What is done with them, on the button. */
function deedOf(lines: readonly OtherFile[]): string {
  if (lines.every((l) => l.what === 'folder')) return `Remove ${several(lines.length, 'folder')}`;
  return `Put ${inWords(lines)} into quarantine`.replace(/ and (.*) into quarantine$/, ' into quarantine, remove $1');
}

export function OthersView() {
  const { data, error } = useOthers();
  const all = data?.lines ?? NONE;
  const [only, setOnly] = useState<string | null>(null);
  const [sort, setSort] = useState<OthersSort>({ id: 'path', descending: false });
  const [widths, keepWidths] = useRemembered<Record<string, number>>('others-widths', {});
  const lines = sorted(only === null ? all : all.filter((l) => l.reason === only), sort);
  const { chosen, choose, all: everything, none } = useRowChoice(lines.map(idOf));
  const picked = lines.filter((l) => chosen.ids.has(idOf(l)));
  const aside = (some: readonly OtherFile[]): void => {
    const refs = some.map(({ rootId, path }) => ({ rootId, path }));
    void change(post<Applied>('/disk/others/put-aside', { refs }));
  };
  const keys: KeyActions<'others'> = {
    aside: { run: () => aside(picked), disabled: picked.length === 0 },
  };
  useKeys('others', keys);
  useCommands(
    lines.length > 0
      ? [{ id: 'aside-all', label: `${deedOf(lines)}: all that is shown`, group: 'Disk', run: () => aside(lines) }]
      : [],
  );
  const onKey = gridKeys({
    count: lines.length,
    focus: chosen.focus,
    choose,
    all: everything,
    none,
    ...tableActions('others', keys),
  });
  if (error) return <Trouble error={error} />;
  return (
    <DiskDesk panel={<OthersPanel lines={all} only={only} onOnly={setOnly} />}>
      <div className="flex h-full flex-col bg-sheet">
        <DiskHead
          title="Not music"
          testId="others-count"
          count={
            data &&
            `${inWords(lines) || 'nothing'} · ${bytes(lines.reduce((n, l) => n + l.size, 0))}${data.more ? ', and more' : ''}`
          }
        >
          {picked.length > 0 && (
            <Button kind="main" onClick={() => aside(picked)}>
              {deedOf(picked)}
            </Button>
          )}
        </DiskHead>
        {!data ? (
          <div aria-busy="true" className="h-full" />
        ) : lines.length === 0 ? (
          <Empty title="Nothing but music">
            <p>Unfinished downloads, texts, pictures and empty folders of the library folders are listed here.</p>
          </Empty>
        ) : (
          <div className="min-h-0 flex-1">
            <Grid
              id="others"
              label="What is not music"
              columns={COLUMNS.map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
              onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
              sort={sort}
              onSort={setSort}
              count={lines.length}
              row={(i) => lines[i]}
              idOf={idOf}
              data={(l) => ({ 'data-other': l.path })}
              cell={(line, column) => <Cell line={line} column={column} />}
              chosen={chosen}
              onChoose={choose}
              onKey={onKey}
              menu={[menuItem('others', 'aside', keys.aside!)]}
            />
          </div>
        )}
      </div>
    </DiskDesk>
  );
}

function Cell({ line, column }: { line: OtherFile; column: string }) {
  switch (column) {
    case 'path':
      return <span title={line.path}>{line.path}</span>;
    case 'reason':
      return <span className="text-dim">{line.reason}</span>;
    case 'root':
      return (
        <span className={line.away ? 'text-flare' : 'text-dim'}>
          {line.root}
          {line.away && ', drive not there'}
        </span>
      );
    case 'modifiedMs':
      return (
        <span className="figures text-dim">{line.what === 'file' && day(new Date(line.modifiedMs).toISOString())}</span>
      );
    default:
      return <span className="figures">{line.what === 'file' && bytes(line.size)}</span>;
  }
}
