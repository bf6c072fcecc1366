/** The Disk stage: what is not found, and finding it again. */
import { useState } from 'react';
import { StageLayout } from '../../app/StageLayout.tsx';
import { useNotFound } from '../../data/hooks.ts';
import { Trouble } from '../../ui/Empty.tsx';
import { useRowChoice } from '../../ui/grid/useRowChoice.ts';
import { LookAt } from './LookAt.tsx';
import { NotFoundPanel } from './NotFoundPanel.tsx';
import { NotFoundView } from './NotFoundView.tsx';
import { useFinding } from './useFinding.ts';

const NONE = { lines: [], away: [] };

export function DiskView() {
  const { data, error } = useNotFound();
  const { lines } = data ?? NONE;
  const finding = useFinding(lines);
  const choice = useRowChoice(lines.map((l) => String(l.trackId)));
  const inHand = choice.chosen.focus === null ? undefined : lines[choice.chosen.focus];
  const [mapping, setMapping] = useState(false);
  if (error) return <Trouble error={error} />;
  return (
    <StageLayout
      stage="disk"
      middleMin={460}
      left={{
        what: 'list on the left',
        width: 214,
        min: 160,
        max: 380,
        content: <LookAt />,
      }}
      right={{
        what: 'inspector',
        width: 268,
        min: 220,
        max: 480,
        content: <NotFoundPanel inHand={inHand} finding={finding} />,
      }}
    >
      {data ? (
        <NotFoundView lines={lines} finding={finding} choice={choice} mapping={mapping} setMapping={setMapping} />
      ) : (
        <div aria-busy="true" className="h-full bg-sheet" />
      )}
    </StageLayout>
  );
}
