/** By which rules a destination is made like the desk, and the desk like it. */
import { useState } from 'react';
import type { DestinationLine, DestinationSettings } from '@early-set/core/api/handover';
import {
  DIRECTIONS,
  POLICIES,
  POLICY_KINDS,
  READY_FROM_THERE,
  READY_POLICIES,
  type Direction,
  type Policies,
  type Policy,
  type PolicyKind,
} from '@early-set/core/sync/policies';
import { several } from '../../data/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Choice } from './Choice.tsx';
import { KeyDialog } from './KeyDialog.tsx';
import { ListsDialog } from './ListsDialog.tsx';
import { MapsDialog } from './MapsDialog.tsx';

interface Props {
  destination: Pick<DestinationLine, 'name' | 'kind' | 'readOnly' | 'settings'>;
  /** A path there that is nowhere here. */
  nowhere: string | null;
  onKeep: (wish: Partial<DestinationSettings>) => void;
}

const KINDS: Record<PolicyKind, string> = {
  names: 'Names and texts',
  measured: 'Tempo, key, energy',
  marks: 'Cues and loops',
  lists: 'Lists',
};
const POLICY_WORDS = (name: string): Record<Policy, string> => ({
  ask: 'ask where both changed',
  here: 'this desk leads',
  there: `${name} leads`,
  'fill gaps': 'only fill gaps',
  newer: 'the later change',
});
const DIRECTION_WORDS = (name: string): Record<Direction, string> => ({
  both: 'both ways',
  'to there': `only to ${name}`,
  'from there': `only from ${name}`,
});

const same = (a: Policies, b: Policies): boolean =>
  (Object.keys(b) as (keyof Policies)[]).every((k) => k === 'tracks' || a[k] === b[k]);

export function Rules({ destination, nowhere, onKeep }: Props) {
  const { name, kind, readOnly, settings } = destination;
  const { policies, lists, maps, keys } = settings;
  const [open, setOpen] = useState<'lists' | 'maps' | 'keys' | null>(null);
  const close = (): void => setOpen(null);
  const set = (wish: Partial<Policies>): void => onKeep({ policies: { ...policies, ...wish } });
  const offered = readOnly ? READY_FROM_THERE : READY_POLICIES;
  const ready = Object.keys(offered).find((k) => same(policies, offered[k]!)) ?? '';
  return (
    <section aria-label="How">
      <h2 className="mb-1 text-small font-semibold text-dim">How</h2>
      <Choice
        label="Ready set"
        value={ready}
        choices={[...(ready ? [] : [['', 'own choice'] as const]), ...Object.keys(offered).map((k) => [k, k] as const)]}
        onChoose={(k) => k && set({ ...offered[k]!, tracks: policies.tracks })}
      />
      {!readOnly && (
        <>
          <Choice
            label="Direction"
            value={policies.direction}
            choices={DIRECTIONS.map((d) => [d, DIRECTION_WORDS(name)[d]] as const)}
            onChoose={(direction) => set({ direction })}
          />
          <Choice
            label="Tracks that go there"
            value={policies.tracks}
            choices={[
              ['in lists', 'those in lists'],
              ['all', 'all of the library'],
            ]}
            onChoose={(tracks) => set({ tracks })}
          />
        </>
      )}
      <Choice
        label={readOnly ? 'What is empty there' : 'What is taken out on one side'}
        value={policies.removals ? 'yes' : 'no'}
        choices={
          readOnly
            ? [
                ['no', 'stays here'],
                ['yes', 'is emptied here'],
              ]
            : [
                ['no', 'stays on the other'],
                ['yes', 'is taken out on the other'],
              ]
        }
        onChoose={(value) => set({ removals: value === 'yes' })}
      />
      <ul className="my-1">
        {!readOnly && (
          <Set
            label="Lists"
            value={lists === null ? 'all' : several(lists.length, 'chosen', 'chosen')}
            onOpen={() => setOpen('lists')}
          />
        )}
        <Set
          label="Paths"
          value={maps.length === 0 ? 'as here' : several(maps.length, 'folder')}
          onOpen={() => setOpen('maps')}
        />
        {!readOnly && (
          <Set
            label="Keys"
            value={keys === null ? 'as it does' : `own table: ${keys['A minor'] ?? ''}`}
            onOpen={() => setOpen('keys')}
          />
        )}
      </ul>
      <ListsDialog name={name} lists={lists} open={open === 'lists'} onClose={close} onKeep={onKeep} />
      <MapsDialog name={name} maps={maps} example={nowhere} open={open === 'maps'} onClose={close} onKeep={onKeep} />
      <KeyDialog name={name} kind={kind} keys={keys} open={open === 'keys'} onClose={close} onKeep={onKeep} />
      <details>
        <summary className="py-1 text-small font-semibold text-dim">By kind of thing</summary>
        {POLICY_KINDS.map((kind) => (
          <Choice
            key={kind}
            label={KINDS[kind]}
            value={policies[kind]}
            choices={POLICIES.map((p) => [p, POLICY_WORDS(name)[p]] as const)}
            onChoose={(policy) => set({ [kind]: policy })}
          />
        ))}
      </details>
    </section>
  );
}

const Set = ({ label, value, onOpen }: { label: string; value: string; onOpen: () => void }) => (
  <li className="flex items-baseline gap-2 border-b border-hair py-1 text-small">
    <span className="text-dim">{label}</span>
    <span className="min-w-0 flex-1 truncate text-right">{value}</span>
    <Button kind="link" aria-label={`Change: ${label}`} onClick={onOpen}>
      Change…
    </Button>
  </li>
);
