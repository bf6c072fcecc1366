/** Where files lie beside where their naming rules want them, the rules, and the draft that moves the files. */
import { useState } from 'react';
import type { OutOfPlaceLine, OutOfPlace } from '@early-set/core/api/disk';
import { auditionById } from '../../../audition/auditionById.ts';
import { menuItem, tableActions, useKeys, type KeyActions } from '../../../commands/commands.ts';
import { several } from '../../../data/actions.ts';
import { useOutOfPlace } from '../../../data/hooks.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Button } from '../../../ui/Button.tsx';
import { Difference } from '../../../ui/Difference.tsx';
import { Empty, Trouble } from '../../../ui/Empty.tsx';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../../ui/grid/useRowChoice.ts';
import { Segmented } from '../../../ui/Segmented.tsx';
import { DiskDesk, DiskHead } from '../DiskDesk.tsx';
import { Albums, Folders } from './Folders.tsx';
import { isOf, onlyWords, type Only } from './only.ts';
import { RulesPanel } from './RulesPanel.tsx';
import { usePlacing, type Placing } from './usePlacing.ts';

type Unnamed = OutOfPlace['troubles'][number];
type Line = OutOfPlaceLine | Unnamed;

const COLUMNS: GridColumn[] = [
  { id: 'title', label: 'Title', width: 130, grow: 0.7, className: 'font-semibold' },
  { id: 'now', label: 'Now', width: 210, grow: 1.4 },
  { id: 'wanted', label: 'By the rule', width: 240, grow: 1.6 },
  { id: 'rule', label: 'Rule', width: 130, grow: 0.4 },
];

type View = 'elsewhere' | 'albums' | 'folders' | 'unnamed';
const NOTHING: Placing['inDraft'] = () => false;

export function PlacesView() {
  const { data, error } = useOutOfPlace();
  const placing = usePlacing(data);
  const [view, setView] = useState<View>('elsewhere');
  const [only, setOnly] = useState<Only | null>(null);
  const [widths, keepWidths] = useRemembered<Record<string, number>>('places-widths', {});
  const shown = only ? data?.lines.filter((l) => isOf(l, only)) : data?.lines;
  const lines: readonly Line[] = (view === 'unnamed' ? data?.troubles : shown) ?? [];
  const open = (next: Only): void => {
    setOnly(next);
    setView('elsewhere');
    none();
  };
  const { chosen, choose, all, none } = useRowChoice(lines.map((l) => String(l.trackId)));
  const inHand = chosen.focus === null ? undefined : lines[chosen.focus];
  const picked = view === 'elsewhere' ? (data?.lines ?? []).filter((l) => chosen.ids.has(String(l.trackId))) : [];
  const keys: KeyActions<'places'> = {
    audition: { run: () => inHand && auditionById(inHand.trackId), disabled: !inHand },
    leave: { run: () => placing.put(picked, !picked.some(placing.inDraft)), disabled: picked.length === 0 },
  };
  useKeys('places', keys);
  const onKey = gridKeys({
    count: lines.length,
    focus: chosen.focus,
    choose,
    all,
    none,
    ...tableActions('places', keys),
  });
  if (error) return <Trouble error={error} />;
  return (
    <DiskDesk
      panel={
        <RulesPanel places={data} placing={placing} example={inHand?.trackId ?? data?.lines[0]?.trackId ?? null} />
      }
    >
      <div className="flex h-full flex-col bg-sheet">
        <DiskHead
          title="Out of place"
          testId="places-count"
          count={
            data &&
            `${several(data.elsewhere, 'file')} · ${data.right.toLocaleString('en-GB')} where the rules want them`
          }
        >
          <Segmented
            label="Which files"
            value={view}
            onChoose={setView}
            choices={[
              ['elsewhere', 'Files'],
              ['albums', 'Albums'],
              ['folders', 'Folders'],
              ['unnamed', `No name for them${data?.unnamed ? ` (${data.unnamed.toLocaleString('en-GB')})` : ''}`],
            ]}
          />
        </DiskHead>
        {data?.trouble && (
          <p className="border-b border-line bg-paper px-3.5 py-1.5 text-small text-flare">{data.trouble}</p>
        )}
        {data && data.elsewhere > data.lines.length && view === 'elsewhere' && (
          <p className="border-b border-line bg-paper px-3.5 py-1.5 text-small text-dim">
            The first {data.lines.length.toLocaleString('en-GB')} are listed.
          </p>
        )}
        {only && view === 'elsewhere' && (
          <p className="flex items-center gap-2 border-b border-line bg-paper px-3.5 py-1.5 text-small">
            {several(lines.length, 'file')} {onlyWords(only)}
            <Button kind="link" onClick={() => setOnly(null)}>
              Show all
            </Button>
          </p>
        )}
        {!data ? (
          <div aria-busy="true" className="h-full" />
        ) : view === 'folders' && data.lines.length > 0 ? (
          <Folders lines={data.lines} placing={placing} onOpen={open} />
        ) : view === 'albums' && data.lines.length > 0 ? (
          <Albums lines={data.lines} placing={placing} onOpen={open} />
        ) : lines.length === 0 ? (
          <NothingThere places={data} view={view === 'unnamed' ? view : 'elsewhere'} />
        ) : (
          <div className="min-h-0 flex-1">
            <Grid
              id="places"
              label="Files out of place"
              columns={COLUMNS.map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
              onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
              count={lines.length}
              row={(i) => lines[i]}
              idOf={(l) => String(l.trackId)}
              data={(l) => ({ 'data-place': l.path })}
              cell={(line, column) => (
                <Cell line={line} column={column} inDraft={view === 'elsewhere' ? placing.inDraft : NOTHING} />
              )}
              chosen={chosen}
              onChoose={choose}
              onOpen={() => inHand && auditionById(inHand.trackId)}
              onKey={onKey}
              menu={[menuItem('places', 'audition', keys.audition!), menuItem('places', 'leave', keys.leave!)]}
            />
          </div>
        )}
        {inHand && (view === 'elsewhere' || view === 'unnamed') && <InHand line={inHand} />}
      </div>
    </DiskDesk>
  );
}

/** Both paths in full: columns are often too narrow for them. */
function InHand({ line }: { line: Line }) {
  return (
    <section aria-label="File in hand" className="shrink-0 border-t border-line bg-sheet px-3.5 py-2 break-words">
      <p>
        <span className="mr-2 text-dim">Now</span>
        {line.path}
      </p>
      <p>
        <span className="mr-2 text-dim">By the rule</span>
        {'why' in line ? line.why : <Difference before={line.path} after={line.wanted} />}
      </p>
    </section>
  );
}

function NothingThere({ places, view }: { places: OutOfPlace; view: 'elsewhere' | 'unnamed' }) {
  if (view === 'unnamed')
    return (
      <Empty title="Every file has a name by the rules">
        <p>Files without a title, and such that no rule takes, would be listed here.</p>
      </Empty>
    );
  if (places.right === 0)
    return (
      <Empty title="No naming rule takes a file yet">
        <p>
          A naming rule says where files should lie and what they should be called. Add one on the right: files are
          moved only when you apply the draft.
        </p>
      </Empty>
    );
  return (
    <Empty title="Every file is where its rule wants it">
      <p>{several(places.right, 'file')} looked at.</p>
    </Empty>
  );
}

function Cell({ line, column, inDraft }: { line: Line; column: string; inDraft: Placing['inDraft'] }) {
  switch (column) {
    case 'title':
      return line.title || <span className="text-dim">no title</span>;
    case 'now':
      return (
        <span className="text-dim" title={`${line.root}: ${line.path}`}>
          {line.path}
        </span>
      );
    case 'wanted':
      if ('why' in line) return <span className="text-sodium-text">{line.why}</span>;
      return inDraft(line) ? (
        <span title={line.wanted}>
          <Difference before={line.path} after={line.wanted} />
        </span>
      ) : (
        <span className="text-dim">left where it is</span>
      );
    default:
      return 'rule' in line ? (
        <span className="text-dim" title={line.numbered ? 'Another file has or wants this name too' : undefined}>
          {line.rule}
          {line.numbered && ', numbered'}
        </span>
      ) : (
        ''
      );
  }
}
