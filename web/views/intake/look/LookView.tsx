/** A folder looked through before anything of it is taken: what is new in it, what is here already, what cannot be. */
import { ArrowLeft } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { FolderLook, LookLine } from '@early-set/core/api/intake';
import { perform, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useFolderLook } from '../../../data/hooks.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Button } from '../../../ui/Button.tsx';
import { Empty } from '../../../ui/Empty.tsx';
import { bytes, textOf } from '../../../ui/format.ts';
import { Grid } from '../../../ui/grid/Grid.tsx';
import type { GridColumn } from '../../../ui/grid/GridHead.tsx';
import { gridKeys } from '../../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../../ui/grid/useRowChoice.ts';
import { Segmented } from '../../../ui/Segmented.tsx';
import { CopyForm } from './CopyForm.tsx';

const COLUMNS: GridColumn[] = [
  { id: 'title', label: 'Title', width: 170, grow: 1, className: 'font-semibold' },
  { id: 'artist', label: 'Artist', width: 130, grow: 0.8 },
  { id: 'album', label: 'Album', width: 120, grow: 0.6 },
  { id: 'genre', label: 'Genre', width: 90 },
  { id: 'durationSeconds', label: 'Length', width: 62, figures: true },
  { id: 'size', label: 'Size', width: 76, figures: true },
  { id: 'state', label: 'Lacks', width: 150, grow: 0.8 },
];

type View = 'new' | 'here' | 'not';
const linesOf = (look: FolderLook | undefined, view: View): readonly LookLine[] => {
  if (!look) return [];
  if (view === 'new') return look.lines.filter((l) => l.here === null && l.trouble === null);
  if (view === 'here') return look.lines.filter((l) => l.here !== null);
  const bare = { size: 0, values: {}, lacks: [], here: null };
  return [
    ...look.lines.filter((l) => l.trouble !== null),
    ...look.others.map(({ path, reason }) => ({ ...bare, path, trouble: reason })),
  ];
};

export function LookView() {
  const [params] = useSearchParams();
  const path = params.get('path') ?? '';
  const { data, error } = useFolderLook(path);
  const navigate = useNavigate();
  const [view, setView] = useState<View>('new');
  const [widths, keepWidths] = useRemembered<Record<string, number>>('look-widths', {});
  const lines = linesOf(data, view);
  const choice = useRowChoice(lines.map((l) => l.path));
  const { chosen, choose, all, none, picked } = choice;
  const count = (of: View): number => linesOf(data, of).length;
  // With nothing chosen, all that is new is meant.
  const copied = view === 'not' ? [] : picked.length > 0 || view === 'here' ? picked : lines.map((l) => l.path);
  const size = lines.filter((l) => copied.includes(l.path)).reduce((sum, l) => sum + l.size, 0);
  const takeIn = async (): Promise<void> => {
    const taken = await perform(post('/roots', { path: data!.path, measure: true }), 'The folder is being read');
    if (taken) void navigate('/intake');
  };
  const onKey = gridKeys({ count: lines.length, focus: chosen.focus, choose, all, none });
  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col bg-sheet">
        <div className="flex min-h-[50px] shrink-0 items-center gap-3 border-b border-line bg-paper px-3.5 py-2">
          <Link to="/intake" aria-label="Back to Intake" className="text-dim hover:text-ink">
            <ArrowLeft size={16} />
          </Link>
          <h1 className="heading truncate text-[19px]" title={path}>
            {path.split('/').at(-1) || path}
          </h1>
          <span className="figures text-small text-dim" data-testid="look-count">
            {data && several(data.lines.length, 'music file')}
            {picked.length > 0 && ` · ${picked.length.toLocaleString('en-GB')} chosen`}
          </span>
          <span className="flex-1" />
          <Segmented
            label="Which files"
            value={view}
            onChoose={(next) => {
              none();
              setView(next);
            }}
            choices={[
              ['new', `New (${count('new')})`],
              ['here', `Here already (${count('here')})`],
              ['not', `Not taken (${count('not')})`],
            ]}
          />
        </div>
        {data && data.more > 0 && (
          <p className="border-b border-line bg-paper px-3.5 py-1.5 text-small text-sodium-text">
            The first {data.lines.length.toLocaleString('en-GB')} files are shown; {data.more.toLocaleString('en-GB')}{' '}
            more lie there. Look into its folders one by one, or take it in as it is.
          </p>
        )}
        {error ? (
          <Empty title="This folder cannot be looked into">
            <p role="alert">{error.message}</p>
          </Empty>
        ) : !data ? (
          <p aria-busy="true" className="p-4 text-dim">
            Reading the files…
          </p>
        ) : lines.length === 0 ? (
          <Empty title={view === 'new' ? 'Nothing new lies there' : 'None'}>
            <p>{view === 'new' ? 'Every music file of it is in the library already, or cannot be taken.' : ''}</p>
          </Empty>
        ) : (
          <div className="min-h-0 flex-1">
            <Grid
              id="look"
              label={`Files in ${path}`}
              columns={COLUMNS.map((c) => ({ ...c, width: widths[c.id] ?? c.width }))}
              onResize={(id, width) => keepWidths({ ...widths, [id]: width })}
              count={lines.length}
              row={(i) => lines[i]}
              idOf={(l) => l.path}
              data={(l) => ({ 'data-file': l.path })}
              cell={(line, column) => <Cell line={line} column={column} />}
              chosen={chosen}
              onChoose={choose}
              onKey={onKey}
            />
          </div>
        )}
      </section>
      <aside
        aria-label="What to do with them"
        className="flex w-[300px] shrink-0 flex-col gap-5 overflow-y-auto border-l border-line bg-paper p-3.5"
      >
        <section>
          <h2 className="heading text-[17px]">Copy into the library</h2>
          <p className="mt-1 mb-3 text-dim">
            {copied.length > 0
              ? `${several(copied.length, 'file')}${picked.length === 0 ? ', all that is new' : ''}: ${bytes(size)}. `
              : 'Nothing is chosen. '}
            Each copy is compared with its source; nothing is overwritten, and what lies here stays as it is.
          </p>
          {data && <CopyForm from={data.path} paths={copied} onBegun={() => void navigate('/intake')} />}
        </section>
        <section className="border-t border-line pt-4">
          <h2 className="heading text-[17px]">Or leave them where they are</h2>
          <p className="mt-1 mb-3 text-dim">
            The folder becomes part of the library as it lies there. No file is copied or moved.
          </p>
          <Button disabled={!data || data.lines.length === 0} onClick={() => void takeIn()}>
            Take in this folder
          </Button>
        </section>
      </aside>
    </div>
  );
}

function Cell({ line, column }: { line: LookLine; column: string }) {
  const { values, path, here, trouble, lacks } = line;
  switch (column) {
    case 'title':
      return values.title ? (
        <span title={path}>{textOf('title', values.title)}</span>
      ) : (
        <span className="font-normal text-dim" title={path}>
          {path}
        </span>
      );
    case 'size':
      return line.size > 0 ? bytes(line.size) : '';
    case 'state':
      if (trouble) return <span className="text-sodium-text">{trouble}</span>;
      if (here) return <span title={here}>here as {here.split('/').at(-1)}</span>;
      return <span className="text-flare">{lacks.join(', ')}</span>;
    default:
      return textOf(column, values[column]);
  }
}
