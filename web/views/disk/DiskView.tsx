/** The Disk stage: what is not found, and finding it again. */
import { useState } from 'react';
import { StageLayout } from '../../app/StageLayout.tsx';
import { several } from '../../data/actions.ts';
import { useNotFound, useRoots } from '../../data/hooks.ts';
import { Trouble } from '../../ui/Empty.tsx';
import { useRowChoice } from '../../ui/grid/useRowChoice.ts';
import { NotFoundPanel } from './NotFoundPanel.tsx';
import { NotFoundView } from './NotFoundView.tsx';
import { useFinding } from './useFinding.ts';

const NONE = { lines: [], away: [] };

export function DiskView() {
  const { data, error } = useNotFound();
  const { lines, away } = data ?? NONE;
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
        content: <LookAt count={lines.length} away={away} />,
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

function LookAt({
  count,
  away,
}: {
  count: number;
  away: { rootId: number; root: string; path: string; since: string }[];
}) {
  const { data: roots } = useRoots();
  const there = roots?.filter((r) => !away.some((a) => a.rootId === r.id)) ?? [];
  return (
    <aside aria-label="What to look at" className="flex h-full flex-col gap-5 overflow-y-auto bg-fog p-3.5">
      <section>
        <h2 className="mb-1 text-small font-semibold text-dim">What to look at</h2>
        <p aria-current="page" className="flex items-center bg-inverse px-1.5 py-1 font-semibold text-inverse-ink">
          <span className="flex-1">Missing files</span>
          <span className="figures">{count.toLocaleString('en-GB')}</span>
        </p>
      </section>
      <section>
        <h2 className="mb-1 text-small font-semibold text-dim">Folders</h2>
        <ul>
          {away.map((a) => (
            <li key={a.rootId} className="border-b border-line px-1.5 py-1.5" title={a.path}>
              <p className="font-semibold">{a.root}</p>
              <p className="text-small text-flare">its drive is not there since {a.since.slice(0, 10)}</p>
            </li>
          ))}
          {there.map((r) => (
            <li key={r.id} className="border-b border-line px-1.5 py-1.5" title={r.path}>
              <p className="flex gap-2 font-semibold">
                <span className="min-w-0 flex-1 truncate">{r.label}</span>
                <span className="figures font-normal text-dim">{several(r.tracks, 'track')}</span>
              </p>
              <p className="truncate text-small text-dim">{r.path}</p>
            </li>
          ))}
        </ul>
      </section>
    </aside>
  );
}
