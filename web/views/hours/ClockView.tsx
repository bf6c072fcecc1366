/**
 * A format clock: its items in order, each with its place and length; beside it the item in hand, rules, and when it is
 * used.
 */
import { Plus } from 'lucide-react';
import { useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import type { ListContents, ListLine } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import type { ClockItem } from '@early-set/core/hours/clock';
import { menuItem, tableActions, useCommands, useKeys, type KeyActions } from '../../commands/commands.ts';
import { change, several } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import type { Applied } from '@early-set/core/api/types';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { chooseOne, NOTHING, type Chosen } from '../../ui/grid/choice.ts';
import { Grid } from '../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { Menu } from '../../ui/Menu.tsx';
import { ClockItemPanel } from './ClockItemPanel.tsx';
import { ClockRules } from './ClockRules.tsx';
import { ClockSettings } from './ClockSettings.tsx';
import { ClockTimes } from './ClockTimes.tsx';
import { fromWords } from './fromWords.ts';
import { MakeHoursDialog } from './MakeHoursDialog.tsx';
import { useClock } from './useClock.ts';

const COLUMNS: GridColumn[] = [
  { id: 'place', label: 'Place', width: 130, figures: true },
  { id: 'name', label: 'Name', width: 150, grow: 1, className: 'font-semibold' },
  { id: 'kind', label: 'Kind', width: 76 },
  { id: 'length', label: 'Length', width: 66, figures: true },
  { id: 'more', label: 'Which tracks, over what', width: 180, grow: 1.2 },
];
const NEW_ITEMS: readonly ClockItem[] = [
  { item: 'track', name: 'Track' },
  { item: 'filler', name: 'Music', most: 8 },
  { item: 'link', name: 'Link', seconds: 30, overIntro: 10 },
  { item: 'spoken', name: 'Spoken', seconds: 60 },
  { item: 'jingle', name: 'Jingle', seconds: 8 },
];
const ADD_WORDS: Record<ClockItem['item'], string> = {
  track: 'Track',
  filler: 'Tracks as there is time for',
  link: 'Link',
  spoken: 'Spoken item',
  jingle: 'Jingle',
};

interface Props {
  list: ListContents;
  lists: readonly ListLine[];
  side: HTMLElement | null;
}

export function ClockView({ list, lists, side }: Props) {
  const inHandOf = useClock(list);
  const { clock, save } = inHandOf;
  const { items } = clock;
  const [at, setAt] = useState<number | null>(null);
  const [making, setMaking] = useState(false);
  const focus = at === null || at >= items.length ? null : at;
  const chosen: Chosen<number> = focus === null ? NOTHING : chooseOne(focus, focus);
  useEffect(() => {
    if (document.activeElement === document.body) document.getElementById('clock-items')?.focus();
  }, []);
  const move = (by: -1 | 1): void => {
    if (focus === null || !items[focus + by]) return;
    const next = [...items];
    [next[focus], next[focus + by]] = [next[focus + by]!, next[focus]!];
    save({ items: next });
    setAt(focus + by);
  };
  const remove = (): void => {
    if (focus !== null) save({ items: items.filter((_, i) => i !== focus) });
  };
  const add = (item: ClockItem): void => {
    const place = focus === null ? items.length : focus + 1;
    save({ items: [...items.slice(0, place), item, ...items.slice(place)] });
    setAt(place);
  };
  const none = focus === null;
  const keys: KeyActions<'arrange'> = {
    up: { run: () => move(-1), disabled: none },
    down: { run: () => move(1), disabled: none },
    remove: { run: remove, disabled: none || items.length === 1, label: 'Remove from the format clock' },
  };
  useKeys('arrange', keys);
  const onKey = gridKeys({ count: items.length, focus, choose: setAt, ...tableActions('arrange', keys) });
  const adding = NEW_ITEMS.map((item) => ({ label: ADD_WORDS[item.item], run: () => add(item) }));
  useCommands(adding.map(({ label, run }) => ({ id: `add-${label}`, label: `Add: ${label}`, group: 'Arrange', run })));
  const nameOf = (id: string): string | undefined => lists.find((l) => l.id === id)?.name;
  return (
    <div className="flex h-full flex-col bg-sheet">
      <div className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-paper px-3.5 py-2">
        <h1 className="heading max-w-full min-w-0 truncate text-[19px]" title={list.info.name}>
          {list.info.name}
        </h1>
        <span className="figures shrink-0 text-small text-dim">
          {several(items.length, 'item')} · {clockLength(clock.seconds)}
        </span>
        <span className="flex-1" />
        {list.info.removed && (
          <Button onClick={() => void change(patch<Applied>(`/lists/${list.id}`, { removed: false }))}>Restore</Button>
        )}
        <Menu items={adding}>
          <Button>
            <Plus size={14} aria-hidden /> Add
          </Button>
        </Menu>
        <Button kind="main" onClick={() => setMaking(true)}>
          Make hours…
        </Button>
      </div>
      {items.length === 0 ? (
        <Empty title="This format clock is empty">
          <p>Add what an hour is made of: spoken items, links, jingles and places for tracks.</p>
        </Empty>
      ) : (
        <div className="min-h-0 flex-1">
          <Grid
            id="clock-items"
            label={`Items of ${list.info.name}`}
            columns={COLUMNS}
            count={items.length}
            row={(i) => ({ item: items[i]!, i })}
            idOf={(r) => r.i}
            data={(r) => ({ 'data-clock-item': r.i })}
            cell={(r, column) => <Cell item={r.item} column={column} nameOf={nameOf} />}
            chosen={chosen}
            multiple={false}
            onChoose={setAt}
            onKey={onKey}
            menu={[
              menuItem('arrange', 'up', keys.up!),
              menuItem('arrange', 'down', keys.down!),
              { ...menuItem('arrange', 'remove', keys.remove!), danger: true, apart: true },
            ]}
          />
        </div>
      )}
      {side &&
        createPortal(
          <aside
            aria-label="About this format clock"
            className="flex h-full flex-col gap-4 overflow-y-auto bg-paper p-3.5"
          >
            {focus !== null && (
              <ClockItemPanel
                key={`${focus} ${items[focus]!.item}`}
                item={items[focus]!}
                lists={lists}
                onSave={(item) => inHandOf.saveItem(focus, item)}
              />
            )}
            <ClockRules clock={clock} lists={lists} onSave={save} />
            <ClockTimes clock={clock} onSave={save} />
            <ClockSettings clock={clock} onSave={save} />
          </aside>,
          side,
        )}
      <MakeHoursDialog
        open={making}
        clocks={lists.filter((l) => l.kind === 'clock' && !l.removed)}
        clockId={list.id}
        onClose={() => setMaking(false)}
      />
    </div>
  );
}

interface CellProps {
  item: ClockItem;
  column: string;
  nameOf: (listId: string) => string | undefined;
}

function Cell({ item, column, nameOf }: CellProps) {
  switch (column) {
    case 'place':
      if (!item.fixed) return <span className="text-dim">after that</span>;
      return (
        <span className="font-semibold">
          {item.fixed.when === 'exact' ? '' : 'not before '}
          {clockLength(item.fixed.at)}
        </span>
      );
    case 'name':
      return item.name;
    case 'kind':
      return <span className="text-dim">{item.item === 'filler' ? 'tracks' : item.item}</span>;
    case 'length':
      return 'seconds' in item ? clockLength(item.seconds) : '';
    default:
      return <span className="text-dim">{moreWords(item, nameOf)}</span>;
  }
}

function moreWords(item: ClockItem, nameOf: CellProps['nameOf']): string {
  const parts =
    'seconds' in item
      ? [item.overIntro && `${clockLength(item.overIntro)} over the intro`, item.bed && `bed: ${item.bed}`]
      : [
          item.item === 'filler' && `at most ${item.most}`,
          item.from && fromWords(item.from, nameOf),
          item.item === 'track' && item.energy !== undefined && `energy near ${item.energy}`,
          item.item === 'track' && item.bpm !== undefined && `near ${item.bpm} BPM`,
        ];
  return parts.filter(Boolean).join(', ');
}
