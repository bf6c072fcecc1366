/** The Intake stage: the folders taken in, dropping files, what was not taken and why. */
import { FolderPlus } from 'lucide-react';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import type { FilesRunReport, NotTaken, RootLine, RunProgress } from '@early-set/core/api/types';
import { RunLine } from '../../app/Shell.tsx';
import { useCommands } from '../../app/commands.ts';
import { perform, several } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useNotTaken, useRoots, useRunFailures, useRuns } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { ReadGrid, type ReadColumn } from '../../ui/grid/ReadGrid.tsx';
import { bytes, dayAndTime } from '../../ui/format.ts';
import { FolderPicker } from './FolderPicker.tsx';
import { MeasuredHere, MeasureOnlyZone } from './MeasureOnly.tsx';
import { RootCard } from './RootCard.tsx';
import { Uploads } from './Uploads.tsx';
import { droppedFiles, type DroppedFile } from './dropped.ts';

interface Batch {
  n: number;
  root: RootLine;
  files: DroppedFile[];
}

export function IntakeView() {
  const { data: roots } = useRoots();
  const { data: runs = [] } = useRuns();
  /** Choosing a folder: a new one, or where the one given has gone. */
  const [picking, setPicking] = useState<RootLine | 'new' | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const [over, setOver] = useState(false);
  // What is dropped while others are on their way goes its own way, into the folder that was chosen then.
  const [batches, setBatches] = useState<Batch[]>([]);
  const bring = (to: RootLine, files: DroppedFile[]): void => {
    if (files.length) setBatches((all) => [...all, { n: (all.at(-1)?.n ?? 0) + 1, root: to, files }]);
  };
  const [measured, setMeasured] = useState<{ n: number; files: File[] }>({ n: 0, files: [] });
  const box = useRef<HTMLInputElement>(null);
  const root = roots?.find((r) => r.id === chosen) ?? roots?.[0];
  useCommands([
    { id: 'add-folder', label: 'Choose a folder to take in', group: 'Intake', run: () => setPicking('new') },
  ]);
  const takeDrop = async (e: React.DragEvent): Promise<void> => {
    e.preventDefault();
    setOver(false);
    if (root) bring(root, await droppedFiles(e.dataTransfer));
  };
  const running = runs.filter((r) => r.state === 'running');
  return (
    <div
      className="flex h-full"
      onDragOver={(e) => {
        if (e.dataTransfer.types.includes('Files')) {
          e.preventDefault();
          setOver(true);
        }
      }}
      onDragLeave={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget as Node | null)) setOver(false);
      }}
      onDrop={(e) => void takeDrop(e)}
    >
      <aside
        aria-label="Folders"
        className="flex w-[300px] shrink-0 flex-col gap-3 overflow-y-auto border-r border-line bg-fog p-3.5"
      >
        <div className="flex items-center">
          <h1 className="heading flex-1 text-[19px]">Folders</h1>
          <Button kind="main" onClick={() => setPicking('new')}>
            <FolderPlus size={14} />
            Choose a folder
          </Button>
        </div>
        <ul>
          {roots?.map((r) => (
            <RootCard
              key={r.id}
              root={r}
              chosen={r.id === root?.id}
              onChoose={() => setChosen(r.id)}
              onElsewhere={() => setPicking(r)}
            />
          ))}
        </ul>
        {root && (
          <div
            className={`border border-dashed p-4 text-center ${over ? 'border-buoy bg-chosen' : 'border-tide-deep'}`}
          >
            <p className="font-semibold">Drop files or folders anywhere here</p>
            <p className="mt-1 text-small text-dim">
              They are copied into {root.label}, folder “Dropped here”. Nothing there is overwritten.
            </p>
            <Button className="mt-2" onClick={() => box.current?.click()}>
              Choose files
            </Button>
            <input
              ref={box}
              type="file"
              multiple
              hidden
              aria-label="Files to take in"
              onChange={(e) => {
                bring(
                  root,
                  [...(e.target.files ?? [])].map((file) => ({ file, path: file.name })),
                );
                e.target.value = '';
              }}
            />
          </div>
        )}
        <MeasureOnlyZone
          onFiles={(chosenFiles) => {
            setOver(false);
            if (chosenFiles.length) setMeasured((m) => ({ n: m.n + 1, files: chosenFiles }));
          }}
        />
      </aside>
      <section className="flex min-w-0 flex-1 flex-col overflow-y-auto bg-sheet">
        {measured.files.length > 0 && (
          <MeasuredHere
            key={measured.n}
            files={measured.files}
            onClose={() => setMeasured((m) => ({ n: m.n, files: [] }))}
          />
        )}
        {roots?.length === 0 ? (
          <Empty title="No folder taken in yet">
            <p>Choose the folder your music lies in. Early Set reads it where it is; no file is moved or changed.</p>
            <Button kind="main" className="mt-3" onClick={() => setPicking('new')}>
              Choose a folder
            </Button>
          </Empty>
        ) : (
          <>
            {batches.map((batch) => (
              <Uploads
                key={batch.n}
                root={batch.root}
                files={batch.files}
                onDone={() => setBatches((all) => all.filter((b) => b !== batch))}
              />
            ))}
            {running.length > 0 && (
              <div className="border-b border-line px-5 py-3">
                <h2 className="heading text-[16px]">Running</h2>
                {running.map((run) => (
                  <RunLine key={run.id} run={run} />
                ))}
              </div>
            )}
            {root && <NotTakenList root={root} />}
            <PastRuns runs={runs.filter((r) => r.state !== 'running').slice(0, 8)} />
          </>
        )}
      </section>
      <FolderPicker
        open={picking !== null}
        moved={picking === 'new' ? null : picking}
        onClose={() => setPicking(null)}
      />
    </div>
  );
}

const REFUSED: ReadColumn<NotTaken>[] = [
  {
    id: 'path',
    label: 'File',
    width: 220,
    grow: 1,
    value: (r) => r.path,
    cell: (r) => <span title={r.path}>{r.path}</span>,
  },
  { id: 'reason', label: 'Why', width: 220, grow: 1, value: (r) => r.reason, cell: (r) => <Why refused={r} /> },
  { id: 'size', label: 'Size', width: 84, figures: true, value: (r) => r.fileSize, cell: (r) => bytes(r.fileSize) },
];

const Why = ({ refused: { code, reason } }: { refused: NotTaken }) => (
  <span title={reason} className={code === 'not-music' ? 'text-dim' : 'text-sodium-text'}>
    {reason}
  </span>
);

function NotTakenList({ root }: { root: RootLine }) {
  const { data: refused = [] } = useNotTaken(root.id);
  const groups = new Map<string, number>();
  for (const r of refused) groups.set(r.reason, (groups.get(r.reason) ?? 0) + 1);
  return (
    <div className="px-5 py-4">
      <h2 className="heading text-[16px]">
        {refused.length
          ? `${several(refused.length, 'file')} of ${root.label} not taken`
          : `Everything in ${root.label} was taken`}
      </h2>
      {refused.length > 0 && (
        <div className="mt-2 border border-line">
          <ReadGrid
            id="not-taken"
            label={`Files of ${root.label} that were not taken`}
            rows={refused}
            columns={REFUSED}
            idOf={(r) => r.path}
            tallest={400}
          />
        </div>
      )}
    </div>
  );
}

function PastRuns({ runs }: { runs: RunProgress[] }) {
  if (runs.length === 0) return null;
  return (
    <div className="px-5 pb-6">
      <h2 className="heading text-[16px]">Done lately</h2>
      <ul className="mt-1">
        {runs.map((run) => (
          <PastRun key={run.id} run={run} />
        ))}
      </ul>
    </div>
  );
}

const ENDS: Record<RunProgress['state'], string> = { running: '', done: '', cancelled: 'cancelled', failed: 'failed' };

function PastRun({ run }: { run: RunProgress }) {
  const [open, setOpen] = useState(false);
  const { data: failures = [] } = useRunFailures(open && run.kind === 'analysis' ? run.id : null);
  const report = run.report as {
    taken: number;
    changed: number;
    returned: number;
    missing: number;
    notTaken: number;
    differs?: number;
  } | null;
  const words =
    run.kind === 'intake' && report
      ? [
          report.taken && `${report.taken} taken`,
          report.changed && `${report.changed} changed`,
          report.returned && `${report.returned} found again`,
          report.missing && `${report.missing} vanished`,
        ]
          .filter(Boolean)
          .join(', ') || 'nothing new'
      : run.kind === 'analysis'
        ? `${run.done} measured${run.failed ? `, ${run.failed} failed` : ''}`
        : run.kind === 'writing'
          ? `${run.done} written${run.failed ? `, ${run.failed} left as they were` : ''}`
          : run.kind === 'lookup'
            ? `${run.done} found${run.failed ? `, ${run.failed} not` : ''}`
            : '';
  return (
    <li className="border-b border-hair py-1.5">
      <div className="flex items-baseline gap-3">
        <span className="figures w-[112px] text-small text-dim">{dayAndTime(run.startedAt)}</span>
        <span className="font-medium">{run.title}</span>
        <span className="flex-1 text-dim">
          {words} {ENDS[run.state] && <b className="text-sodium-text">{ENDS[run.state]}</b>}
        </span>
        {run.failed > 0 && run.kind === 'analysis' && (
          <Button kind="link" aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? 'Hide' : 'What failed'}
          </Button>
        )}
        {run.canRetry && (
          <Button kind="link" onClick={() => void perform(post(`/runs/${run.id}/retry`), 'What failed is tried again')}>
            Try again
          </Button>
        )}
      </div>
      {run.kind === 'writing' &&
        (run.report as FilesRunReport | null)?.reasons?.map((r) => (
          <p key={r.reason} className="pl-[124px] text-small">
            <span className="text-sodium-text">{r.reason}</span>{' '}
            <span className="text-dim">({several(r.files, 'file')})</span>
          </p>
        ))}
      {run.kind === 'intake' && (report?.differs ?? 0) > 0 && (
        <p className="pl-[124px] text-small">
          <Link to="/tracks?needs=unwritten" className="text-sodium-text underline">
            {several(report!.differs!, 'file says', 'files say')} something else than what was typed
          </Link>
        </p>
      )}
      {run.reason && <p className="text-small text-flare">{run.reason}</p>}
      {open && (
        <ul className="pl-[124px]">
          {failures.map((f) => (
            <li key={f.trackId} className="text-small">
              <span className="font-medium">{f.path}</span> <span className="text-sodium-text">{f.reason}</span>
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
