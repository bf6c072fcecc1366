/** Where files from outside are copied to, and what they are called there. */
import { useState } from 'react';
import type { PutNames } from '@early-set/core/files/put';
import { perform, several } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useRoots } from '../../../data/hooks.ts';
import { Button } from '../../../ui/Button.tsx';
import { NoRule, useNoRule } from '../../put/NoRule.tsx';
import { NamesField, PlaceFields } from '../../put/PlaceFields.tsx';

interface Props {
  /** The folder that they lie in, and their paths below it. */
  from: string;
  paths: readonly string[];
  onBegun: () => void;
}

export function CopyForm({ from, paths, onBegun }: Props) {
  const { data: roots = [] } = useRoots();
  const there = roots.filter((r) => !r.awaySince && r.purpose === 'library');
  const [rootId, setRootId] = useState<number | null>(null);
  const [into, setInto] = useState('');
  const [names, setNames] = useState<PutNames>('own');
  const [busy, setBusy] = useState(false);
  const root = there.find((r) => r.id === rootId) ?? there[0];
  const noRule = useNoRule(names);
  const copy = async (): Promise<void> => {
    setBusy(true);
    const begun = await perform(
      post('/places/copy', { from, paths, rootId: root!.id, into, names }),
      `Copying ${several(paths.length, 'file')}`,
    ).finally(() => setBusy(false));
    if (begun) onBegun();
  };
  return (
    <form
      className="flex flex-col gap-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        if (paths.length > 0 && root && !noRule) void copy();
      }}
    >
      <PlaceFields roots={there} rootId={root?.id ?? null} onRoot={setRootId} path={into} onPath={setInto} stacked />
      <NamesField names={names} onNames={setNames} stacked />
      {noRule && <NoRule />}
      {there.length === 0 && (
        <p className="text-small text-sodium-text">No folder is in the library yet that they could be copied into.</p>
      )}
      <Button type="submit" kind="main" disabled={busy || paths.length === 0 || !root || noRule}>
        Copy {several(paths.length, 'file')}
      </Button>
    </form>
  );
}
