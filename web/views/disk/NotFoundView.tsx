/** Tracks whose files are not found, where that matters, and what was found for them. */
import { format, parseISO } from 'date-fns';
import { useState } from 'react';
import { Link } from 'react-router';
import type { NotFoundLine } from '@early-set/core/api/disk';
import { menuItem, tableActions, useCommands, useKeys, type KeyActions } from '../../commands/commands.ts';
import { several } from '../../data/actions.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import type { RowChoice } from '../../ui/grid/useRowChoice.ts';
import { auditionById } from '../../audition/auditionById.ts';
import { DiskHead } from './DiskDesk.tsx';
import { PathMapDialog } from './PathMapDialog.tsx';
import type { Finding } from './useFinding.ts';
import { useOtherFolder } from './useOtherFolder.tsx';

const COLUMNS: GridColumn[] = [
  { id: 'title', label: 'Title', width: 140, grow: 1, className: 'font-semibold' },
  { id: 'artist', label: 'Artist', width: 100, grow: 0.8 },
  { id: 'path', label: 'Was at', width: 160, grow: 1.4 },
  { id: 'used', label: 'In lists', width: 130, grow: 0.8 },
  { id: 'found', label: 'Found at', width: 170, grow: 1.4 },
];

interface Props {
  lines: readonly NotFoundLine[];
  finding: Finding;
  choice: RowChoice;
  mapping: boolean;
  setMapping: (open: boolean) => void;
}

export function NotFoundView({ lines, finding, choice, mapping, setMapping }: Props) {
  const [widths, keepWidths] = useRemembered<Record<string, number>>('not-found-widths', {});
  const { chosen, choose, all, none } = choice;
  const [left, setLeft] = useState<ReadonlyMap<number, ReturnType<Finding['chosen']>>>(new Map());
  const inHand = chosen.focus === null ? undefined : lines[chosen.focus];
  const file = inHand && finding.chosen(inHand.trackId);
  const picked = lines.filter((l) => chosen.ids.has(String(l.trackId)));
  /** Out of the draft and back into it. */
  const leave = (): void => {
    const drafted = picked.filter((l) => finding.chosen(l.trackId));
    if (drafted.length > 0) {
      setLeft(new Map([...left, ...drafted.map((l) => [l.trackId, finding.chosen(l.trackId)] as const)]));
      finding.chooseAll(drafted.map((l) => [l.trackId, null]));
    } else finding.chooseAll(picked.flatMap((l) => (left.get(l.trackId) ? [[l.trackId, left.get(l.trackId)!]] : [])));
  };
  const other = useOtherFolder(finding.find);
  const keys: KeyActions<'disk'> = {
    audition: { run: () => file && auditionById(file.trackId), disabled: !file },
    leave: { run: leave, disabled: picked.length === 0 || finding.lines === null },
  };
  useKeys('disk', keys);
  useCommands(
    lines.length > 0
      ? [
          { id: 'find-again', label: 'Find again', group: 'Disk', run: finding.find },
          { id: 'path-map', label: 'Path map…', group: 'Disk', run: () => setMapping(true) },
          { id: 'look-in-folder', label: 'Look in a folder…', group: 'Disk', run: other.choose },
        ]
      : [],
  );
  const onKey = gridKeys({
    count: lines.length,
    focus: chosen.focus,
    choose,
    all,
    none,
    ...tableActions('disk', keys),
  });
  const inLists = lines.filter((l) => l.lists.length > 0).length;
  return (
    <div className="flex h-full flex-col bg-sheet">
      <DiskHead
        title="Missing files"
        testId="not-found-count"
        count={
          <>
            {several(lines.length, 'file')}
            {inLists > 0 && ` · ${inLists.toLocaleString('en-GB')} in lists`}
            {finding.lines && ` · ${finding.count.toLocaleString('en-GB')} found`}
          </>
        }
      >
        <Button disabled={lines.length === 0} onClick={() => setMapping(true)}>
          Path map…
        </Button>
        <Button disabled={lines.length === 0 || other.busy} onClick={other.choose}>
          Look in a folder…
        </Button>
        {finding.busy || other.busy ? (
          <>
            <span className="text-dim">{other.busy ? 'Reading the folder…' : 'Looking…'}</span>
            <Button onClick={other.busy ? other.forget : finding.cancel}>Cancel</Button>
          </>
        ) : (
          <Button kind="main" disabled={lines.length === 0} onClick={finding.find}>
            Find again
          </Button>
        )}
      </DiskHead>
      {lines.length === 0 ? (
        <Empty title="Every file is where it should be">
          <p>
            Files that are moved, renamed or taken away outside of Early Set are listed here after the next scan, or as
            soon as they are played or given away. Scans are begun at{' '}
            <Link to="/intake" className="font-semibold text-buoy-text hover:underline">
              Intake
            </Link>
            .
          </p>
        </Empty>
      ) : (
        <div className="min-h-0 flex-1">
          <Grid
            id="not-found"
            label="Missing files"
            columns={COLUMNS.map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
            onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
            count={lines.length}
            row={(i) => lines[i]}
            idOf={(l) => String(l.trackId)}
            data={(l) => ({ 'data-lost': l.trackId })}
            cell={(line, column) => <Cell line={line} column={column} finding={finding} />}
            chosen={chosen}
            onChoose={choose}
            onOpen={() => file && auditionById(file.trackId)}
            onKey={onKey}
            menu={[menuItem('disk', 'audition', keys.audition!), menuItem('disk', 'leave', keys.leave!)]}
          />
        </div>
      )}
      {other.dialog}
      <PathMapDialog
        key={inHand?.trackId ?? 0}
        open={mapping}
        lines={lines}
        example={inHand ?? lines[0]}
        onClose={() => setMapping(false)}
        onFound={finding.take}
      />
    </div>
  );
}

function Cell({ line, column, finding }: { line: NotFoundLine; column: string; finding: Finding }) {
  switch (column) {
    case 'title':
      return line.title || <span className="text-dim">no title</span>;
    case 'artist':
      return line.artist;
    case 'path':
      return (
        <span className="text-dim" title={`${line.root}: ${line.path}`}>
          {line.path}
        </span>
      );
    case 'used':
      return (
        <span title={line.lists.join(', ')} className={line.date ? 'text-flare' : 'text-dim'}>
          {line.date ? `${line.date.name}, ${format(parseISO(line.date.day), 'd MMM')}` : line.lists.join(', ')}
        </span>
      );
    default: {
      const file = finding.chosen(line.trackId);
      const asked = finding.lines?.get(line.trackId);
      if (file)
        return (
          <span className="text-kelp" title={`${file.root}: ${file.path}`}>
            {file.path}
          </span>
        );
      if (!asked) return '';
      return (
        <span className="text-dim">
          {asked.found
            ? 'left as missing'
            : asked.candidates.length > 0
              ? several(asked.candidates.length, 'candidate')
              : asked.others.length > 0
                ? 'only another recording'
                : 'nothing'}
        </span>
      );
    }
  }
}
