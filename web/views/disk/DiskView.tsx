/** The Disk stage: what is not found, and finding it again. */
import { useState } from 'react';
import { useNotFound } from '../../data/hooks.ts';
import { Trouble } from '../../ui/Empty.tsx';
import { useRowChoice } from '../../ui/grid/useRowChoice.ts';
import { DiskDesk } from './DiskDesk.tsx';
import { folderKey } from './MissingFolders.tsx';
import { NotFoundPanel } from './NotFoundPanel.tsx';
import { NotFoundView } from './NotFoundView.tsx';
import { useFinding } from './useFinding.ts';

const NONE = { lines: [], away: [] };

export function DiskView() {
  const { data, error } = useNotFound();
  const { lines: all } = data ?? NONE;
  const finding = useFinding(all);
  const [folder, setFolder] = useState<string | null>(null);
  // A folder in which nothing is missing any more no longer narrows.
  const only = all.some((line) => folderKey(line) === folder) ? folder : null;
  const lines = only === null ? all : all.filter((line) => folderKey(line) === only);
  const choice = useRowChoice(lines.map((l) => String(l.trackId)));
  const inHand = choice.chosen.focus === null ? undefined : lines[choice.chosen.focus];
  const [mapping, setMapping] = useState(false);
  if (error) return <Trouble error={error} />;
  return (
    <DiskDesk panel={<NotFoundPanel lines={all} only={only} onOnly={setFolder} inHand={inHand} finding={finding} />}>
      {data ? (
        <NotFoundView lines={lines} finding={finding} choice={choice} mapping={mapping} setMapping={setMapping} />
      ) : (
        <div aria-busy="true" className="h-full bg-sheet" />
      )}
    </DiskDesk>
  );
}
