/**
 * All crates and playlists on one page: how long, changed when, for which date, how ready; joined, compared, removed.
 */
import { ArrowLeft } from 'lucide-react';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Applied } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import { useCommands, useFindKey } from '../../commands/commands.ts';
import { change, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useListOverview, useLists } from '../../data/hooks.ts';
import { useRemembered } from '../../data/remembered.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { day, dayAndTime } from '../../ui/format.ts';
import { chooseOne, chooseRange, isChosen, NOTHING, toggleOne, type Chosen, type How } from '../../ui/grid/choice.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn, SortState } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import type { MenuItem } from '../../ui/Menu.tsx';
import { allListsLines, readyShare, type AllListsLine } from './allLists.ts';
import { CompareDialog } from './CompareDialog.tsx';
import { ExportSeveralDialog } from './ExportSeveralDialog.tsx';
import { JoinDialog } from './JoinDialog.tsx';

const COLUMNS: GridColumn[] = [
  { id: 'name', label: 'Name', width: 200, grow: 3, sortable: true },
  { id: 'kind', label: 'Kind', width: 122, sortable: true },
  { id: 'tracks', label: 'Tracks', width: 70, figures: true, sortable: true, descendsFirst: true },
  { id: 'length', label: 'Length', width: 84, figures: true, sortable: true, descendsFirst: true },
  { id: 'floor', label: 'Ready: floor', width: 100, figures: true, sortable: true },
  { id: 'playout', label: 'Ready: playout', width: 112, figures: true, sortable: true },
  { id: 'missing', label: 'Missing', width: 76, figures: true, sortable: true, descendsFirst: true },
  { id: 'dates', label: 'For the date', width: 140, grow: 2, sortable: true, descendsFirst: true },
  { id: 'changed', label: 'Changed', width: 108, sortable: true, descendsFirst: true },
  { id: 'given', label: 'Given', width: 108, sortable: true, descendsFirst: true },
];

export function AllListsView() {
  const navigate = useNavigate();
  const { data: lists } = useLists();
  const { data: overview = [] } = useListOverview();
  const [find, setFind] = useState('');
  const findBox = useRef<HTMLInputElement>(null);
  useFindKey(findBox, 'Find a crate or playlist');
  const [sort, setSort] = useRemembered<SortState>('all-lists-sort', { id: 'changed', descending: true });
  const [chosen, setChosen] = useState<Chosen<string>>(NOTHING);
  const [exporting, setExporting] = useState<AllListsLine[] | null>(null);
  const [joining, setJoining] = useState<AllListsLine[] | null>(null);
  const [comparing, setComparing] = useState<[AllListsLine, AllListsLine] | null>(null);
  const lines = allListsLines(lists ?? [], overview, find, sort);
  const picked = lines.filter((l) => isChosen(chosen, l.id));
  const focus = chosen.focus !== null && chosen.focus < lines.length ? chosen.focus : null;
  const choose = (index: number, how: How): void => {
    const line = lines[index];
    if (!line) return;
    if (how === 'toggle') setChosen(toggleOne(chosen, line.id, index));
    else if (how === 'range' && chosen.anchor !== null) {
      const [from, to] = [Math.min(chosen.anchor, index), Math.max(chosen.anchor, index)];
      setChosen(
        chooseRange(
          chosen,
          lines.slice(from, to + 1).map((l) => l.id),
          chosen.anchor,
          index,
        ),
      );
    } else setChosen(chooseOne(line.id, index));
  };
  const open = (index = focus): void => {
    const line = index === null ? undefined : lines[index];
    if (line) void navigate(`/arrange/${line.id}`);
  };
  const remove = async (): Promise<void> => {
    if (picked.length === 0) return;
    await change(post<Applied>('/lists/remove', { listIds: picked.map((l) => l.id) }));
    setChosen(NOTHING);
  };
  const join = (): void => setJoining(picked);
  const compare = (): void => {
    const [a, b] = picked;
    if (a && b) setComparing([a, b]);
  };
  const items: MenuItem[] = [
    { label: 'Open', run: () => open(), disabled: focus === null },
    { label: 'Join…', run: join, disabled: picked.length < 2, apart: true },
    { label: 'Compare…', run: compare, disabled: picked.length !== 2 },
    { label: 'Export…', run: () => setExporting(picked), disabled: picked.length === 0 },
    {
      label: `Remove ${picked.length > 1 ? several(picked.length, 'list') : 'the list'}`,
      run: () => void remove(),
      disabled: picked.length === 0,
      danger: true,
      apart: true,
    },
  ];
  useCommands(
    items
      .filter((i) => i.label !== 'Open')
      .map((i) => ({
        id: `lists-${i.label}`,
        label: i.label.endsWith('…') ? `${i.label.slice(0, -1)} the chosen lists` : i.label,
        group: 'Arrange',
        run: i.run,
        disabled: i.disabled ?? false,
      })),
  );
  return (
    <div className="flex h-full flex-col bg-sheet">
      <header className="flex min-h-[50px] shrink-0 items-center gap-2 border-b border-line bg-paper px-3.5 py-2">
        <Button kind="quiet" aria-label="Back to Arrange" onClick={() => void navigate('/arrange')}>
          <ArrowLeft size={15} />
        </Button>
        <h1 className="heading text-[19px]">All lists</h1>
        <input
          ref={findBox}
          type="search"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          placeholder="Find a crate or playlist"
          aria-label="Find a crate or playlist"
          className="ml-2 h-[30px] w-[230px] rounded-xs border border-line bg-sheet px-2 placeholder:text-dim"
        />
        <span className="text-small text-dim" aria-live="polite">
          {picked.length > 1 ? `${picked.length} chosen` : several(lines.length, 'list')}
        </span>
        <span className="flex-1" />
        <Button onClick={compare} disabled={picked.length !== 2} title="Choose two lists">
          Compare…
        </Button>
        <Button onClick={() => setExporting(picked)} disabled={picked.length === 0}>
          Export…
        </Button>
        <Button onClick={join} disabled={picked.length < 2} title="Makes a new list of the chosen ones">
          Join…
        </Button>
        <Button kind="main" onClick={() => open()} disabled={focus === null}>
          Open
        </Button>
      </header>
      <div className="min-h-0 flex-1">
        {lists && lines.length === 0 ? (
          <Empty title={find ? 'No list with that name' : 'No crates or playlists yet'}>
            <p>{find ? 'Try other words.' : 'Make one on Arrange, or choose tracks in the sheet and press A.'}</p>
          </Empty>
        ) : (
          <Grid
            id="all-lists"
            label="All lists"
            columns={COLUMNS}
            sort={sort}
            onSort={setSort}
            count={lines.length}
            row={(i) => lines[i]}
            idOf={(l) => l.id}
            data={(l) => ({ 'data-list': l.id })}
            cell={(line, column) => <ListCell line={line} column={column} />}
            chosen={{ ...chosen, focus }}
            onChoose={choose}
            onOpen={open}
            onKey={gridKeys({
              count: lines.length,
              focus,
              choose,
              all: () => setChosen({ ...chosen, all: false, ids: new Set(lines.map((l) => l.id)) }),
              none: () => setChosen(NOTHING),
              actions: { Enter: () => open(), Delete: () => void remove() },
            })}
            menu={items}
          />
        )}
      </div>
      <JoinDialog lists={joining} onClose={() => setJoining(null)} />
      <CompareDialog lists={comparing} onClose={() => setComparing(null)} />
      <ExportSeveralDialog lists={exporting} onClose={() => setExporting(null)} />
    </div>
  );
}

function ListCell({ line, column }: { line: AllListsLine; column: string }) {
  const { more } = line;
  switch (column) {
    case 'name':
      return (
        <span className="truncate" title={[line.path, line.name].filter(Boolean).join(' / ')}>
          {line.path && <span className="text-dim">{line.path} / </span>}
          <span className="font-semibold">{line.name}</span>
        </span>
      );
    case 'kind':
      return <span className="text-dim">{line.what}</span>;
    case 'tracks':
      return line.tracks.toLocaleString('en-GB');
    case 'length':
      return line.tracks > 0 ? clockLength(line.durationSeconds) : '';
    case 'floor':
    case 'playout': {
      const share = readyShare(more, more[column]);
      return share === null ? '' : <span className={share === 1 ? 'text-kelp' : ''}>{Math.floor(share * 100)} %</span>;
    }
    case 'missing':
      return more.missing > 0 ? <span className="text-flare">{more.missing}</span> : '';
    case 'dates': {
      const words = more.dates.map((d) => `${d.name}, ${day(d.day)}`).join('; ');
      return (
        <span className="truncate" title={words}>
          {words}
        </span>
      );
    }
    case 'changed':
      return <span className="text-dim">{dayAndTime(line.updatedAt)}</span>;
    case 'given':
      return more.given && <span title={more.given.to}>{dayAndTime(more.given.at)}</span>;
  }
  return null;
}
