/** Where the space goes: as bands, and what the chosen one holds as a table; what is marked goes into quarantine. */
import { useMemo } from 'react';
import { alongKeys, tracksAt, type SpaceBy, type SpaceNode } from '@early-set/core/space/space';
import { menuItem, tableActions, useKeys, type KeyActions } from '../../../commands/commands.ts';
import { useAddress } from '../../../data/address.ts';
import { several } from '../../../data/actions.ts';
import { useRoots, useSpace } from '../../../data/hooks.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Empty, Trouble } from '../../../ui/Empty.tsx';
import { bytes, day } from '../../../ui/format.ts';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../../ui/grid/useRowChoice.ts';
import { Segmented } from '../../../ui/Segmented.tsx';
import { DiskDesk, DiskHead } from '../DiskDesk.tsx';
import { Bands } from './Bands.tsx';
import { BY_WORDS, contentWords, spaceName } from './names.ts';
import { SpacePanel } from './SpacePanel.tsx';
import { useRetiring, type Mark } from './useRetiring.ts';

const COLUMNS: GridColumn[] = [
  { id: 'name', label: 'Name', width: 150, grow: 1, className: 'font-semibold' },
  { id: 'files', label: 'Files', width: 70, figures: true },
  { id: 'size', label: 'Size', width: 84, figures: true },
  { id: 'what', label: 'What it is', width: 190, grow: 1 },
  { id: 'listed', label: 'In lists', width: 84 },
  { id: 'last', label: 'Last added', width: 100 },
];
const isBy = (text: string | null): text is SpaceBy => BY_WORDS.some(([by]) => by === text);

export function SpaceView() {
  const [params, changeAddress] = useAddress();
  const asked = params.get('by');
  const by = isBy(asked) ? asked : 'folder';
  const { data, error } = useSpace(by);
  const { data: roots } = useRoots();
  const retiring = useRetiring();
  const [widths, keepWidths] = useRemembered<Record<string, number>>('space-widths', {});
  // How deep the bands begin, and what is chosen in them.
  const [topKeys, chosenKeys] = useMemo(() => [params.getAll('in'), params.getAll('at')], [params]);
  const go = (inside: readonly string[], at: readonly string[], way: SpaceBy = by): void =>
    changeAddress(
      () => new URLSearchParams([['by', way], ...inside.map((k) => ['in', k]), ...at.map((k) => ['at', k])]),
    );
  const tops = data ? alongKeys(data.top, topKeys) : [];
  const top = tops.at(-1);
  const inside = topKeys.slice(0, Math.max(0, tops.length - 1));
  const nodes = top ? alongKeys(top, chosenKeys) : [];
  const node = nodes.at(-1);
  const at = chosenKeys.slice(0, Math.max(0, nodes.length - 1));
  const nameOf = (keys: readonly string[]): string => spaceName(by, keys, roots);
  const pathName = (keys: readonly string[]): string =>
    keys.length ? keys.map((_, i) => nameOf(keys.slice(0, i + 1))).join(' / ') : nameOf(keys);
  const idOf = (keys: readonly string[]): string => JSON.stringify([by, ...keys]);
  const isMarked = (keys: readonly string[]): boolean => keys.some((_, i) => retiring.has(idOf(keys.slice(0, i + 1))));

  const markOf = (keys: readonly string[], of: SpaceNode): Mark[] => {
    const where = of.tracks > 0 && keys.length > 0 ? tracksAt(by, keys, data?.listIds ?? []) : null;
    return where ? [{ id: idOf(keys), label: pathName(keys), bytes: of.bytes, where }] : [];
  };
  const mark = (marks: Mark[]): void => {
    if (marks.length) retiring.toggle(marks);
  };

  const whole = [...inside, ...at];
  const children = node?.children ?? [];
  const { chosen, choose, all, none } = useRowChoice(children.map((c) => idOf([...whole, c.key])));
  const picked = children.filter((c) => chosen.ids.has(idOf([...whole, c.key])));
  const inHand = chosen.focus === null ? undefined : children[chosen.focus];
  const open = (keys: readonly string[]): void => go(keys, []);
  const up = (): void => go(inside.slice(0, -1), inside.slice(-1));
  const marksOfRows = picked.flatMap((c) => markOf([...whole, c.key], c));
  const keys: KeyActions<'space'> = {
    open: { run: () => inHand && go(inside, [...at, inHand.key]), disabled: !inHand },
    up: { run: () => (at.length ? go(inside, at.slice(0, -1)) : up()), disabled: whole.length === 0 },
    take: { run: () => mark(marksOfRows), disabled: marksOfRows.length === 0 },
  };
  useKeys('space', keys);
  const onKey = gridKeys({
    count: children.length,
    focus: chosen.focus,
    choose,
    all,
    none,
    ...tableActions('space', keys),
  });
  if (error) return <Trouble error={error} />;
  return (
    <DiskDesk
      panel={
        <SpacePanel
          name={pathName(whole)}
          node={node}
          share={node && data && data.top.bytes > 0 ? node.bytes / data.top.bytes : null}
          where={node ? tracksAt(by, whole, data?.listIds ?? []) : null}
          mark={node ? markOf(whole, node)[0] : undefined}
          retiring={retiring}
        />
      }
    >
      <div className="flex h-full flex-col bg-sheet">
        <DiskHead
          title="Space"
          testId="space-count"
          count={data && `${several(data.top.files, 'file')} · ${bytes(data.top.bytes)}`}
        >
          <Segmented label="Look at it by" value={by} choices={BY_WORDS} onChoose={(way) => go([], [], way)} />
        </DiskHead>
        {!data || !top || !node ? (
          <div aria-busy="true" className="h-full" />
        ) : data.top.files === 0 ? (
          <Empty title="No files yet">
            <p>What the files of your library folders take up is shown here, largest first.</p>
          </Empty>
        ) : (
          <>
            {inside.length > 0 && (
              <nav aria-label="In" className="mx-3.5 mt-2.5 flex flex-wrap gap-x-1.5 text-small">
                {[[] as string[], ...inside.map((_, i) => inside.slice(0, i + 1))].map((path, i) => (
                  <button
                    key={i}
                    type="button"
                    aria-current={i === inside.length ? 'true' : undefined}
                    onClick={() => open(path)}
                    className="font-semibold text-dim underline-offset-2 not-last:after:ml-1.5 not-last:after:content-['/'] hover:text-ink hover:underline"
                  >
                    {nameOf(path)}
                  </button>
                ))}
              </nav>
            )}
            <Bands
              top={top}
              chosen={at}
              nameOf={(k) => nameOf([...inside, ...k])}
              isMarked={(k) => isMarked([...inside, ...k])}
              onChoose={(k) => go(inside, k)}
              onOpen={(k) => open([...inside, ...k])}
              onUp={up}
              onMark={(k) => mark(markOf([...inside, ...k], alongKeys(top, k).at(-1)!))}
            />
            <div className="mt-3 min-h-0 flex-1 border-t border-line">
              {children.length === 0 ? (
                <p className="px-3.5 py-3 text-dim">
                  {contentWords(node) || 'Nothing'} directly in {nameOf(whole)}
                </p>
              ) : (
                <Grid
                  id="space"
                  label={`In ${nameOf(whole)}`}
                  columns={COLUMNS.map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
                  onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
                  count={children.length}
                  row={(i) => children[i]}
                  idOf={(c) => idOf([...whole, c.key])}
                  data={(c) => ({ 'data-space': nameOf([...whole, c.key]) })}
                  tone={(c) => (isMarked([...whole, c.key]) ? 'bg-chosen' : '')}
                  cell={(c, column) => <Cell node={c} name={nameOf([...whole, c.key])} column={column} />}
                  chosen={chosen}
                  onChoose={choose}
                  onOpen={(i) => go(inside, [...at, children[i]!.key])}
                  onKey={onKey}
                  menu={[
                    menuItem('space', 'open', keys.open!),
                    menuItem('space', 'up', keys.up!),
                    menuItem('space', 'take', keys.take!),
                  ]}
                />
              )}
            </div>
          </>
        )}
      </div>
    </DiskDesk>
  );
}

function Cell({ node, name, column }: { node: SpaceNode; name: string; column: string }) {
  switch (column) {
    case 'name':
      return <span title={name}>{name}</span>;
    case 'files':
      return <span className="figures">{node.files.toLocaleString('en-GB')}</span>;
    case 'size':
      return <span className="figures">{bytes(node.bytes)}</span>;
    case 'what':
      return <span className={node.tracks > node.samples ? '' : 'text-sodium-text'}>{contentWords(node)}</span>;
    case 'listed':
      return (
        <span className="text-dim">
          {node.tracks === 0
            ? ''
            : node.listed === 0
              ? 'none'
              : `${node.listed.toLocaleString('en-GB')} of ${node.tracks.toLocaleString('en-GB')}`}
        </span>
      );
    default:
      return <span className="figures text-dim">{node.last && day(node.last)}</span>;
  }
}
