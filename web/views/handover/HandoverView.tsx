/** The Handover stage: a destination beside the library, what differs, and both made alike. */
import { useState } from 'react';
import { Navigate, useNavigate, useParams } from 'react-router';
import type { LineGroup } from '@early-set/core/api/handover';
import type { Applied } from '@early-set/core/api/types';
import type { Choice } from '@early-set/core/sync/decide';
import type { Choices } from '@early-set/core/sync/compareTracks';
import { StageLayout } from '../../app/StageLayout.tsx';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { useComparison, useDestinations, useSyncStep } from '../../data/hooks.ts';
import { useSticks } from '../../data/sticks.ts';
import { Button } from '../../ui/Button.tsx';
import { Empty, Trouble } from '../../ui/Empty.tsx';
import { AddDestination } from './AddDestination.tsx';
import { BeforeWriting } from './BeforeWriting.tsx';
import { Comparison } from './Comparison.tsx';
import { Destinations } from './Destinations.tsx';
import { RemoveDestination } from './RemoveDestination.tsx';
import { withChoices } from './chosen.ts';
import { canApply } from './words.ts';

const NO_CHOICES: Choices = {};

export function HandoverView() {
  const { destinationId } = useParams();
  const navigate = useNavigate();
  const { data: all, error } = useDestinations();
  const { data: sticks } = useSticks();
  /** Null: nobody has begun to add one yet. */
  const [adding, setAdding] = useState<boolean | null>(null);
  /** Kept by destination, so that looking at another loses nothing. */
  const [chosen, setChosen] = useState<Readonly<Record<number, Choices>>>({});
  const [only, setOnly] = useState<LineGroup | null>(null);
  /** Calls off what is being applied; null: nothing is. */
  const [applying, setApplying] = useState<AbortController | null>(null);
  const busy = applying !== null;
  const current = all?.find((d) => d.id === Number(destinationId)) ?? all?.[0];
  const choices = (current && chosen[current.id]) ?? NO_CHOICES;
  const comparison = useComparison(current && !current.trouble ? current.id : null, choices);
  const step = useSyncStep(current && (busy || comparison.isValidating) ? current.id : null);
  // While another one is compared, what is known of the former is not shown for it.
  const known = comparison.data?.destinationId === current?.id ? comparison.data : undefined;
  const data = known && withChoices(known, choices);
  if (error) return <Trouble error={error} />;
  const [firstStick] = sticks ?? [];
  // Not once somebody adds one: what is open would go with the page, or the way to what was added.
  if (all?.length === 0 && firstStick && adding === null)
    return <Navigate to={`/handover/stick/${firstStick.id}`} replace />;
  const choose = (ids: readonly string[], choice: Choice): void => {
    if (!current) return;
    setChosen((was) => ({
      ...was,
      [current.id]: { ...was[current.id], ...Object.fromEntries(ids.map((id) => [id, choice])) },
    }));
  };
  const forget = (id: number): void => setChosen((was) => ({ ...was, [id]: NO_CHOICES }));
  const apply = (): void => {
    if (!current || !data || busy || !canApply(current, data)) return;
    const calledOff = new AbortController();
    setApplying(calledOff);
    const { token } = data;
    void change(post<Applied>(`/destinations/${current.id}/sync`, { token, choices }, calledOff.signal))
      .then((applied) => {
        if (applied) forget(current.id);
        return comparison.mutate();
      })
      .finally(() => setApplying(null));
  };
  return (
    <StageLayout
      stage="handover"
      middleMin={460}
      left={{
        what: 'list on the left',
        width: 200,
        min: 160,
        max: 340,
        content: (
          <Destinations
            all={all ?? []}
            sticks={sticks ?? []}
            current={current ? String(current.id) : null}
            onAdd={() => setAdding(true)}
          />
        ),
      }}
      right={{
        what: 'inspector',
        width: 268,
        min: 230,
        max: 480,
        content:
          current && data ? (
            <BeforeWriting
              destination={current}
              comparison={data}
              busy={busy}
              step={step}
              onCancel={() => applying?.abort()}
              onChoose={(field, choice) =>
                choose(
                  data.lines
                    .filter((l) => l.group === 'clash' && l.field === field && l.will === null)
                    .map((l) => l.id),
                  choice,
                )
              }
              onDiscard={() => forget(current.id)}
              onApply={apply}
              chosen={Object.keys(choices).length}
            />
          ) : (
            <aside aria-label="Before writing" className="h-full bg-paper" />
          ),
      }}
    >
      {!all ? (
        <div aria-busy="true" className="h-full bg-sheet" />
      ) : !current ? (
        <Empty title="Nothing to hand over to yet" main>
          <p>
            Add a performance program: its tracks and lists are compared with yours before anything is written. Or add a
            stick: its player is given the files that it plays.
          </p>
          <Button kind="main" onClick={() => setAdding(true)}>
            Add a destination…
          </Button>
        </Empty>
      ) : current.trouble ? (
        <Empty title={`${current.name} cannot be read`} main>
          <p>{current.trouble}. Its drive may not be there; nothing of what was synced is lost.</p>
          <RemoveDestination destination={current} />
        </Empty>
      ) : comparison.error && !data ? (
        <Trouble error={comparison.error} />
      ) : (
        <Comparison
          destination={current}
          comparison={data}
          looking={comparison.isValidating}
          step={step}
          only={only !== null && data && data.groups[only] === 0 ? null : only}
          onOnly={setOnly}
          onChoose={choose}
          onRefresh={() => void comparison.mutate()}
          onApply={apply}
        />
      )}
      <AddDestination open={adding === true} onClose={() => setAdding(false)} onAdded={(path) => void navigate(path)} />
    </StageLayout>
  );
}
