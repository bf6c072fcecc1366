/** The Intake stage: the folders taken in, dropping files, what was not taken and why. */
import { FolderPlus } from 'lucide-react';
import { useRef, useState } from 'react';
import type { RootLine } from '@early-set/core/api/types';
import { RunLine } from '../../app/Shell.tsx';
import { useCommands } from '../../commands/commands.ts';
import { useRoots, useRuns } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty } from '../../ui/Empty.tsx';
import { FolderPicker } from './FolderPicker.tsx';
import { MeasuredHere, MeasureOnlyZone } from './MeasureOnly.tsx';
import { RootCard } from './RootCard.tsx';
import { Uploads } from './Uploads.tsx';
import { droppedFiles, type DroppedFile } from './dropped.ts';
import { NotTakenList } from './NotTakenList.tsx';
import { OtherCollections } from './OtherCollections.tsx';
import { PastRuns } from './PastRuns.tsx';

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
  useCommands([{ id: 'add-folder', label: 'Choose a folder…', group: 'Intake', run: () => setPicking('new') }]);
  const takeDrop = async (e: React.DragEvent): Promise<void> => {
    e.preventDefault();
    setOver(false);
    if (root) bring(root, await droppedFiles(e.dataTransfer));
  };
  const running = runs.filter((r) => r.state === 'running');
  return (
    <div
      className="flex h-full narrow:block narrow:overflow-y-auto"
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
        className="flex w-[300px] shrink-0 flex-col gap-3 overflow-y-auto border-r border-line bg-fog p-3.5 narrow:w-auto narrow:border-r-0"
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
        <OtherCollections />
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
        onTaken={setChosen}
      />
    </div>
  );
}
