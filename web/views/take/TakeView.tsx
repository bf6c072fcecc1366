/** Another collection looked through before anything of it is taken: its lists, its tracks, and a basket. */
import { ArrowLeft, Play, Square } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { TakeQuestion, TakeRow, TakeState } from '@early-set/core/api/take';
import { isEmpty } from '@early-set/core/fields/values';
import { StageLayout } from '../../app/StageLayout.tsx';
import { toggleOutside, usePlayer } from '../../audition/player.ts';
import { menuItem, tableActions, type KeyActions } from '../../commands/commands.ts';
import { several } from '../../data/actions.ts';
import { useRemembered } from '../../data/remembered.ts';
import { pictureOf, soundOf, useTakeLook } from '../../data/take.ts';
import { Chip } from '../../ui/Chip.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { textOf } from '../../ui/format.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../ui/grid/useRowChoice.ts';
import { useBasket } from './basket.ts';
import { SourceLists } from './SourceLists.tsx';
import { TakeForm } from './TakeForm.tsx';
import { cuesIn, nameOfRow, STATE_WORDS } from './words.ts';

const COLUMNS: GridColumn[] = [
  { id: 'title', label: 'Title', width: 150, grow: 1, className: 'font-semibold', sortable: true },
  { id: 'artist', label: 'Artist', width: 110, grow: 0.8, sortable: true },
  { id: 'genre', label: 'Genre', width: 84, grow: 0.5, sortable: true },
  { id: 'bpm', label: 'BPM', width: 70, figures: true, sortable: true },
  { id: 'key', label: 'Key', width: 58, sortable: true },
  { id: 'durationSeconds', label: 'Length', width: 66, figures: true, sortable: true },
  { id: 'rating', label: 'Stars', width: 56, figures: true, sortable: true, descendsFirst: true },
  { id: 'cues', label: 'Cues', width: 52, figures: true },
  { id: 'comment', label: 'Comment', width: 90, grow: 0.7, sortable: true },
  { id: 'addedAt', label: 'Added', width: 104, sortable: true, descendsFirst: true },
  { id: 'state', label: 'Here', width: 108, grow: 0.5 },
];
/** Columns that something stands in; what all rows are is said by the chip. */
const columnsFor = (rows: readonly TakeRow[], state: TakeState | null): GridColumn[] =>
  COLUMNS.filter(({ id }) =>
    id === 'state' ? state !== 'new' : id === 'title' || rows.some((r) => !isEmpty(r.values[id])),
  );
const STATES: readonly TakeState[] = ['new', 'here', 'not found'];
const NO_ROWS: TakeRow[] = [];

export function TakeView() {
  const [params] = useSearchParams();
  const source = params.get('source') ?? '';
  const navigate = useNavigate();
  const [list, setList] = useState<string | null>(null);
  const [state, setState] = useState<TakeState | null>('new');
  const [find, setFind] = useState('');
  const [sort, setSort] = useState<TakeQuestion['sort']>(null);
  const [widths, keepWidths] = useRemembered<Record<string, number>>('take-widths', {});
  const basket = useBasket(source);
  const wanted = { tracks: basket.tracks.map((t) => t.id), lists: basket.lists.map((l) => l.id) };
  const answer = useTakeLook(source === '' ? null : { source, list, find, state, sort, basket: wanted });
  const look = answer.data?.source === source ? answer.data : undefined;
  const player = usePlayer();
  const rows = look?.rows ?? NO_ROWS;
  const choice = useRowChoice(rows.map((r) => r.id));
  const { chosen, choose, all, none, picked } = choice;
  const inHand = chosen.focus === null ? undefined : rows[chosen.focus];
  const inBasket = new Set(basket.tracks.map((t) => t.id));
  const meant = picked.length > 0 ? rows.filter((r) => chosen.ids.has(r.id)) : inHand ? [inHand] : [];
  const hear = (row: TakeRow | undefined): void => {
    if (!row || row.state === 'not found') return;
    const { durationSeconds } = row.values;
    toggleOutside({
      src: srcOf(source, row),
      title: nameOfRow(row),
      artist: textOf('artist', row.values.artist),
      durationSeconds: typeof durationSeconds === 'number' ? durationSeconds : null,
    });
  };
  const toBasket = (): void => {
    if (meant.length > 0 && meant.every((r) => inBasket.has(r.id)))
      basket.remove(
        'tracks',
        meant.map((r) => r.id),
      );
    else basket.add(meant);
  };
  const keys: KeyActions<'take'> = {
    audition: { run: () => hear(inHand), disabled: !inHand || inHand.state === 'not found' },
    basket: { run: toBasket, disabled: meant.length === 0 },
  };
  const onKey = gridKeys({
    count: rows.length,
    focus: chosen.focus,
    choose,
    all,
    none,
    ...tableActions('take', keys),
  });
  const open = (next: string | null): void => {
    none();
    setList(next);
  };
  const counted = look?.counts;
  return (
    <StageLayout
      stage="take"
      middleMin={460}
      left={{
        what: 'list on the left',
        width: 214,
        min: 160,
        max: 340,
        content: (
          <SourceLists
            look={look}
            current={list}
            onOpen={open}
            onAdd={basket.addList}
            taken={new Set(basket.lists.map((l) => l.id))}
          />
        ),
      }}
      right={{
        what: 'basket',
        width: 280,
        min: 240,
        max: 420,
        content: (
          <TakeForm
            look={look}
            basket={basket}
            onBegun={() => {
              basket.clear();
              void navigate('/intake');
            }}
          />
        ),
      }}
    >
      <div className="flex h-full flex-col bg-sheet">
        <div className="flex min-h-[50px] shrink-0 items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
          <Link to="/intake" aria-label="Back to Intake" className="text-dim hover:text-ink">
            <ArrowLeft size={16} />
          </Link>
          <h1 className="heading truncate text-[19px]">{look?.name ?? 'Another collection'}</h1>
          <span className="truncate text-small text-dim" data-testid="take-count">
            {look ? `${look.what} · ${several(rows.length + look.more, 'track')}` : 'reading…'}
            {picked.length > 0 && ` · ${picked.length.toLocaleString('en-GB')} chosen`}
          </span>
          <span className="flex-1" />
          <button
            type="button"
            onClick={toBasket}
            disabled={meant.length === 0}
            className="h-[28px] shrink-0 rounded-xs border border-line bg-sheet px-3 font-medium hover:border-tide-deep disabled:opacity-40"
          >
            {meant.length > 0 && meant.every((r) => inBasket.has(r.id)) ? 'Out of the basket' : 'Into the basket'}{' '}
            <kbd className="text-dim">B</kbd>
          </button>
        </div>
        <div className="flex shrink-0 flex-wrap items-center gap-2 border-b border-line bg-paper px-3.5 py-2">
          <Chip on={state === null} onToggle={() => setState(null)}>
            All
          </Chip>
          {STATES.filter((s) => counted && (counted[s] > 0 || s === state)).map((s) => (
            <Chip key={s} on={state === s} onToggle={() => setState(state === s ? null : s)}>
              {STATE_WORDS[s]} <span className="figures">{counted![s].toLocaleString('en-GB')}</span>
            </Chip>
          ))}
          <span className="flex-1" />
          <input
            type="search"
            aria-label="Find in this collection"
            placeholder="Find"
            value={find}
            onChange={(e) => setFind(e.target.value)}
            className="h-[26px] w-[150px] rounded-xs border border-line bg-sheet px-2"
          />
        </div>
        {look && (look.more > 0 || look.problems.length > 0) && (
          <p className="border-b border-line bg-paper px-3.5 py-1.5 text-small text-sodium-text">
            {look.more > 0 && `The first ${rows.length.toLocaleString('en-GB')} are shown; Find narrows them. `}
            {look.problems.length > 0 &&
              `${several(look.problems.length, 'entry', 'entries')} of it cannot be read: ${look.problems
                .slice(0, 3)
                .map((p) => `${p.where}: ${p.reason}`)
                .join('; ')}`}
          </p>
        )}
        {answer.error && !look ? (
          <Empty title="This collection cannot be read">
            <p role="alert">{answer.error.message}</p>
          </Empty>
        ) : !look ? (
          <p aria-busy="true" className="p-4 text-dim">
            Reading the collection…
          </p>
        ) : rows.length === 0 ? (
          <Empty title={state === 'new' && find === '' ? 'Nothing new here' : 'Nothing of it here'}>
            <p>
              {state === 'new' && find === ''
                ? 'Every track of it is in the library already, or its file is not found.'
                : 'Another list, another chip, or other words show the rest.'}
            </p>
          </Empty>
        ) : (
          <div className="min-h-0 flex-1">
            <Grid
              id="take"
              label={`Tracks of ${look.name}`}
              columns={columnsFor(rows, state).map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
              onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
              sort={{ id: sort?.field ?? null, descending: sort?.descending ?? false }}
              onSort={(s) => setSort(s.id === null ? null : { field: s.id, descending: s.descending })}
              count={rows.length}
              row={(i) => rows[i]}
              idOf={(r) => r.id}
              data={(r) => ({ 'data-track': nameOfRow(r) })}
              tone={(r) => (inBasket.has(r.id) ? 'bg-chosen/60' : r.state === 'here' ? 'text-dim' : '')}
              lead={(r) => (
                <Hear
                  row={r}
                  playing={player.playing && player.track?.src === srcOf(source, r)}
                  onHear={() => hear(r)}
                />
              )}
              cell={(r, column) => <Cell row={r} column={column} source={source} pictures={look.onThisMachine} />}
              chosen={chosen}
              onChoose={choose}
              onOpen={(i) => basket.add([rows[i]!])}
              onKey={onKey}
              menu={[menuItem('take', 'audition', keys.audition!), menuItem('take', 'basket', keys.basket!)]}
            />
          </div>
        )}
      </div>
    </StageLayout>
  );
}

const srcOf = (source: string, row: TakeRow): string =>
  row.here ? `/api/tracks/${row.here.trackId}/audio` : soundOf(source, row.id);

const Hear = ({ row, playing, onHear }: { row: TakeRow; playing: boolean; onHear: () => void }) =>
  row.state === 'not found' ? null : (
    <button
      type="button"
      tabIndex={-1}
      aria-label={playing ? `Stop ${nameOfRow(row)}` : `Audition ${nameOfRow(row)}`}
      onClick={(e) => {
        e.stopPropagation();
        onHear();
      }}
      className="flex h-[20px] w-[20px] items-center justify-center rounded-full text-dim hover:bg-inverse hover:text-inverse-ink"
    >
      {playing ? <Square size={10} fill="currentColor" /> : <Play size={11} fill="currentColor" />}
    </button>
  );

interface CellProps {
  row: TakeRow;
  column: string;
  source: string;
  pictures: boolean;
}

function Cell({ row, column, source, pictures }: CellProps) {
  const { values, state, here } = row;
  switch (column) {
    case 'title':
      return (
        <span className="flex items-center gap-2" title={row.path ?? nameOfRow(row)}>
          {pictures && state === 'new' && <Picture src={pictureOf(source, row.id)} />}
          <span className="truncate">{nameOfRow(row)}</span>
        </span>
      );
    case 'cues':
      return cuesIn(row);
    case 'state':
      if (here)
        return <span title={here.name}>{here.name === nameOfRow(row) ? 'in the library' : `as ${here.name}`}</span>;
      return state === 'new' ? (
        <span className="text-kelp">new</span>
      ) : (
        <span className="text-sodium-text" title={row.path ?? ''}>
          file not found
        </span>
      );
    default:
      return textOf(column, values[column]);
  }
}

/** A cover, where the file has one. */
function Picture({ src }: { src: string }) {
  const [none, setNone] = useState(false);
  return none ? (
    <span className="h-[22px] w-[22px] shrink-0 bg-hair" />
  ) : (
    <img
      src={src}
      alt=""
      loading="lazy"
      onError={() => setNone(true)}
      className="h-[22px] w-[22px] shrink-0 object-cover"
    />
  );
}
